import { createTheme } from "@mui/material/styles";

const SANS = '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif';

declare module "@mui/material/styles" {
  interface Palette {
    line: string;
    paper2: string;
  }
  interface PaletteOptions {
    line?: string;
    paper2?: string;
  }
}

/** Plaster and ink: warm paper, blue-black ink, one verdigris accent; amber and brick for what needs a look. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "data-scheme" },
  colorSchemes: {
    light: {
      palette: {
        background: { default: "#F4F2EE", paper: "#FBFAF7" },
        text: { primary: "#1C2733", secondary: "#55606A" },
        divider: "#D9D4CA",
        line: "#D9D4CA",
        paper2: "#ECE8E1",
        primary: { main: "#1F6E64", contrastText: "#FBFAF7" },
        secondary: { main: "#1C2733" },
        warning: { main: "#8C5200" },
        error: { main: "#A8321F" },
        success: { main: "#1F6E64" },
      },
    },
    dark: {
      palette: {
        background: { default: "#171B1F", paper: "#1F252A" },
        text: { primary: "#E8E3DA", secondary: "#9AA5AD" },
        divider: "#38424A",
        line: "#38424A",
        paper2: "#262D33",
        primary: { main: "#63B8AB", contrastText: "#10201D" },
        secondary: { main: "#E8E3DA" },
        warning: { main: "#E0A54A" },
        error: { main: "#E07A63" },
        success: { main: "#63B8AB" },
      },
    },
  },
  typography: {
    fontFamily: SANS,
    fontSize: 13,
    htmlFontSize: 16,
    h1: { fontSize: 20, fontWeight: 650 },
    h2: { fontSize: 13, fontWeight: 650 },
    body1: { fontSize: 13.5 },
    body2: { fontSize: 12.5 },
    button: { textTransform: "none", fontWeight: 550, fontSize: 13 },
  },
  shape: { borderRadius: 6 },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: { root: { minWidth: 0, paddingInline: 10 } },
    },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiTooltip: { defaultProps: { enterDelay: 500 } },
    // a list that stands in a line of words has their base line, not one of its own
    MuiInput: {
      styleOverrides: {
        root: { verticalAlign: "baseline" },
        input: { "&.MuiSelect-select": { padding: "1px 20px 1px 0", minHeight: 0, lineHeight: 1.45 } },
      },
    },
    MuiOutlinedInput: { styleOverrides: { root: { fontSize: 13 }, input: { paddingBlock: 6 } } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 30 } } },
  },
});
