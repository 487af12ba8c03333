import type { HTMLAttributes } from "react";
import styled from "styled-components";

/** What a thing of an ordered list is dragged by. */
export function Grip({ label, ...dragging }: { label: string } & HTMLAttributes<HTMLElement>) {
  return (
    <Handle role="button" tabIndex={0} aria-label={label} title={label} data-grip {...dragging}>
      <svg width="7" height="12" viewBox="0 0 7 12" aria-hidden="true">
        <path d="M1 2h5M1 6h5M1 10h5" stroke="currentColor" strokeWidth="1.4" />
      </svg>
    </Handle>
  );
}

const Handle = styled.span`
  display: inline-grid; place-items: center; width: 24px; height: 24px; margin: -4px 0; cursor: grab; touch-action: none; color: var(--ink-soft); vertical-align: middle;
  &:hover { color: var(--sea); }
`;
