/** Drawing paper, slate ink, red-oxide primer; verdigris held, ochre watch, dark broke. No shadows, square corners. */
import { createTheme } from "@mui/material/styles";

export const ink = {
  paper: "#f5f0e6",
  sheet: "#fffdf8",
  line: "#cfc6b3",
  ink: "#1f2a2e",
  soft: "#56605d",
  oxide: "#9e3d26",
  held: "#25705c",
  watch: "#8a5a00",
  watchFill: "#e0a63a",
  watchPale: "#f3dfae",
  broke: "#1f2a2e",
  card: "#e3cfa0",
  stone: "#e6dfcf",
  steel: "#7d8787",
} as const;

export const condensed = "'Barlow Condensed', 'Arial Narrow', sans-serif";
export const text = "'Barlow Semi Condensed', Arial, sans-serif";

/** A button without a button's look, for rows and marks that can be pressed. */
export const bareButton = {
  font: "inherit",
  color: "inherit",
  textAlign: "left",
  border: 0,
  cursor: "pointer",
} as const;

export const theme = createTheme({
  palette: {
    primary: { main: ink.oxide, contrastText: "#ffffff" },
    secondary: { main: ink.held, contrastText: "#ffffff" },
    warning: { main: ink.watch },
    error: { main: ink.oxide },
    text: { primary: ink.ink, secondary: ink.soft },
    background: { default: ink.paper, paper: ink.sheet },
    divider: ink.line,
  },
  shape: { borderRadius: 0 },
  typography: {
    fontFamily: text,
    fontSize: 16,
    h1: { fontFamily: condensed, fontWeight: 700, fontSize: "2.75rem", lineHeight: 1.1 },
    h2: { fontFamily: condensed, fontWeight: 600, fontSize: "1.6rem", lineHeight: 1.2 },
    h3: { fontFamily: text, fontWeight: 600, fontSize: "1.05rem" },
    body1: { fontSize: "1.05rem", lineHeight: 1.4 },
    body2: { fontSize: "0.95rem", lineHeight: 1.35 },
    button: { textTransform: "none", fontWeight: 600, fontSize: "1.05rem" },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums" },
        ":focus-visible": { outline: `3px solid ${ink.watchFill}`, outlineOffset: 2 },
      },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, disableRipple: true },
      styleOverrides: { root: { borderWidth: 2, "&:hover": { borderWidth: 2 } } },
    },
    MuiToggleButton: { styleOverrides: { root: { color: ink.ink, "&.Mui-selected": { fontWeight: 700 } } } },
    MuiTextField: { defaultProps: { size: "small", slotProps: { inputLabel: { shrink: true } } } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiDialog: { styleOverrides: { paper: { border: `3px solid ${ink.ink}` } } },
    MuiTableCell: { styleOverrides: { root: { borderColor: ink.line, padding: "6px 12px 6px 0" } } },
  },
});
