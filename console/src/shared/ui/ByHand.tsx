import { Box, Button, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Schemas } from '../data/api';
import { roles } from '../data/lists';
import { plural } from '../time';
import { Choice, Text } from './fields';
import { t } from './texts';

type Manual = Schemas['ManualView'];

const lines = (text: string) => text.split('\n').filter((l) => l.trim());

/** One piece of work by hand in words: what, when, who, how, by when. */
export function ByHandStep({ step, when, origin }: { step: Manual; when: string; origin?: string }) {
  const [title, ...how] = lines(step.text);
  const rules = [
    step.minutes ? t.byHand.within(plural(step.minutes, 'minute', 'minutes')) : '',
    step.proof ? t.byHand.withProof : '',
    step.mayBeLeftOut ? t.byHand.optional : '',
  ].filter(Boolean);
  return (
    <>
      <Box sx={{ overflowWrap: 'anywhere' }}>
        <b>{title}</b>
        <Typography component="span" color="textSecondary" variant="body2">
          {' '}
          {when}
          {step.who ? t.byHand.by(step.who) : ''}
          {origin ? `, ${t.byHand.from(origin)}` : ''}
        </Typography>
      </Box>
      {how.length > 0 && (
        <ul style={{ margin: '4px 0 0', paddingLeft: 18, overflowWrap: 'anywhere' }}>
          {how.map((line) => (
            <li key={line}>{line.replace(/^\s*[-*]\s*/, '')}</li>
          ))}
        </ul>
      )}
      {step.link && (
        <div>
          <a href={step.link} rel="noreferrer" target="_blank">
            {step.link}
          </a>
        </div>
      )}
      {rules.length > 0 && (
        <Typography variant="caption" color="textSecondary">
          {rules.join('; ')}
        </Typography>
      )}
    </>
  );
}

/** Work by hand as it is written down: a block each. */
export function ByHandFields({ of, set }: { of: Manual[]; set: (next: Manual[]) => void }) {
  const known = useQuery(roles()).data ?? [];
  const change = (n: number, part: Partial<Manual>) => set(of.map((s, i) => (i === n ? { ...s, ...part } : s)));
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, width: '100%', minWidth: 0 }}>
      <Box component="legend" sx={{ p: 0 }}>
        {t.byHand.legend}
      </Box>
      {of.map((s, n) => (
        <Box
          key={n}
          role="group"
          aria-label={t.byHand.one(n + 1)}
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 1.5, alignItems: 'center' }}
        >
          <Text label={t.byHand.text} value={s.text} multiline width={420} set={(text) => change(n, { text })} />
          <Choice
            label={t.byHand.when}
            value={s.when}
            of={Object.entries(t.byHand.times)}
            width={260}
            set={(when) => change(n, { when })}
          />
          <Choice
            label={t.byHand.who}
            value={s.who ?? ''}
            of={[
              ['', t.byHand.anybody],
              ...known.map((r): [string, string] => [r.key, r.name]),
              ...(s.who && known.every((r) => r.key !== s.who) ? [[s.who, s.who] as [string, string]] : []),
            ]}
            width={220}
            set={(who) => change(n, { who })}
          />
          <Text label={t.byHand.link} value={s.link ?? ''} width={260} set={(link) => change(n, { link })} />
          <Text
            label={t.byHand.minutes}
            value={String(s.minutes ?? 0)}
            type="number"
            width={180}
            set={(m) => change(n, { minutes: Number(m) })}
          />
          <FormControlLabel
            control={<Checkbox checked={s.proof ?? false} onChange={(e) => change(n, { proof: e.target.checked })} />}
            label={t.byHand.asksForProof}
          />
          <FormControlLabel
            control={
              <Checkbox
                checked={s.mayBeLeftOut ?? false}
                onChange={(e) => change(n, { mayBeLeftOut: e.target.checked })}
              />
            }
            label={t.byHand.mayBeLeftOut}
          />
          <Button size="small" onClick={() => set(of.filter((_, i) => i !== n))}>
            {t.byHand.less}
          </Button>
        </Box>
      ))}
      <Button size="small" sx={{ mt: 1 }} onClick={() => set([...of, { when: 'after', text: '' }])}>
        {t.byHand.more}
      </Button>
    </Box>
  );
}
