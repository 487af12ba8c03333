import { Button as Press } from "react-aria-components";
import styled from "styled-components";

/** A sentence card of the recipe. */
export const Card = styled.section`
  position: relative; padding: 8px 10px 8px 34px; margin-bottom: 6px; line-height: 1.86;
  background: var(--card); border: 1px solid var(--line); border-radius: 3px;
  &[data-off] { opacity: 0.75; border-style: dashed; }
  &[data-undriven] { background: repeating-linear-gradient(135deg, var(--card) 0 8px, var(--hatch) 8px 16px); }
  &[data-landing="before"] { box-shadow: 0 -3px var(--signal); }
  &[data-landing="after"] { box-shadow: 0 3px var(--signal); }
  &[data-folded] { min-height: 34px; padding-top: 5px; padding-bottom: 6px; margin-bottom: 5px; }
  &[data-folded][data-place] { min-height: 48px; }
  &[data-folded] > span:first-child { top: 5px; line-height: 1.4; }
  &[data-listens] { border-color: var(--sea); box-shadow: inset 3px 0 var(--sea); }
`;
/** Folded to its sentence: pressed anywhere it opens. */
export const Opener = styled(Press)`
  position: absolute; inset: 0 0 0 30px; z-index: 1; padding: 0; border: 0; background: none; cursor: pointer;
  &[data-hovered] { background: color-mix(in srgb, var(--sea) 7%, transparent); }
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: -2px; }
`;
export const Sentence = styled.div`
  display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 2; overflow: hidden; line-height: 1.65;
  &[data-short] { -webkit-line-clamp: 1; }
`;
/** The number of an open step. */
export const Fold = styled(Press)`
  display: block; width: 100%; padding: 0 0 4px; border: 0; background: none; color: inherit; font: inherit; cursor: pointer;
  &[data-hovered] { color: var(--ink); }
  &[data-focus-visible] { outline: 2px solid var(--sea); }
`;
export const Place = styled.span`
  position: absolute; left: 4px; width: 26px; top: 10px; text-align: center; color: var(--ink-soft);
`;
export const Meta = styled.div`
  display: flex; flex-wrap: wrap; align-items: center; gap: 2px 12px; color: var(--ink-soft); font-size: 11.5px; line-height: 1.5; margin-top: 2px;
`;
export const Unfolded = styled.div`
  border-top: 1px dashed var(--line); margin-top: 6px; padding-top: 5px;
`;
export const Corner = styled.div`
  float: right; display: flex; gap: 4px; margin: -2px -4px 0 6px;
`;
export const Warning = styled.p`
  border-top: 1px dashed var(--line); margin-top: 6px; padding-top: 5px; line-height: 1.4; color: var(--signal);
`;
/** Marks what takes longest in the whole shot. */
export const Slowest = styled(Press)`
  && {
    min-height: 24px; padding: 0; border: 0; background: none; color: var(--signal); font: inherit; font-weight: 600; cursor: pointer;
    text-decoration: underline; text-underline-offset: 3px;
  }
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: 2px; }
`;
