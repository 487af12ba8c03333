import { Moon, Sun } from "lucide-react";
import { useState } from "react";
import { currentTheme, putOn } from "../theme";
import { IconButton } from "./Button";

/** Day or night. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState(currentTheme());
  const other = theme === "chart" ? "night" : "chart";
  return (
    <IconButton
      aria-label={theme === "chart" ? "Night watch theme" : "Chart theme"}
      onPress={() => {
        putOn(other);
        setTheme(other);
      }}
    >
      {theme === "chart" ? <Moon size={14} /> : <Sun size={14} />}
    </IconButton>
  );
}
