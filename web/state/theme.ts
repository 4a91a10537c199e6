import { createTheme, type Theme } from '@mui/material/styles';

/** Light by day, dark in a cellar, and one with nothing faint in it for glare. */
export const looks = ['light', 'dark', 'contrast'] as const;
export type Look = (typeof looks)[number];

const sans = '"Atkinson Hyperlegible Next", system-ui, sans-serif';

/** Ink and paper: every colour of the product stands here, and nowhere else. */
const inks = {
  light: {
    paper: '#f4f5ef',
    raised: '#fcfdf9',
    rail: '#e7ebe3',
    ink: '#1c2a2e',
    faint: '#55635f',
    line: '#c5cec4',
    blue: '#174a8c',
    'blue-wash': '#e3ebf4',
    red: '#a32b0c',
    'red-wash': '#f8e6df',
    ochre: '#735100',
    'ochre-wash': '#f5ecd2',
    green: '#1b6540',
    'green-wash': '#e2efe4',
  },
  dark: {
    paper: '#14191a',
    raised: '#1b2223',
    rail: '#101415',
    ink: '#e6e9e2',
    faint: '#a3b0aa',
    line: '#3a4646',
    blue: '#8fb8f2',
    'blue-wash': '#1d2b3d',
    red: '#ff9a80',
    'red-wash': '#3a211b',
    ochre: '#e5be5a',
    'ochre-wash': '#342b14',
    green: '#86d3a8',
    'green-wash': '#16301f',
  },
  contrast: {
    paper: '#ffffff',
    raised: '#ffffff',
    rail: '#ffffff',
    ink: '#000000',
    faint: '#1f1f1f',
    line: '#4a4a4a',
    blue: '#00308f',
    'blue-wash': '#dfe9ff',
    red: '#8f1200',
    'red-wash': '#ffe3dc',
    ochre: '#4d3400',
    'ochre-wash': '#fff0c2',
    green: '#00431f',
    'green-wash': '#d9f7e2',
  },
} as const;

/** Whoever asks the system for less motion gets none. */
const calm = matchMedia('(prefers-reduced-motion: reduce)');

/** The colours of a look as custom properties, for the styles beside the parts. */
export const colours = (look: Look): Record<string, string> => ({
  colorScheme: look === 'dark' ? 'dark' : 'light',
  ...Object.fromEntries(Object.entries(inks[look]).map(([name, value]) => [`--${name}`, value])),
});

export const themeFor = (look: Look): Theme => {
  const { paper, raised, ink, faint, line, blue, red } = inks[look];
  const tick = {
    padding: 0,
    color: faint,
    // Its word gives the line, not its box.
    alignSelf: 'center',
    verticalAlign: 'middle',
    margin: '-3px 0',
    '& svg': { fontSize: 20 },
    '&.Mui-focusVisible': { outline: `2px solid ${blue}` },
  };
  return createTheme({
    palette: {
      mode: look === 'dark' ? 'dark' : 'light',
      primary: { main: blue },
      error: { main: red },
      background: { default: paper, paper: raised },
      text: { primary: ink, secondary: faint },
    },
    shape: { borderRadius: 2 },
    typography: {
      fontFamily: sans,
      fontSize: 13.5,
      body1: { fontSize: 14.5, lineHeight: 1.45 },
      h1: { fontSize: 26, fontWeight: 700, lineHeight: 1.2, letterSpacing: 0 },
      h2: { fontSize: 22, fontWeight: 700, lineHeight: 1.2, letterSpacing: 0 },
      h3: { fontSize: 15.5, fontWeight: 700, lineHeight: 1.45, letterSpacing: 0 },
      h4: { fontSize: 15.5, fontWeight: 700, lineHeight: 1.45, letterSpacing: 0 },
      button: { textTransform: 'none', fontWeight: 600, letterSpacing: 0 },
    },
    // Nothing moves, at a cabinet every answer is wanted at once and in glare a fade is a flicker, but what unfolds:
    // that it comes out of its line says where it belongs.
    transitions: {
      create: (property: string | string[]) =>
        property === 'height' && !calm.matches ? 'height 120ms ease-out' : 'none',
    },
    components: {
      MuiButton: {
        defaultProps: { disableElevation: true, disableRipple: true, size: 'small', variant: 'outlined' },
        styleOverrides: {
          root: { borderColor: 'currentColor', lineHeight: 1.5, minWidth: 0, padding: '2px 10px' },
        },
      },
      // A field is a line of the page: its letters, its height, no box of its own.
      MuiInputBase: {
        styleOverrides: {
          root: { font: 'inherit', letterSpacing: 'inherit', color: 'inherit', minWidth: 0 },
          input: {
            padding: 0,
            height: 'auto',
            textOverflow: 'ellipsis',
            '&::placeholder': { color: faint, opacity: 0.75 },
          },
        },
      },
      MuiNativeSelect: {
        styleOverrides: {
          icon: { color: faint, fontSize: 18 },
          select: { minWidth: 0, '&&': { paddingRight: 18 } },
        },
      },
      MuiFormLabel: { styleOverrides: { root: { font: 'inherit', color: faint } } },
      MuiCheckbox: { defaultProps: { disableRipple: true, size: 'small' }, styleOverrides: { root: tick } },
      MuiRadio: { defaultProps: { disableRipple: true, size: 'small' }, styleOverrides: { root: tick } },
      MuiTableCell: {
        styleOverrides: {
          root: {
            font: 'inherit',
            letterSpacing: 'inherit',
            color: 'inherit',
            padding: 0,
            border: 0,
            verticalAlign: 'top',
          },
        },
      },
      MuiMenuItem: {
        defaultProps: { disableRipple: true },
        styleOverrides: { root: { minHeight: 0, padding: '6px 16px' } },
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
