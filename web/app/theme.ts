import { createTheme, type Theme } from '@mui/material/styles';

export type Look = 'light' | 'dark';

const sans = '"Atkinson Hyperlegible Next", system-ui, sans-serif';

/** Ink and paper for the library's own parts; the sheets take theirs from look.css, which has the same values. */
const inks = {
  light: {
    paper: '#f4f5ef',
    raised: '#fcfdf9',
    ink: '#1c2a2e',
    faint: '#55635f',
    line: '#c5cec4',
    blue: '#174a8c',
    red: '#a32b0c',
  },
  dark: {
    paper: '#14191a',
    raised: '#1b2223',
    ink: '#e6e9e2',
    faint: '#a3b0aa',
    line: '#3a4646',
    blue: '#8fb8f2',
    red: '#ff9a80',
  },
};

export const themeFor = (look: Look): Theme => {
  const { paper, raised, ink, faint, line, blue, red } = inks[look];
  return createTheme({
    palette: {
      mode: look,
      primary: { main: blue },
      error: { main: red },
      background: { default: paper, paper: raised },
      text: { primary: ink, secondary: faint },
    },
    shape: { borderRadius: 2 },
    typography: {
      fontFamily: sans,
      fontSize: 13.5,
      button: { textTransform: 'none', fontWeight: 600, letterSpacing: 0 },
    },
    // Nothing moves: at a cabinet every answer is wanted at once, and in glare a fade is a flicker.
    transitions: { create: () => 'none' },
    components: {
      MuiButton: {
        defaultProps: { disableElevation: true, disableRipple: true, size: 'small', variant: 'outlined' },
        styleOverrides: {
          root: { borderColor: 'currentColor', lineHeight: 1.5, minWidth: 0, padding: '2px 10px' },
        },
      },
      MuiInputBase: {
        styleOverrides: { root: { fontSize: 'inherit' }, input: { padding: 0, height: 'auto' } },
      },
      MuiDialog: { defaultProps: { maxWidth: 'md' } },
      MuiToggleButton: {
        defaultProps: { disableRipple: true },
        styleOverrides: {
          root: {
            padding: '3px 12px',
            textTransform: 'none',
            color: ink,
            borderColor: line,
            '&.Mui-selected': { color: blue, backgroundColor: raised, boxShadow: `inset 0 -2px ${blue}` },
          },
        },
      },
      MuiTabs: {
        styleOverrides: {
          root: { minHeight: 0, borderBottom: `1px solid ${line}`, marginBottom: 12 },
          indicator: { height: 3 },
        },
      },
      MuiTab: {
        defaultProps: { disableRipple: true },
        styleOverrides: {
          root: { minHeight: 0, padding: '8px 14px', textTransform: 'none', fontSize: 14.5, color: faint },
        },
      },
    },
  });
};
