import styled from "styled-components";

/** A line over the view that says what the next press does. */
export const PressLine = styled.div`
  position: absolute; left: 50%; top: 52px; transform: translateX(-50%); z-index: 4; display: flex; gap: 12px; align-items: center; padding: 6px 12px;
  background: var(--card); color: var(--ink); border: 1px solid var(--sea); border-radius: 3px; white-space: nowrap;
`;
