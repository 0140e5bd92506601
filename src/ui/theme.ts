'use client';
import { createTheme } from '@mui/material/styles';

declare module '@mui/material/styles' {
  interface Palette {
    ink2: string;
    line: string;
    panel: string;
    brass: string;
    tint: string;
    good: string;
    goodBack: string;
    look: string;
    lookBack: string;
    bad: string;
    badBack: string;
    mute: string;
    muteBack: string;
    bar: string;
    barInk: string;
  }
  interface PaletteOptions extends Partial<Palette> {}
}

const light = {
  mode: 'light' as const,
  primary: { main: '#14424a', contrastText: '#fbfaf6' },
  error: { main: '#b2402a' },
  background: { default: '#f4f1ea', paper: '#ffffff' },
  text: { primary: '#15282c', secondary: '#50656a' },
  divider: '#dcd6c9',
  ink2: '#50656a',
  line: '#dcd6c9',
  panel: '#fbfaf6',
  brass: '#8a5d0c',
  tint: '#e2ede6',
  good: '#256a59',
  goodBack: '#dcebe4',
  look: '#8a5a00',
  lookBack: '#f7e8c8',
  bad: '#a83a25',
  badBack: '#f7dcd4',
  mute: '#566469',
  muteBack: '#e6e4dd',
  bar: '#17353b',
  barInk: '#f3efe4',
};

const dark = {
  mode: 'dark' as const,
  primary: { main: '#7fb8b0', contrastText: '#0d181b' },
  error: { main: '#ee8a72' },
  background: { default: '#0d181b', paper: '#182a2f' },
  text: { primary: '#ebe6da', secondary: '#9fb0b2' },
  divider: '#25393e',
  ink2: '#9fb0b2',
  line: '#25393e',
  panel: '#122125',
  brass: '#dba94d',
  tint: '#1c3534',
  good: '#6cc0a3',
  goodBack: '#17362f',
  look: '#e6b04c',
  lookBack: '#3a2c12',
  bad: '#ee8a72',
  badBack: '#451f18',
  mute: '#a3b1b3',
  muteBack: '#24343a',
  bar: '#091114',
  barInk: '#ebe6da',
};

export const MONO = '"Atkinson Hyperlegible Mono Variable", monospace';

/** Our own look: deep ink-teal and warm brass on a quiet ground, flat, parted by lines. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data' },
  colorSchemes: { light: { palette: light }, dark: { palette: dark } },
  shape: { borderRadius: 5 },
  motion: { reducedMotion: 'system' },
  typography: {
    fontFamily: '"Atkinson Hyperlegible Next Variable", sans-serif',
    fontSize: 14,
    button: { textTransform: 'none', fontWeight: 600 },
    h1: { fontSize: 20, fontWeight: 700 },
    h2: { fontSize: 15, fontWeight: 700 },
    body1: { fontSize: 14 },
    body2: { fontSize: 13 },
    caption: { fontSize: 12 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        'html, body': { height: '100%' },
        body: { fontVariantNumeric: 'tabular-nums' },
        // Above the components' own type, or a path in a table would be set in the sans.
        'code, .mono': { fontFamily: `${MONO} !important`, fontSize: '12.5px' },
        '@media (prefers-reduced-motion: reduce)': {
          '*, ::before, ::after': { transition: 'none !important', scrollBehavior: 'auto !important' },
        },
        '*:focus-visible': { outline: '2px solid var(--mui-palette-brass)', outlineOffset: 1 },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      styleOverrides: { root: { minHeight: 32, paddingInline: 14 } },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiDialog: { styleOverrides: { paper: { border: '1px solid var(--mui-palette-line)' } } },
    MuiToggleButton: { styleOverrides: { root: { color: 'var(--mui-palette-ink2)' } } },
    MuiTooltip: { defaultProps: { enterDelay: 500 } },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiTableCell: {
      styleOverrides: {
        root: { borderColor: 'var(--mui-palette-line)', padding: '9px 10px' },
        head: { color: 'var(--mui-palette-ink2)', fontWeight: 600, fontSize: 12.5 },
      },
    },
  },
});
