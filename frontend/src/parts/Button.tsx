import { Button as AriaButton, ToggleButton as AriaToggle } from "react-aria-components";
import styled, { css } from "styled-components";

const shape = css`
  display: inline-flex; align-items: center; gap: 6px; min-height: 26px; padding: 3px 10px; white-space: nowrap;
  border: 1px solid var(--line); border-radius: 3px; background: var(--card); color: var(--ink); cursor: pointer;
  transition: border-color 120ms, background 120ms;
  &[data-hovered] { border-color: var(--ink-soft); }
  /* Seen from the press on, before what it opens is laid out. */
  &[data-pressed] { border-color: var(--ink); box-shadow: inset 0 0 0 1px var(--ink); transition: none; }
  &[data-disabled] { color: var(--ink-soft); cursor: default; opacity: 0.7; }
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: 1px; }
  & svg { flex: none; }
`;

/** An ordinary button. `data-main` is the one thing to do next. */
export const Button = styled(AriaButton)`
  ${shape}
  &[data-main] { background: var(--signal); border-color: var(--signal); color: var(--on-signal); font-weight: 600; }
`;

/** A button within a sentence: no taller than the line. */
export const SmallButton = styled(AriaButton)`
  ${shape}
  min-height: 24px; padding: 0 6px; line-height: 18px; font-size: 12px; vertical-align: 1px; gap: 4px;
`;

/** A button that only shows an icon; it needs an aria-label. */
export const IconButton = styled(AriaButton)`
  ${shape}
  min-width: 28px; padding: 3px 5px; justify-content: center;
  &[data-small] { min-width: 24px; min-height: 24px; padding: 0 2px; border-color: transparent; background: none; vertical-align: -6px; }
  &[data-small][data-hovered] { border-color: var(--line); }
`;

/** A button that stays pressed. */
export const Toggle = styled(AriaToggle)`
  ${shape}
  &[data-selected] { background: var(--ink); border-color: var(--ink); color: var(--card); }
`;
