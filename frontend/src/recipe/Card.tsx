import { Button as Press } from "react-aria-components";
import styled from "styled-components";

/** A sentence card of the recipe. */
export const Card = styled.section`
  position: relative; padding: 8px 10px 8px 34px; margin-bottom: 8px; line-height: 1.9;
  background: var(--card); border: 1px solid var(--line); border-radius: 3px;
  &[data-off] { opacity: 0.75; border-style: dashed; }
  &[data-undriven] { background: repeating-linear-gradient(135deg, var(--card) 0 8px, var(--hatch) 8px 16px); }
  &[data-landing="before"] { box-shadow: 0 -3px var(--signal); }
  &[data-landing="after"] { box-shadow: 0 3px var(--signal); }
  &[data-listens] { border-color: var(--sea); box-shadow: inset 3px 0 var(--sea); }
`;
export const Place = styled.span`
  position: absolute; left: 4px; width: 26px; top: 10px; text-align: center; color: var(--ink-soft);
`;
export const Meta = styled.div`
  display: flex; flex-wrap: wrap; gap: 2px 12px; color: var(--ink-soft); font-size: 11.5px; line-height: 1.5; margin-top: 2px;
`;
export const Unfolded = styled.div`
  border-top: 1px dashed var(--line); margin-top: 6px; padding-top: 5px;
`;
export const Corner = styled.div`
  position: absolute; right: 6px; top: 6px; display: flex; gap: 4px;
`;
export const Warning = styled.p`
  border-top: 1px dashed var(--line); margin-top: 6px; padding-top: 5px; line-height: 1.4; color: var(--signal);
`;
/** Marks what takes longest in the whole shot. */
export const Slowest = styled(Press)`
  && {
    padding: 0; border: 0; background: none; color: var(--signal); font: inherit; font-weight: 600; cursor: pointer;
    text-decoration: underline; text-underline-offset: 3px;
  }
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: 2px; }
`;
