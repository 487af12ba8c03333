import { Slider, SliderThumb, SliderTrack } from "react-aria-components";
import styled from "styled-components";

/** A line across the view, at a share of its width: dragged, or moved by arrows. */
export function WipeLine({
  label,
  share,
  onChange,
}: {
  label: string;
  share: number;
  onChange: (share: number) => void;
}) {
  return (
    <Line
      aria-label={label}
      minValue={0}
      maxValue={100}
      value={Math.round(share * 100)}
      onChange={(percent) => onChange(Number(percent) / 100)}
    >
      <Track>
        <Handle />
      </Track>
    </Line>
  );
}

const Line = styled(Slider)`position: absolute; inset: 0; pointer-events: none;`;
const Track = styled(SliderTrack)`position: relative; height: 100%; width: 100%;`;
const Handle = styled(SliderThumb)`
  top: 50%; width: 24px; height: 44px; border-radius: 12px; cursor: ew-resize; pointer-events: auto; touch-action: none;
  background: var(--card); border: 1px solid var(--ink-soft);
  &::before { content: ""; position: absolute; left: 10px; top: -2000px; height: 4040px; width: 2px; background: var(--card); box-shadow: 0 0 0 1px rgb(24 37 48 / 0.55); pointer-events: none; }
  &::after { content: ""; position: absolute; inset: 12px 7px; border: solid var(--ink-soft); border-width: 0 1px; }
  &[data-focus-visible] { outline: 2px solid var(--sea); }
`;
