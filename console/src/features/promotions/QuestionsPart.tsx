import { Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Panel, Problem, Time } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** What was asked before a yes, with its answers; a start is held until each is answered. */
export function QuestionsPart({ p }: { p: Promotion }) {
  const [text, setText] = useState('');
  const number = p.number;
  const ask = useAct(number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/ask', { params: { path: { number } }, body: { text } })).then(
      (next) => {
        setText('');
        return next;
      },
    ),
  );
  const all = p.agreement.questions;
  if (all.length === 0 && !p.may.ask?.allowed) return null;
  return (
    <Panel title={t.questions.title}>
      {all.length === 0 && <Typography color="textSecondary">{t.questions.none}</Typography>}
      {all.map((q) => (
        <Asked key={q.number} p={p} q={q} />
      ))}
      {p.may.ask?.allowed && (
        <Box sx={{ mt: 2 }}>
          <Problem error={ask.error} />
          <TextField
            label={t.questions.label}
            helperText={t.questions.hint}
            value={text}
            onChange={(e) => setText(e.target.value)}
            multiline
            fullWidth
            size="small"
            sx={{ mb: 1.5, maxWidth: 560 }}
          />
          <Act
            kind="outlined"
            why={text.trim() ? undefined : t.questions.write}
            busy={ask.isPending}
            onClick={() => ask.mutate()}
          >
            {t.questions.ask}
          </Act>
        </Box>
      )}
    </Panel>
  );
}

function Asked({ p, q }: { p: Promotion; q: Schemas['AskedView'] }) {
  const [text, setText] = useState('');
  const number = p.number;
  const answer = useAct(number, () =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/answer', {
        params: { path: { number } },
        body: { question: q.number, text },
      }),
    ),
  );
  const standing = p.state === 'ready' || p.state === 'agreed';
  return (
    <Box sx={{ mb: 1.5 }}>
      <Typography>
        <b>{q.by}</b> {t.questions.asked} <Time at={q.at} />: {q.text}
      </Typography>
      {q.answer !== undefined ? (
        <Typography sx={{ pl: 2 }}>
          <b>{q.answeredBy}</b> {t.questions.answered} <Time at={q.answeredAt} />: {q.answer}
        </Typography>
      ) : (
        standing && (
          <Box sx={{ pl: 2, mt: 1 }}>
            <Typography variant="body2" sx={{ color: 'var(--mui-palette-signal-caution)' }}>
              {t.questions.held}
            </Typography>
            <Problem error={answer.error} />
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1 }}>
              <TextField
                label={t.questions.answerTo(q.number)}
                value={text}
                onChange={(e) => setText(e.target.value)}
                multiline
                size="small"
                sx={{ flex: '1 1 240px', maxWidth: 560 }}
              />
              <Act
                kind="outlined"
                why={text.trim() ? undefined : (whyNot(p.may.answer) ?? t.questions.writeAnswer)}
                busy={answer.isPending}
                onClick={() => answer.mutate()}
              >
                {t.questions.answer}
              </Act>
            </Box>
          </Box>
        )
      )}
    </Box>
  );
}
