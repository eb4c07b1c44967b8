import { createTheme } from '@mui/material/styles';

/** Hues beyond the usual palette: where something stands to the horizon, and what is drawn on canvases. */
interface ProductPalette {
  /** Under, on and over the horizon: three hues that colour-blind people can tell apart. Shape and place come first. */
  readonly level: { readonly under: string; readonly within: string; readonly over: string };
  readonly sheet: {
    readonly wave: string;
    readonly lane: string;
    readonly horizon: string;
    readonly band: string;
  };
}

declare module '@mui/material/styles' {
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- merging is what this interface is for
  interface Palette extends ProductPalette {}
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- the same
  interface PaletteOptions extends ProductPalette {}
}

const FONT = '"Inter Variable", sans-serif';

/** Where the keyboard is. */
const FOCUS = { outline: '2px solid var(--mui-palette-primary-main)', outlineOffset: 1 } as const;

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#2c5a60', contrastText: '#ffffff' },
        error: { main: '#9c1f63' },
        warning: { main: '#7a5200' },
        background: { default: '#f5f3ee', paper: '#fdfcfa' },
        text: { primary: '#22262c', secondary: '#575c63' },
        divider: '#d8d4ca',
        level: { under: '#1f5fa8', within: '#2c5a60', over: '#9c1f63' },
        sheet: { wave: '#b9bfc0', lane: '#eeebe4', horizon: '#6b6f75', band: '#dcd8cd' },
      },
    },
    dark: {
      palette: {
        primary: { main: '#8fc3c8', contrastText: '#10181a' },
        error: { main: '#f08cc2' },
        warning: { main: '#e0bc78' },
        background: { default: '#181b1f', paper: '#1f2328' },
        text: { primary: '#e8e5de', secondary: '#a9adb3' },
        divider: '#363b42',
        level: { under: '#7db4f0', within: '#8fc3c8', over: '#f08cc2' },
        sheet: { wave: '#4f565e', lane: '#252a30', horizon: '#9a9ea4', band: '#323840' },
      },
    },
  },
  typography: {
    fontFamily: FONT,
    fontSize: 13,
    h1: { fontSize: '1.25rem', fontWeight: 600 },
    h2: { fontSize: '1rem', fontWeight: 600 },
    h3: { fontSize: '0.8125rem', fontWeight: 600 },
    body1: { fontSize: '0.875rem' },
    body2: { fontSize: '0.8125rem' },
    caption: { fontSize: '0.75rem' },
    button: { textTransform: 'none', fontWeight: 550 },
  },
  shape: { borderRadius: 4 },
  motion: { reducedMotion: 'system' },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        html: { height: '100%' },
        body: { height: '100%', fontFeatureSettings: '"tnum", "cv05"', overscrollBehavior: 'none' },
        '*:focus-visible': FOCUS,
        // The library takes the outline away from what it draws; fields with a frame of their own show it by that.
        'body .MuiButtonBase-root:focus-visible': FOCUS,
        'body .MuiLink-root:focus-visible': FOCUS,
        'body .MuiSwitchBase-root:focus-within:has(:focus-visible)': FOCUS,
        'body .MuiInputBase-input:focus-visible:not(.MuiOutlinedInput-input)': FOCUS,
        'body .MuiSelect-standard:focus-visible': FOCUS,
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiSelect: { defaultProps: { size: 'small' } },
    MuiTooltip: { defaultProps: { enterDelay: 500, arrow: false } },
    MuiToggleButton: { styleOverrides: { root: { color: 'var(--mui-palette-text-secondary)' } } },
    MuiTableCell: {
      styleOverrides: { root: { padding: '4px 8px', borderColor: 'var(--mui-palette-divider)' } },
    },
  },
});
