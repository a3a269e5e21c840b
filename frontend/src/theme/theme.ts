import "@fontsource/figtree/latin-400.css";
import "@fontsource/figtree/latin-500.css";
import "@fontsource/figtree/latin-600.css";
import "@fontsource/figtree/latin-700.css";
import "./base.css";
import { createTheme, type Theme } from "@mui/material/styles";

export type ThemeName = "day" | "lamp";

type Tokens = Record<
  | "table"
  | "panel"
  | "line"
  | "ink"
  | "soft"
  | "rye"
  | "crust"
  | "sage"
  | "honey"
  | "beet"
  | "plum"
  | "lagoon",
  string
>;

const TOKENS: Record<ThemeName, Tokens> = {
  day: {
    table: "#E7DFD0",
    panel: "#FBF8F2",
    line: "#D9CDB9",
    ink: "#2B2927",
    soft: "#6A6259",
    rye: "#2F4B6E",
    crust: "#B5532A",
    sage: "#4F7A4C",
    honey: "#A66A12",
    beet: "#A23B4F",
    plum: "#7C4D8B",
    lagoon: "#21787A",
  },
  lamp: {
    table: "#2A2724",
    panel: "#36322E",
    line: "#4A443E",
    ink: "#EFE8DC",
    soft: "#B8AD9E",
    rye: "#8FB0D9",
    crust: "#E58A5B",
    sage: "#8FC08B",
    honey: "#E0B15A",
    beet: "#E6808F",
    plum: "#C79BD6",
    lagoon: "#6CC5C4",
  },
};

export function themeOf(name: ThemeName): Theme {
  const t = TOKENS[name];
  return createTheme({
    palette: {
      mode: name === "day" ? "light" : "dark",
      primary: { main: t.rye },
      secondary: { main: t.crust },
      error: { main: t.beet },
      info: { main: t.rye },
      warning: { main: t.honey },
      success: { main: t.sage },
      background: { default: t.table, paper: t.panel },
      text: { primary: t.ink, secondary: t.soft },
      divider: t.line,
    },
    // who asks the system for calm gets menus and dialogs that are there at once
    motion: { reducedMotion: "system" },
    shape: { borderRadius: 6 },
    typography: {
      fontFamily: "Figtree, sans-serif",
      fontSize: 13,
      htmlFontSize: 16,
      body1: { fontSize: 13, lineHeight: 1.45 },
      button: { textTransform: "none", fontWeight: 600 },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          ":root": Object.fromEntries(Object.entries(t).map(([key, value]) => [`--${key}`, value])),
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: { defaultProps: { size: "small", disableElevation: true } },
      MuiIconButton: { defaultProps: { size: "small" } },
      MuiTextField: { defaultProps: { size: "small", variant: "outlined" } },
      MuiInputBase: { styleOverrides: { root: { fontSize: 13 } } },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 13 } } },
      MuiTableCell: { styleOverrides: { root: { fontSize: 13 } } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
      MuiTooltip: { defaultProps: { enterDelay: 400, disableInteractive: true } },
      MuiSlider: { defaultProps: { size: "small" } },
    },
  });
}
