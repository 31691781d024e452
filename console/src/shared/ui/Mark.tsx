import type { ReactNode } from 'react';

/** State words as the API says them, and the tone of each. Unknown words get the quiet mark and never crash. */
type Tone = 'good' | 'caution' | 'you' | 'motion' | 'fault' | 'quiet';

const tones: Record<string, Tone> = {
  good: 'good',
  bound: 'good',
  missing: 'fault',
  wrong: 'fault',
  done: 'good',
  'is there': 'good',
  'came through': 'good',
  'made by two': 'good',
  'made by one': 'caution',
  'as planned': 'good',
  'not as planned': 'fault',
  'did not come through': 'fault',
  agreed: 'good',
  'half written': 'fault',
  'judged bad': 'fault',
  'not reachable': 'quiet',
  drifted: 'caution',
  'to look at': 'caution',
  'rolled back': 'caution',
  'never here': 'quiet',
  'waiting for you': 'you',
  'waiting for others': 'quiet',
  ready: 'quiet',
  running: 'motion',
  queued: 'motion',
  preparing: 'motion',
  paused: 'quiet',
  failed: 'fault',
  unknown: 'caution',
  frozen: 'quiet',
  stopped: 'fault',
  'stopped, nothing changed': 'caution',
  'failed, all put back': 'fault',
  'done, n to look at': 'caution',
  blocker: 'fault',
  risk: 'caution',
  note: 'quiet',
  withdrawn: 'quiet',
  overtaken: 'quiet',
  'left out': 'quiet',
  'to come': 'quiet',
};

export function toneOf(word: string): Tone {
  return tones[word] ?? 'quiet';
}

export function color(word: string): string {
  return `var(--mui-palette-signal-${toneOf(word)})`;
}

export function tint(word: string): string {
  return `var(--mui-palette-signal-${toneOf(word)}T)`;
}

/** The 16-grid marks, told apart in grey; the word always stands beside. */
export function Mark({ of, size = 16 }: { of: string; size?: number }) {
  const c = color(of);
  const p = 'var(--mui-palette-background-paper)';
  const line = {
    fill: 'none',
    stroke: c,
    strokeWidth: 2,
    strokeLinecap: 'round' as const,
    strokeLinejoin: 'round' as const,
  };
  const disc = (inner: ReactNode) => (
    <>
      <circle cx="8" cy="8" r="7" fill={c} />
      {inner}
    </>
  );
  const drawings: Record<string, ReactNode> = {
    good: disc(<path d="M4.8 8.3l2.2 2.2 4.2-4.8" {...line} stroke={p} />),
    'half written': (
      <>
        <path d="M1.5 1.5h13v5l-3.2 2.6L8 6.5 4.7 9.1 1.5 6.5z" fill={c} />
        <path d="M1.5 10.2v4.3h13v-4.3" {...line} />
      </>
    ),
    'judged bad': disc(<path d="M4.5 8h7" {...line} stroke={p} strokeWidth={2.6} />),
    drifted: (
      <>
        <path d="M7.4 0a6.2 6.2 0 0 0 0 12.4z" fill={c} />
        <path d="M8.6 3.6a6.2 6.2 0 0 1 0 12.4z" fill={c} />
      </>
    ),
    'rolled back': <path d="M6 2.5L2.5 6 6 9.5M2.8 6h7a3.7 3.7 0 0 1 0 7.5H6" {...line} />,
    'not reachable': (
      <>
        <circle cx="8" cy="8" r="6.2" {...line} strokeDasharray="2.4 2.5" />
        <circle cx="8" cy="8" r="1.6" fill={c} />
      </>
    ),
    'never here': <path d="M4 8h8" {...line} />,
    'waiting for you': (
      <>
        <path d="M3 1v14" {...line} />
        <path d="M3.5 1.5L14 5.7 3.5 10z" fill={c} />
      </>
    ),
    'waiting for others': (
      <>
        <path d="M3 1v14" {...line} />
        <path d="M3 2L13 5.8 3 9.6" {...line} />
      </>
    ),
    running: (
      <>
        <path d="M5.5 1.5L10 6l-4.5 4.5" {...line} strokeWidth={2.4} />
        <path d="M1.5 14.5h13" stroke={c} strokeOpacity={0.35} strokeWidth={2} />
        <path d="M1.5 14.5h7" {...line} />
      </>
    ),
    paused: (
      <>
        <rect x="1" y="1" width="14" height="14" fill={c} />
        <path d="M5.7 4.5v7M10.3 4.5v7" {...line} stroke={p} />
      </>
    ),
    failed: (
      <>
        <path d="M8 .3L15.7 8 8 15.7.3 8z" fill={c} />
        <path d="M5.7 5.7l4.6 4.6M10.3 5.7l-4.6 4.6" {...line} stroke={p} />
      </>
    ),
    blocker: (
      <>
        <path d="M5 .8h6L15.2 5v6L11 15.2H5L.8 11V5z" fill={c} />
        <path d="M4.5 8h7" {...line} stroke={p} />
      </>
    ),
    risk: (
      <>
        <path d="M8 1.2L15.2 14.5H.8z" fill={c} />
        <path d="M8 6v4M8 12.3v.2" {...line} stroke={p} />
      </>
    ),
    note: (
      <>
        <rect x="2" y="2" width="12" height="12" {...line} />
        <circle cx="8" cy="8" r="1.6" fill={c} />
      </>
    ),
  };
  const same: Record<string, string> = {
    done: 'good',
    'is there': 'good',
    'came through': 'good',
    'as planned': 'good',
    'not as planned': 'failed',
    'did not come through': 'failed',
    agreed: 'good',
    queued: 'running',
    preparing: 'running',
    ready: 'waiting for others',
    stopped: 'failed',
    'stopped, nothing changed': 'failed',
    'failed, all put back': 'rolled back',
    'done, n to look at': 'risk',
    'to look at': 'risk',
    unknown: 'not reachable',
    'to come': 'never here',
    'left out': 'never here',
    withdrawn: 'never here',
    overtaken: 'never here',
  };
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" aria-hidden focusable={false} style={{ flex: 'none' }}>
      {drawings[of] ?? drawings[same[of] ?? 'never here']}
    </svg>
  );
}
