import styled from "styled-components";
import { useBand, useSession, useShot, useValueNow } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { cividis } from "./cividis";

/** What the colours of a reading mean. */
export function Legend() {
  const reading = useSession((state) => state.reading);
  const field = useSession((state) => state.field);
  const chosen = useSession((state) => state.chosen);
  const told = useShot((shot) => (field ? shot.fields[field] : undefined));
  const item = useShot((shot) => (chosen ? shot.items[chosen] : undefined));
  const edge = useSession((state) => state.manifest?.shapes.find((one) => one.item === chosen)?.median_edge);
  if (item?.kind !== "shape") return <Box>Choose a shape to read it.</Box>;
  if (reading === "mesh") {
    return (
      <Box>
        {told && field ? (
          <MeshKey letter={told.letter} />
        ) : (
          <span>Add a field to compare the faces with its band.</span>
        )}
        <span>median edge {edge?.toPrecision(2)} m</span>
      </Box>
    );
  }
  return (
    <Box>
      {told && field ? (
        <HeatKey field={field} letter={told.letter} />
      ) : (
        <span>No field to see yet. Add a step that a field drives.</span>
      )}
    </Box>
  );
}

function HeatKey({ field, letter }: { field: string; letter: string }) {
  const level = Number(useValueNow(`/fields/${field}/level`));
  const band = useBand(field);
  const width = 160;
  return (
    <>
      <Letter>{letter}</Letter>
      <span>0</span>
      <svg width={width} height={14} role="img" aria-label={`Colours from 0 to 1, level ${level.toFixed(2)}`}>
        {Array.from({ length: 40 }, (_, place) => (
          <rect key={place} x={(place * width) / 40} width={width / 40 + 0.5} height={14} fill={cividis(place / 39)} />
        ))}
        {[level - band / 2, level + band / 2].map((value) => (
          <line key={value} x1={value * width} x2={value * width} y1={0} y2={14} stroke="#fff" strokeWidth={2} />
        ))}
      </svg>
      <span>1</span>
      <span>white: the band’s edges</span>
    </>
  );
}

function MeshKey({ letter }: { letter: string }) {
  return (
    <>
      <span>
        One face spans of <Letter>{letter}</Letter>’s band:
      </span>
      <Swatch style={{ background: "#CCD1CF" }} /> <span>under a quarter</span>
      <Swatch style={{ background: "#F2CC8C" }} /> <span>under all</span>
      <Swatch style={{ background: "repeating-linear-gradient(135deg, #C7420A 0 4px, #F7EDD9 4px 7px)" }} />{" "}
      <span>more: too coarse</span>
    </>
  );
}

const Box = styled.div`
  position: absolute; right: 12px; bottom: 12px; display: flex; flex-wrap: wrap; gap: 6px; align-items: center; max-width: calc(100% - 24px);
  padding: 5px 8px; background: var(--card); border: 1px solid var(--line); border-radius: 3px; font-size: 12px;
`;
const Swatch = styled.i`
  width: 16px; height: 12px; border: 1px solid var(--ink-soft); border-radius: 2px;
`;
