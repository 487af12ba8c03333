import { useQuery } from "@tanstack/react-query";
import styled from "styled-components";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import { Check } from "../parts/Check";

type Asset = components["schemas"]["AssetSummary"];
type Corner = [number, number, number];

/** What can be mended in an imported mesh, and the one press that does. */
export function Flaws({ asset, mend, setMend }: { asset: Asset; mend: boolean; setMend: (mend: boolean) => void }) {
  const { no_area: flat, doubled, turned } = asset.flaws;
  const found = [
    flat ? `${flat.toLocaleString("en")} faces have no area` : "",
    doubled ? `${doubled.toLocaleString("en")} are there twice` : "",
    turned ? `${turned.toLocaleString("en")} look the wrong way` : "",
  ].filter(Boolean);
  if (found.length === 0) return null;
  return (
    <p>
      {found.join(", ")}.{" "}
      <Check isSelected={mend} onChange={setMend}>
        Mend it: the file stays as it is
      </Check>
    </p>
  );
}

const HIGH = 84;

/** The size of what is imported beside a person of 1.75 m and the ground, so that a wrong unit or axis is seen. */
export function Standing({ size: [low, high] }: { size: [Corner, Corner] }) {
  const [wide = 1e-6, tall = 1e-6, deep = 1e-6] = high.map((value, axis) => Math.max(value - (low[axis] ?? 0), 1e-6));
  // The box is drawn aslant: its depth goes 2/5 aside and 1/5 up.
  const unit = Math.min((HIGH - 10) / Math.max(tall + deep * 0.2, 1.75), 200 / Math.max(wide + deep * 0.4, 0.6));
  const [w, t, d] = [wide * unit, tall * unit, deep * unit * 0.4];
  const ground = HIGH - 4;
  const person = 1.75 * unit;
  return (
    <Picture
      width="100%"
      height={HIGH}
      viewBox={`-130 0 300 ${HIGH}`}
      role="img"
      aria-label={`A box of its size beside a person of 1.75 m`}
    >
      <line x1={-130} x2={170} y1={ground} y2={ground} stroke="var(--ink-soft)" />
      <g fill="none" stroke="var(--sea)" strokeWidth={1.4} strokeLinejoin="round">
        <rect x={-w / 2} y={ground - t} width={w} height={t} fill="var(--sea-wash)" />
        <path
          d={`M${-w / 2} ${ground - t}l${d} ${-d / 2}h${w}l${-d} ${d / 2}M${w / 2} ${ground}l${d} ${-d / 2}v${-t}`}
        />
      </g>
      <g stroke="var(--ink)" strokeWidth={Math.min(2, Math.max(0.5, person / 30))} fill="none" strokeLinecap="round">
        <circle cx={w / 2 + d + 24} cy={ground - person * 0.92} r={person * 0.07} fill="var(--ink)" />
        <path
          d={`M${w / 2 + d + 24} ${ground - person * 0.84}v${person * 0.4}l${-person * 0.09} ${person * 0.44}m${person * 0.09} ${-person * 0.44}l${person * 0.09} ${person * 0.44}M${w / 2 + d + 24 - person * 0.14} ${ground - person * 0.6}h${person * 0.28}`}
        />
      </g>
    </Picture>
  );
}

/** The outlines of a drawing. */
export function Outline({ asset }: { asset: Asset }) {
  const { data } = useQuery({
    queryKey: ["lines", asset.hash],
    queryFn: () =>
      answered(
        api.GET("/api/assets/{asset_hash}/lines", {
          params: { path: { asset_hash: asset.hash }, query: { height: 100 } },
        }),
      ),
  });
  const paths = (data?.lines ?? []).map(({ points, closed }) => {
    const spot = ([x = 0, y = 0]: number[]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`;
    const sum = (place: number[], handle: number[] | null) => place.map((value, axis) => value + (handle?.[axis] ?? 0));
    const all = closed ? [...points, ...points.slice(0, 1)] : points;
    return all
      .map((point, place) => {
        const last = all[place - 1];
        if (!last) return `M${spot(point.place)}`;
        return `C${spot(sum(last.place, last.after))} ${spot(sum(point.place, point.before))} ${spot(point.place)}`;
      })
      .join("");
  });
  return (
    <Picture width="100%" height={120} viewBox="-150 -54 300 108" role="img" aria-label="Outlines of the drawing">
      {paths.map((path) => (
        <path key={path} d={path} fill="var(--sea-wash)" fillRule="evenodd" stroke="var(--sea)" strokeWidth={1} />
      ))}
    </Picture>
  );
}

const Picture = styled.svg`background: var(--paper); border: 1px solid var(--line); border-radius: 3px;`;
