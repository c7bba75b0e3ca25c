import DarkModeOutlined from "@mui/icons-material/DarkModeOutlined";
import LightModeOutlined from "@mui/icons-material/LightModeOutlined";
import { IconButton, useColorScheme } from "@mui/material";

/** Night for the dark venue, linen for daylight. */
export function ThemeSwitch() {
  const { mode, setMode } = useColorScheme();
  const light = mode === "light";
  return (
    <IconButton aria-label={light ? "Night theme" : "Linen theme"} onClick={() => setMode(light ? "dark" : "light")} size="small">
      {light ? <DarkModeOutlined /> : <LightModeOutlined />}
    </IconButton>
  );
}
