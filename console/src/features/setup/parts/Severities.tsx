import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../shared/data/api';
import { useMissing } from '../../../shared/data/rights';
import { Choice, Text } from '../../../shared/ui/fields';
import { Act, Problem } from '../../../shared/ui/parts';
import { rules, saveStage, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';

type Own = Schemas['SeverityView'];

const hows: [string, string][] = Object.entries(t.severities.how);

/** Where a stage finds worse, or less bad, what a rule finds; and letting it. */
export function Severities({ s }: { s: Stage }) {
  const all = useQuery(rules());
  const own = s.severities ?? [];
  const [rule, setRule] = useState('');
  const [how, setHow] = useState('at-least blocker');
  const [reason, setReason] = useState('');
  const act = useSetUp(saveStage, ['stages', 'promotions', 'proposals'], () => {
    setRule('');
    setReason('');
  });
  const may = useMissing('administer', s.key, '*');
  const known = all.data?.find((r) => r.rule === rule);
  const lowers = how.startsWith('at-most');
  const why =
    may ??
    (!rule
      ? t.severities.need.rule
      : lowers && !known?.lowered
        ? t.severities.need.fixed(rule)
        : lowers && !reason.trim()
          ? t.severities.need.reason
          : undefined);
  const judge = (next: Own[]) => act.mutate({ ...s, severities: next });
  const [bound = '', severity = ''] = how.split(' ');
  return (
    <>
      {own.map((x) => (
        <Box key={x.rule} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', py: 0.5 }}>
          <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
            {t.severities.said(x.rule, t.severities.how[`${x.bound} ${x.severity}`] ?? x.severity)}
            {x.reason && ` (${x.reason})`}
          </Typography>
          <Act
            kind="outlined"
            why={may}
            busy={act.isPending}
            onClick={() => judge(own.filter((o) => o.rule !== x.rule))}
          >
            {t.severities.asBuilt(x.rule)}
          </Act>
        </Box>
      ))}
      <Form
        title={t.severities.title(s.name)}
        hint={t.severities.hint}
        error={act.error}
        busy={act.isPending}
        why={why}
        save={t.severities.save}
        onSave={() => judge([...own.filter((o) => o.rule !== rule), { rule, bound, severity, reason: reason.trim() }])}
      >
        <Problem error={all.error} />
        <Choice
          label={t.severities.rule}
          value={rule}
          of={(all.data ?? []).map((r) => [r.rule, r.rule])}
          width={320}
          set={setRule}
        />
        <Choice label={t.severities.isHere} value={how} of={hows} width={260} set={setHow} />
        <Text label={t.severities.reason} value={reason} set={setReason} />
      </Form>
    </>
  );
}
