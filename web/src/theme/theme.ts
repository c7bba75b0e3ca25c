import { createTheme } from "@mui/material/styles";
import { DESK_PX, TABLET_PX } from "../model/widths";
import "@fontsource-variable/archivo/wdth.css";

/** Thread colours, after natural dyes: one set for each theme, so that both keep their contrast. */
export const dyes: Record<string, { night: string; linen: string }> = {
  madder: { night: "#d9624f", linen: "#a8382a" },
  weld: { night: "#d9a441", linen: "#8a6206" },
  woad: { night: "#7db4c9", linen: "#2b6f8a" },
  indigo: { night: "#8e9ae0", linen: "#3f4aa3" },
  walnut: { night: "#c08f6a", linen: "#7a4f2e" },
  lichen: { night: "#9dbb66", linen: "#50701f" },
  cochineal: { night: "#d877a8", linen: "#9c2f68" },
  slate: { night: "#a9aab8", linen: "#565866" },
};

/** Where fingers point, or may: touch screens, and every page that is no wider than a tablet's. */
export const FINGERS = `@media (pointer: coarse), (max-width: ${DESK_PX - 0.05}px)`;
export const FINGER_PX = 44;
const NARROW = `@media (max-width: ${TABLET_PX - 0.05}px)`;

const common = {
  typography: {
    fontFamily: '"Archivo Variable", sans-serif',
    fontSize: 13,
    button: { textTransform: "none" as const, fontWeight: 600 },
    h1: { fontSize: "1.35rem", fontWeight: 700 },
    h2: { fontSize: "1rem", fontWeight: 700 },
  },
  shape: { borderRadius: 6 },
  components: {
    MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
    // One mark of focus everywhere, the ring below, which the library takes off its own buttons.
    MuiButtonBase: { styleOverrides: { root: { "&.Mui-focusVisible": { outline: "2px solid currentColor", outlineOffset: 2 } } } },
    MuiButton: {
      defaultProps: { disableElevation: true, disableFocusRipple: true },
      styleOverrides: { root: { minHeight: 34, [FINGERS]: { minHeight: FINGER_PX } } },
    },
    MuiIconButton: {
      defaultProps: { disableFocusRipple: true },
      styleOverrides: { root: { minWidth: 34, minHeight: 34, [FINGERS]: { minWidth: FINGER_PX, minHeight: FINGER_PX } } },
    },
    MuiDialog: {
      styleOverrides: {
        // What is said meanwhile stands under it, not on it.
        container: { paddingBottom: "var(--notice, 0px)" },
        paper: { [NARROW]: { margin: 8, width: "calc(100% - 16px)", maxHeight: "calc(100% - 16px)" } },
      },
    },
    // A finger needs 44 pixels.
    MuiToggleButton: { styleOverrides: { root: { [FINGERS]: { minWidth: FINGER_PX, minHeight: FINGER_PX } } } },
    MuiFormControlLabel: { styleOverrides: { root: { [FINGERS]: { minHeight: FINGER_PX } } } },
    MuiMenuItem: { styleOverrides: { root: { [FINGERS]: { minHeight: FINGER_PX } } } },
    MuiCheckbox: { styleOverrides: { root: { [FINGERS]: { minWidth: FINGER_PX, minHeight: FINGER_PX } } } },
    MuiOutlinedInput: { styleOverrides: { root: { [FINGERS]: { minHeight: FINGER_PX } } } },
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontStretch: "88%", fontVariantNumeric: "tabular-nums", overflow: "hidden" },
        "*:focus-visible": { outline: "2px solid currentColor", outlineOffset: 2 },
        [FINGERS]: { ".react-flow .react-flow__controls-button": { width: FINGER_PX, height: FINGER_PX } },
        // The gear map's library takes it off its own cards and cables.
        ".react-flow .react-flow__viewport .react-flow__node:focus-visible": {
          outline: "2px solid currentColor",
          outlineOffset: 2,
          borderRadius: 6,
        },
        ".react-flow .react-flow__viewport .react-flow__edge:focus-visible": { outline: "2px solid currentColor", outlineOffset: 2 },
        "@media (prefers-reduced-motion: reduce)": { "*": { transition: "none !important", animation: "none !important" } },
      },
    },
  },
};

/** Night for the dark venue, linen for daylight; the choice stays in the browser. */
export const theme = createTheme({
  ...common,
  cssVariables: { colorSchemeSelector: "data-scheme" },
  colorSchemes: {
    dark: {
      palette: {
        mode: "dark",
        background: { default: "#1b1a1d", paper: "#242228" },
        text: { primary: "#ece6da", secondary: "#b3aca0" },
        primary: { main: "#d9a441", contrastText: "#1b1a1d" },
        error: { main: "#e8705c", contrastText: "#1b1a1d" },
        warning: { main: "#e0ac48" },
        success: { main: "#86a868" },
        divider: "#3a373f",
      },
    },
    light: {
      palette: {
        mode: "light",
        background: { default: "#f3eee3", paper: "#fbf8f1" },
        text: { primary: "#2a2620", secondary: "#5f584c" },
        primary: { main: "#7d5a08", contrastText: "#ffffff" },
        error: { main: "#a8321f" },
        warning: { main: "#855a00" },
        success: { main: "#47691f" },
        divider: "#d3cab8",
        action: { active: "#4d473d" },
      },
    },
  },
});
