import styled from "styled-components";

/** What a thing of an ordered list is dragged by. By keyboard the same is done with the commands beside it. */
export function Grip({ label, onGrab }: { label: string; onGrab: (down: React.PointerEvent<HTMLElement>) => void }) {
  return (
    <Handle aria-hidden="true" title={label} data-grip onPointerDown={onGrab}>
      <svg width="7" height="12" viewBox="0 0 7 12" aria-hidden="true">
        <path d="M1 2h5M1 6h5M1 10h5" stroke="currentColor" strokeWidth="1.4" />
      </svg>
    </Handle>
  );
}

const Handle = styled.span`
  display: inline-block; padding: 2px 3px; cursor: grab; touch-action: none; color: var(--ink-soft); vertical-align: -1px;
  &:hover { color: var(--sea); }
`;
