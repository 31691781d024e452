import { Box, Button, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Choice, Text } from '../../shared/ui/fields';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { t } from './texts';

type Question = Schemas['QuestionView'];

/** What every run asks before and after it, and what is expected. */
export function Questions({ app }: { app: Schemas['ApplicationView'] }) {
  const queries = useQueryClient();
  const [all, set] = useState<Question[]>(app.questions);
  const may = useMissing('administer', '*', app.key);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/applications/{key}', {
          params: { path: { key: app.key } },
          body: { questions: all.map((q) => ({ ...q, expected: q.expected || undefined })) },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['applications'] }),
  });
  const change = (n: number, part: Partial<Question>) => set(all.map((q, i) => (i === n ? { ...q, ...part } : q)));
  const why = may ?? (all.some((q) => !q.name.trim() || !q.question.trim()) ? t.questions.say : undefined);
  return (
    <Panel title={t.questions.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.questions.hint}
      </Typography>
      {all.map((q, n) => (
        <Box
          key={n}
          role="group"
          aria-label={t.questions.one(n + 1)}
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', mb: 1.5 }}
        >
          <Text label={t.questions.name} value={q.name} set={(name) => change(n, { name })} />
          <Choice
            label={t.questions.sort}
            value={q.sort ?? 'host'}
            of={Object.entries(t.questions.sorts)}
            set={(sort) => change(n, { sort })}
          />
          <Text
            label={t.questions.question}
            value={q.question}
            width={420}
            multiline
            set={(question) => change(n, { question })}
          />
          <Text
            label={q.sort === 'page' || q.sort === 'file' ? t.questions.has : t.questions.is}
            value={q.expected ?? ''}
            width={260}
            set={(expected) => change(n, { expected })}
          />
          <FormControlLabel
            control={<Checkbox checked={q.mustStay} onChange={(e) => change(n, { mustStay: e.target.checked })} />}
            label={t.questions.mustStay}
          />
          <Button size="small" onClick={() => set(all.filter((_, i) => i !== n))}>
            {t.questions.less}
          </Button>
        </Box>
      ))}
      <Problem error={save.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <Button size="small" onClick={() => set([...all, { name: '', question: '', mustStay: true, sort: 'host' }])}>
          {t.questions.more}
        </Button>
        <Act kind="outlined" why={why} busy={save.isPending} onClick={() => save.mutate()}>
          {t.questions.save}
        </Act>
      </Box>
    </Panel>
  );
}
