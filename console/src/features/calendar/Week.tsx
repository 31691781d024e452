import { Box, Typography } from '@mui/material';
import type { Calendar } from './api';
import { days, place } from './model';
import { t } from './texts';

const WIDE = 980;
const NAME = 130;
const LANE = 46;
const HEAD = 26;

const weekday = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });

/** A week as a picture: a lane a stage, windows light, freezes hatched, runs as marks. The table beside it says the same. */
export function Week({ c, from, now }: { c: Calendar; from: Date; now: Date }) {
  const until = days(from, 7);
  const x = (at: string) => NAME + place(at, from, until) * (WIDE - NAME);
  const band = (a: string, b: string) => ({ x: x(a), width: Math.max(2, x(b) - x(a)) });
  const height = HEAD + c.stages.length * LANE;
  const today = now >= from && now < until;
  const ink = 'var(--mui-palette-text-primary)';
  const soft = 'var(--mui-palette-text-secondary)';
  const line = 'var(--mui-palette-divider)';
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={t.picture(weekday.format(from))}>
      <svg
        viewBox={`0 0 ${WIDE} ${height}`}
        width="100%"
        style={{ minWidth: 620, display: 'block' }}
        role="img"
        aria-label={t.picture(weekday.format(from))}
      >
        <defs>
          <pattern id="frozen" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="7" height="7" fill="var(--mui-palette-signal-sunken)" />
            <line x1="0" y1="0" x2="0" y2="7" stroke={soft} strokeWidth="2" />
          </pattern>
        </defs>
        {[0, 1, 2, 3, 4, 5, 6].map((n) => {
          const day = days(from, n);
          const at = x(day.toISOString());
          return (
            <g key={n}>
              <line x1={at} y1={0} x2={at} y2={height} stroke={line} />
              <text x={at + 4} y={16} fontSize="12" fill={soft}>
                {weekday.format(day)}
              </text>
            </g>
          );
        })}
        {c.stages.map((s, n) => {
          const y = HEAD + n * LANE;
          return (
            <g key={s.stage}>
              <line x1={0} y1={y} x2={WIDE} y2={y} stroke={line} />
              <text x={2} y={y + 19} fontSize="13" fontWeight="650" fill={ink}>
                {s.name}
              </text>
              {s.rules.length === 0 && (
                <text x={2} y={y + 35} fontSize="11" fill={soft}>
                  {t.always}
                </text>
              )}
              {s.windows.map((w) => (
                <rect
                  key={w.from}
                  {...band(w.from, w.until)}
                  y={y + 6}
                  height={LANE - 12}
                  fill="var(--mui-palette-signal-sunken)"
                  stroke={soft}
                />
              ))}
              {s.freezes.map((f) => (
                <rect
                  key={f.number}
                  {...band(f.from, f.liftedAt ?? f.until)}
                  y={y + 10}
                  height={LANE - 20}
                  fill="url(#frozen)"
                  stroke={ink}
                />
              ))}
              {c.runs
                .filter((r) => r.site.split('/')[0] === s.stage)
                .map((r) => (
                  <g key={r.number}>
                    {r.usersOutFrom && r.usersOutUntil && (
                      <rect {...band(r.usersOutFrom, r.usersOutUntil)} y={y + LANE - 11} height={5} fill={ink} />
                    )}
                    <circle cx={x(r.began)} cy={y + LANE / 2} r={4.5} fill={ink} />
                  </g>
                ))}
              {c.repeats
                .filter((r) => r.stage === s.stage)
                .map((r) => (
                  <circle
                    key={r.number + r.at}
                    cx={x(r.at)}
                    cy={y + LANE / 2}
                    r={4.5}
                    fill="none"
                    stroke={ink}
                    strokeWidth={2}
                  />
                ))}
              {c.schedules
                .filter((r) => r.site.split('/')[0] === s.stage)
                .map((r) => (
                  <g key={r.number}>
                    {r.usersOut && (
                      <rect
                        {...band(r.at, new Date(Date.parse(r.at) + r.usersOut.mostSeconds * 1000).toISOString())}
                        y={y + LANE - 11}
                        height={5}
                        fill="none"
                        stroke={ink}
                      />
                    )}
                    <rect
                      x={x(r.at) - 5}
                      y={y + LANE / 2 - 5}
                      width={10}
                      height={10}
                      transform={`rotate(45 ${x(r.at)} ${y + LANE / 2})`}
                      fill="var(--mui-palette-background-paper)"
                      stroke={ink}
                      strokeWidth={2}
                    />
                  </g>
                ))}
            </g>
          );
        })}
        {today && (
          <line
            x1={x(now.toISOString())}
            y1={HEAD - 6}
            x2={x(now.toISOString())}
            y2={height}
            stroke="var(--mui-palette-signal-you)"
            strokeWidth={2}
          />
        )}
      </svg>
      <Legend />
    </Box>
  );
}

function Legend() {
  const mark = (what: React.ReactNode, text: string) => (
    <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, mr: 2 }}>
      <svg width="18" height="12" aria-hidden>
        {what}
      </svg>
      <Typography component="span" variant="body2" color="textSecondary">
        {text}
      </Typography>
    </Box>
  );
  const ink = 'var(--mui-palette-text-primary)';
  const soft = 'var(--mui-palette-text-secondary)';
  return (
    <Box sx={{ mt: 1 }}>
      {mark(
        <rect x="1" y="1" width="16" height="10" fill="var(--mui-palette-signal-sunken)" stroke={soft} />,
        t.legend.window,
      )}
      {mark(<rect x="1" y="1" width="16" height="10" fill="url(#frozen)" stroke={ink} />, t.legend.freeze)}
      {mark(
        <rect x="5" y="2" width="8" height="8" transform="rotate(45 9 6)" fill="none" stroke={ink} strokeWidth="2" />,
        t.legend.schedule,
      )}
      {mark(<circle cx="9" cy="6" r="4.5" fill="none" stroke={ink} strokeWidth="2" />, t.legend.repeat)}
      {mark(<circle cx="9" cy="6" r="4.5" fill={ink} />, t.legend.run)}
      {mark(<rect x="1" y="4" width="16" height="5" fill={ink} />, t.legend.out)}
      {mark(<rect x="1" y="4" width="16" height="5" fill="none" stroke={ink} />, t.legend.expected)}
      {mark(<line x1="9" y1="0" x2="9" y2="12" stroke="var(--mui-palette-signal-you)" strokeWidth="2" />, t.legend.now)}
    </Box>
  );
}
