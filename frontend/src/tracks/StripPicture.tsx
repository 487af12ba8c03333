import styled from "styled-components";
import type { Strip } from "./coverage";

/** Inside solid at the foot, the band dotted above it, outside hollow. While a value is dragged: before above, after below. */
export function StripPicture({ strip, before, letter }: { strip: Strip | null; before: Strip | null; letter: string }) {
  if (!strip) return <Blank>measuring …</Blank>;
  const width = Math.max(1, strip.length - 1);
  const told = strip.map(([inside]) => inside ?? 0);
  const label = `Coverage of ${letter}: from ${percent(told[0])} inside at the start to ${percent(told.at(-1))} at the end`;
  return (
    <svg viewBox={`0 0 ${width} 100`} preserveAspectRatio="none" role="img" aria-label={label}>
      <defs>
        <pattern id={`band-${letter}`} width={width / 120} height={14} patternUnits="userSpaceOnUse">
          <rect width="100%" height={14} fill="var(--sea)" fillOpacity={0.35} />
          <rect width="50%" height={7} fill="var(--sea)" fillOpacity={0.75} />
        </pattern>
      </defs>
      <rect width={width} height={100} fill="var(--outside)" />
      {before ? (
        <>
          <Areas strip={before} foot={49} room={49} letter={letter} />
          <line
            x1={0}
            x2={width}
            y1={50}
            y2={50}
            stroke="var(--card)"
            strokeWidth={4}
            vectorEffect="non-scaling-stroke"
          />
          <Areas strip={strip} foot={100} room={49} letter={letter} />
        </>
      ) : (
        <Areas strip={strip} foot={100} room={100} letter={letter} />
      )}
    </svg>
  );
}

function Areas({ strip, foot, room, letter }: { strip: Strip; foot: number; room: number; letter: string }) {
  const y = (share: number) => foot - share * room;
  const inside = strip.map(([value = 0], at) => `${at} ${y(value)}`);
  const band = strip.map(([value = 0, more = 0], at) => `${at} ${y(value + more)}`);
  const end = strip.length - 1;
  return (
    <>
      <path d={`M${band.join("L")}L${[...inside].reverse().join("L")}Z`} fill={`url(#band-${letter})`} />
      <path d={`M0 ${foot}L${inside.join("L")}L${end} ${foot}Z`} fill="var(--sea)" />
    </>
  );
}

function percent(share: number | undefined): string {
  return `${Math.round((share ?? 0) * 100)} %`;
}

const Blank = styled.span`
  position: absolute; inset: 3px 0; background: var(--outside); color: var(--ink-soft); font-size: 11.5px; padding-left: 6px;
`;
