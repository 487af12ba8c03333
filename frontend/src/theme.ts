import { createGlobalStyle } from "styled-components";

/** The two themes: chart paper by day, night watch by night. Colours are used through custom properties only. */
export const GlobalStyle = createGlobalStyle`
  :root {
    --paper: #F3F0E8; --card: #FBFAF5; --line: #D8D2C3; --ink: #182530; --ink-soft: #52606A;
    --signal: #C8420B; --on-signal: #FFFFFF; --sea: #0B6B70; --sea-wash: #DCEBEA; --surround: #B9BDBF; --outside: #E4E2DA; --hatch: #EFE3D2;
    color-scheme: light;
  }
  :root[data-theme="night"] {
    --paper: #12191F; --card: #1A232B; --line: #2C3842; --ink: #E6E9EA; --ink-soft: #9BA9B3;
    --signal: #FF8A4C; --on-signal: #12191F; --sea: #58C4C4; --sea-wash: #1D3A3E; --surround: #4A4F53; --outside: #2A343D; --hatch: #33302B;
    color-scheme: dark;
  }
  *, *::before, *::after { box-sizing: border-box; }
  html, body, #root { height: 100%; }
  body {
    margin: 0; background: var(--paper); color: var(--ink);
    font: 400 13px/1.4 Barlow, sans-serif; font-variant-numeric: tabular-nums; -webkit-font-smoothing: antialiased;
  }
  button, input, select { font: inherit; color: inherit; }
  h1, h2, h3, p { margin: 0; }
  :focus-visible { outline: 2px solid var(--sea); outline-offset: 1px; }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;

export type Theme = "chart" | "night";

const THEME_KEY = "windsock-theme";

export function currentTheme(): Theme {
  return localStorage.getItem(THEME_KEY) === "night" ? "night" : "chart";
}

/** Put a theme on the page, and keep it for the next visit. */
export function putOn(theme: Theme): void {
  localStorage.setItem(THEME_KEY, theme);
  document.documentElement.dataset.theme = theme;
}
