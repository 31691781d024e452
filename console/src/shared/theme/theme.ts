import { createTheme, enhanceHighContrast } from '@mui/material/styles';

export interface Signals {
  you: string;
  good: string;
  caution: string;
  fault: string;
  motion: string;
  quiet: string;
  youT: string;
  goodT: string;
  cautionT: string;
  faultT: string;
  motionT: string;
  quietT: string;
  edge: string;
  sunken: string;
}
declare module '@mui/material/styles' {
  interface Palette {
    signal: Signals;
  }
  interface PaletteOptions {
    signal?: Signals;
  }
  interface CssThemeVariables {
    enabled: true;
  }
}
const light = {
  paper: '#F6F5F1',
  surface: '#FFFFFF',
  sunken: '#ECEAE3',
  rule: '#D8D4C8',
  edge: '#757262',
  ink: '#1B1A16',
  ink2: '#55524A',
  you: '#4A1E9E',
  good: '#0A5A2C',
  caution: '#8A5600',
  fault: '#850F08',
  motion: '#0E6A9B',
  quiet: '#5E5B52',
  youT: '#ECEAF9',
  goodT: '#E3F1E8',
  cautionT: '#FBEFD3',
  faultT: '#FCE8E4',
  motionT: '#E2EFFA',
  quietT: '#EEECE6',
  onInk: '#FFFFFF',
};
const dark = {
  paper: '#151613',
  surface: '#1E1F1B',
  sunken: '#101110',
  rule: '#3A3B35',
  edge: '#8E8F83',
  ink: '#F1F0EA',
  ink2: '#B9B8AE',
  you: '#9091FF',
  good: '#5CE8A0',
  caution: '#FDB833',
  fault: '#F4735B',
  motion: '#9AD5F8',
  quiet: '#A9A89D',
  youT: '#2A2647',
  goodT: '#17301F',
  cautionT: '#362A0F',
  faultT: '#40201B',
  motionT: '#152C40',
  quietT: '#2A2B26',
  onInk: '#151613',
};
const scheme = (c: typeof light) => ({
  palette: {
    primary: { main: c.ink, light: c.ink2, dark: c.ink, contrastText: c.onInk },
    secondary: { main: c.you, contrastText: c.onInk },
    success: { main: c.good, contrastText: c.onInk },
    warning: { main: c.caution, contrastText: c.onInk },
    error: { main: c.fault, contrastText: c.onInk },
    info: { main: c.motion, contrastText: c.onInk },
    text: { primary: c.ink, secondary: c.ink2 },
    divider: c.rule,
    action: { active: c.ink2, disabled: c.ink2 },
    background: { default: c.paper, paper: c.surface },
    signal: {
      you: c.you,
      good: c.good,
      caution: c.caution,
      fault: c.fault,
      motion: c.motion,
      quiet: c.quiet,
      youT: c.youT,
      goodT: c.goodT,
      cautionT: c.cautionT,
      faultT: c.faultT,
      motionT: c.motionT,
      quietT: c.quietT,
      edge: c.edge,
      sunken: c.sunken,
    },
  },
});

export const theme = enhanceHighContrast(
  createTheme({
    cssVariables: { colorSchemeSelector: '[data-scheme="%s"]' },
    colorSchemes: { light: scheme(light), dark: scheme(dark) },
    motion: { reducedMotion: 'system' },
    focusVisible: { outlineColor: 'var(--mui-palette-signal-you)', outlineWidth: 2, outlineOffset: 2 },
    shape: { borderRadius: 4 },
    spacing: 8,
    typography: {
      fontFamily: '"Inter Variable", system-ui, sans-serif',
      fontSize: 14,
      htmlFontSize: 16,
      h1: { fontSize: '1.5rem', lineHeight: 32 / 24, fontWeight: 620, letterSpacing: '-0.012em' },
      h2: { fontSize: '1.125rem', lineHeight: 24 / 18, fontWeight: 620 },
      h3: { fontSize: '0.875rem', lineHeight: 20 / 14, fontWeight: 650 },
      body1: { fontSize: '0.875rem', lineHeight: 20 / 14 },
      body2: { fontSize: '0.8125rem', lineHeight: 18 / 13 },
      caption: { fontSize: '0.75rem', lineHeight: 16 / 12 },
      button: { textTransform: 'none', fontWeight: 600, fontSize: '0.875rem' },
    },
    components: {
      MuiButton: { defaultProps: { disableElevation: true }, styleOverrides: { root: { minHeight: 36 } } },
      MuiPaper: { defaultProps: { elevation: 0, variant: 'outlined' } },
      MuiAlert: {
        styleOverrides: {
          root: ({ ownerState, theme }) => {
            const k = ({ error: 'fault', warning: 'caution', success: 'good', info: 'motion' } as const)[
              ownerState.severity ?? 'info'
            ];
            const v = theme.vars!.palette.signal;
            return {
              backgroundColor: v[`${k}T`],
              color: theme.vars!.palette.text.primary,
              borderLeft: `4px solid ${v[k]}`,
              '& .MuiAlert-icon': { color: v[k] },
            };
          },
        },
      },
    },
  }),
);
