import styled from "styled-components";

/** The letter of a field. */
export const Letter = styled.span`
  display: inline-grid; place-items: center; min-width: 20px; height: 20px; padding: 0 3px; line-height: 1; vertical-align: 1px;
  border: 1.5px solid var(--sea); border-radius: 3px; color: var(--sea); font-weight: 600;
  &[data-chosen] { background: var(--sea); color: var(--card); }
`;
