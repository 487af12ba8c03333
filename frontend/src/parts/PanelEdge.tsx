import { useState } from "react";
import styled from "styled-components";

const STORED = "windsock-recipe-width";
const [NARROWEST, WIDEST, STEP] = [300, 640, 16];

/** How wide the recipe is, in pixels, as it was dragged in this browser; null where it never was. */
function stored(): number | null {
  const told = Number(localStorage.getItem(STORED));
  return told >= NARROWEST && told <= WIDEST ? told : null;
}

export function usePanelWidth(): [number | null, (width: number) => void] {
  const [width, setWidth] = useState(stored);
  const put = (wanted: number) => {
    const fitting = Math.min(WIDEST, Math.max(NARROWEST, Math.round(wanted)));
    localStorage.setItem(STORED, String(fitting));
    setWidth(fitting);
  };
  return [width, put];
}

/** The edge between the recipe and the view: dragged, or moved by arrows (the ARIA pattern of a window splitter). */
export function PanelEdge({ onWidth }: { onWidth: (width: number) => void }) {
  const now = (edge: HTMLElement) => edge.getBoundingClientRect().right;
  return (
    <Edge
      role="separator"
      aria-orientation="vertical"
      aria-label="Width of the recipe"
      aria-valuemin={NARROWEST}
      aria-valuemax={WIDEST}
      aria-valuenow={stored() ?? 376}
      tabIndex={0}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        onWidth(now(event.currentTarget) + by);
      }}
      onPointerDown={(event) => {
        event.preventDefault();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onWidth(event.clientX);
      }}
    />
  );
}

const Edge = styled.div`
  position: absolute; top: 44px; bottom: 0; left: calc(var(--recipe) - 6px); width: 7px; z-index: 3; cursor: col-resize; touch-action: none;
  &:hover, &:focus-visible { border-right: 2px solid var(--sea); outline: none; }
`;
