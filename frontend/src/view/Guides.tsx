import styled from "styled-components";
import { useSession } from "../parts/editing";
import { useAids } from "./aids";
import { partSeen } from "./closer";
import type { Stage } from "./stage";

/** The frame of the picture, its thirds and its safe areas, over what the shot's camera sees. */
export function Guides({ stage, aspect }: { stage: Stage; aspect: number }) {
  const on = useAids((state) => state.on);
  const closer = useSession((state) => state.closer);
  const through = useSession((state) => state.through);
  if (through === "free" || !["frame", "thirds", "safe"].some((aid) => on.has(aid as "frame"))) return null;
  const { clientWidth: width, clientHeight: height } = stage.renderer.domElement;
  const w = Math.min(width, height * aspect);
  const h = w / aspect;
  const [x, y] = [(width - w) / 2, (height - h) / 2];
  const inset = (share: number) => {
    const [a, b] = [w * share, h * share];
    return `M${(width - a) / 2} ${(height - b) / 2}h${a}v${b}h${-a}Z`;
  };
  const thirds = [1, 2].map((part) => `M${x + (w * part) / 3} ${y}v${h}M${x} ${y + (h * part) / 3}h${w}`).join("");
  // Safe areas of SMPTE ST 2046-1, from memory: 93 % for action, 90 % for titles.
  const lines = [
    on.has("frame") && inset(1),
    on.has("thirds") && thirds,
    on.has("safe") && inset(0.93) + inset(0.9),
  ].filter(Boolean) as string[];
  const [left, top] = partSeen(closer);
  const close = `scale(${closer.zoom}) translate(${-width * left} ${-height * top})`;
  return (
    <Overlay data-guides={lines.length}>
      <g transform={close}>
        {on.has("frame") && (
          <path
            d={`M0 0H${width}V${height}H0ZM${x} ${y}v${h}h${w}v${-h}Z`}
            fill="#182530"
            fillOpacity={0.45}
            fillRule="evenodd"
          />
        )}
        {lines.map((line) => (
          <g key={line} fill="none">
            <path d={line} stroke="#182530" strokeOpacity={0.5} strokeWidth={2.5} vectorEffect="non-scaling-stroke" />
            <path d={line} stroke="#FBFAF5" strokeWidth={1} vectorEffect="non-scaling-stroke" />
          </g>
        ))}
      </g>
    </Overlay>
  );
}

const Overlay = styled.svg`position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none;`;
