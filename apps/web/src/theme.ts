import '@fontsource/ibm-plex-sans/latin-400.css';
import '@fontsource/ibm-plex-sans/latin-500.css';
import '@fontsource/ibm-plex-sans/latin-600.css';
import { createTheme } from '@mui/material/styles';

/** Neutral greys and one restrained accent: colour is judged beside this. */
export const tones = {
  chrome: '#e7e7e5',
  chromeDark: '#d8d8d5',
  sheet: '#f6f6f4',
  line: '#bcbcb8',
  ground: '#8a8a8a',
  ink: '#1b1c1d',
  quiet: '#55585a',
  accent: '#2f5d68',
} as const;

/** Menus and dialogs are gone at once when they close: one that fades out takes the next click on the page. */
const GONE_AT_ONCE = { transitionDuration: { enter: 120, exit: 0 } };

export const theme = createTheme({
  palette: {
    mode: 'light',
    primary: { main: tones.accent },
    // Nothing saturated beside the page.
    info: { main: '#44484a' },
    background: { default: tones.chrome, paper: tones.sheet },
    text: { primary: tones.ink, secondary: tones.quiet },
    divider: tones.line,
  },
  shape: { borderRadius: 3 },
  spacing: 8,
  typography: {
    fontFamily: '"IBM Plex Sans", sans-serif',
    fontSize: 13,
    h1: { fontSize: 22, fontWeight: 600 },
    h2: { fontSize: 16, fontWeight: 600 },
    h3: { fontSize: 13, fontWeight: 600 },
    body1: { fontSize: 14 },
    body2: { fontSize: 13 },
    caption: { fontSize: 12, lineHeight: 1.35 },
    button: { textTransform: 'none', fontWeight: 500 },
  },
  components: {
    // Its own grey is too pale on our panels.
    MuiToggleButton: { styleOverrides: { root: { color: tones.ink } } },
    MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiIconButton: { defaultProps: { size: 'small' } },
    MuiMenu: { defaultProps: GONE_AT_ONCE },
    MuiPopover: { defaultProps: GONE_AT_ONCE },
    MuiDialog: { defaultProps: GONE_AT_ONCE },
    MuiTooltip: { defaultProps: { enterDelay: 500, arrow: true } },
    MuiCssBaseline: {
      styleOverrides: {
        'html, body, #root': { height: '100%' },
        body: { overscrollBehavior: 'none' },
        'a:not([class])': { color: tones.accent },
        ':focus-visible': { outline: `2px solid ${tones.accent}`, outlineOffset: 1 },
      },
    },
  },
});
