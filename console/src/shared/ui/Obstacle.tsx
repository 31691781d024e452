import { Box, FormControlLabel, MenuItem, Radio, RadioGroup, TextField, Typography } from '@mui/material';
import type { Schemas } from '../data/api';
import { plural } from '../time';
import { Rows } from './parts';
import { t as all } from './texts';

const t = all.obstacle;

type Obstacle = Schemas['ObstacleView'];

/** What is in the way, with the choices that remove it: one for all of it, and one for each row. */
export function Obstacle({
  way,
  o,
  off,
  settle,
}: {
  way: string;
  o: Obstacle;
  /** Whether nothing can be chosen now. */
  off?: boolean;
  settle: (at: string, choice: string) => void;
}) {
  return (
    <Box
      component="fieldset"
      disabled={off}
      onClick={(e) => e.stopPropagation()}
      sx={{ border: 0, borderTop: '1px solid var(--mui-palette-signal-edge)', p: 0, pt: 1, m: 0, mt: 1.5, minWidth: 0 }}
    >
      <Typography component="legend" sx={{ float: 'left', width: '100%', fontWeight: 650 }}>
        {o.sentence}
      </Typography>
      <RadioGroup
        name={`${way} ${o.at}`}
        value={o.chosen ?? ''}
        onChange={(_, choice) => settle(o.at, choice)}
        sx={{ clear: 'both' }}
      >
        {o.offers.map((f) => (
          <FormControlLabel
            key={f.choice}
            value={f.choice}
            control={<Radio size="small" />}
            label={
              <>
                {f.words}
                {': '}
                <Box
                  component="span"
                  sx={{ fontWeight: 650, color: f.loses !== 0 ? 'var(--mui-palette-signal-fault)' : 'inherit' }}
                >
                  {f.loses < 0
                    ? t.losesAbove
                    : f.loses === 0
                      ? t.losesNothing
                      : t.losesMany(plural(f.loses, t.rowOrValue, t.rowsOrValues))}
                </Box>
                {f.loses !== 0 && t.canBeSaved}
              </>
            }
            sx={{ alignItems: 'flex-start', py: 0.25, '& .MuiRadio-root': { pt: 0.25 } }}
          />
        ))}
      </RadioGroup>
      {o.rows.length > 0 && o.offers.length > 1 && <RowByRow o={o} settle={settle} />}
    </Box>
  );
}

/** Whether it is in the way because something uses it; else people changed it since. */
const used = (o: Obstacle) => o.at.includes('#');

function RowByRow({ o, settle }: { o: Obstacle; settle: (at: string, choice: string) => void }) {
  return (
    <Box component="details" sx={{ mt: 0.5 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontSize: 13 }}>
        {t.rowByRow(o.count, used(o))}
      </Box>
      <Rows label={used(o) ? t.usedRows : t.movedRows} heads={used(o) ? t.usedHeads : t.movedHeads}>
        {o.rows.map((r) => (
          <tr key={r.at}>
            <td style={{ overflowWrap: 'anywhere' }}>{r.key}</td>
            <td>{r.usedBy}</td>
            <td>
              <TextField
                select
                size="small"
                aria-label={t.choiceFor(r.key)}
                value={r.chosen ?? ''}
                onChange={(e) => settle(r.at, e.target.value)}
                slotProps={{ select: { displayEmpty: true }, htmlInput: { 'aria-label': t.choiceFor(r.key) } }}
              >
                <MenuItem value="" disabled>
                  {t.notChosen}
                </MenuItem>
                <MenuItem value="keep">{used(o) ? t.leaveIt : t.keepIt}</MenuItem>
                <MenuItem value="take-incoming">{used(o) ? t.removeIt : t.takeIt}</MenuItem>
              </TextField>
            </td>
          </tr>
        ))}
      </Rows>
      {o.count > o.rows.length && (
        <Typography variant="caption" color="textSecondary">
          {t.moreRows(o.count - o.rows.length)}
        </Typography>
      )}
    </Box>
  );
}
