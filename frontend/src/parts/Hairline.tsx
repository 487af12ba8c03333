import styled, { keyframes } from "styled-components";

const wind = keyframes`to { background-position: 17px 0; }`;

/** A striped hairline: something is in progress. */
export function Hairline({ label }: { label: string }) {
  return <Line role="progressbar" aria-label={label} />;
}

const Line = styled.div`
  height: 4px; border-radius: 2px;
  background: repeating-linear-gradient(115deg, var(--signal) 0 6px, var(--card) 6px 12px) 0 0 / 17px 100%;
  animation: ${wind} 700ms linear infinite;
`;
