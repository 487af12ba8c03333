import styled from "styled-components";
import type { Reading } from "../api/frames";
import { shown } from "../document/arithmetic";
import { SmallButton } from "../parts/Button";
import { allChosen } from "../parts/chosen";
import { beginDrag, useBand, useEditing, useShot, useValueNow } from "../parts/editing";
import { cividis } from "../view/cividis";
import { bringIntoView } from "../view/framing";

const WIDTH = 316;
const HEIGHT = 42;

/** The field's values on the subject at this frame. The level is dragged by its line, the band by its edges. */
export function Histogram({
  fieldId,
  letter,
  reading,
}: {
  fieldId: string;
  letter: string;
  reading: Reading | "not yet";
}) {
  const editing = useEditing();
  const level = Number(useValueNow(`/fields/${fieldId}/level`));
  const band = useBand(fieldId);
  const inValues = useShot((shot) => shot.fields[fieldId]?.band_in !== "metres");
  const read = reading === "not yet" ? undefined : reading;
  const shares = read?.histogram ?? [];
  const most = Math.max(...shares.map(Math.sqrt), 1e-6);
  const bar = WIDTH / Math.max(shares.length, 1);

  function drag(pointer: string, label: string, value: (x: number) => number, down: React.PointerEvent<SVGElement>) {
    const mark = down.currentTarget;
    const box = (mark.ownerSVGElement ?? mark).getBoundingClientRect();
    const held = beginDrag(editing, pointer);
    let last = Number(held.start);
    mark.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      last = Math.min(1, Math.max(0, value((event.clientX - box.left) / box.width)));
      held.to(Number(last.toFixed(4)));
    };
    const end = () => {
      mark.removeEventListener("pointermove", move);
      mark.removeEventListener("pointerup", end);
      held.keep(`${label} ${shown(last)}`);
    };
    mark.addEventListener("pointermove", move);
    mark.addEventListener("pointerup", end);
  }

  const percent = (share: number | undefined) => `${Math.round((share ?? 0) * 100)} %`;
  const told = read?.coverage;
  return (
    <Frame>
      <svg
        width="100%"
        height={HEIGHT}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Values of ${letter}: ${told ? `${percent(told.inside)} inside, ${percent(told.band)} in the band, ${percent(told.outside)} outside` : "being read"}`}
      >
        {shares.map((share, place) => {
          const height = (Math.sqrt(share) / most) * (HEIGHT - 6);
          return (
            <rect
              key={place}
              x={place * bar + 0.5}
              width={bar - 1}
              y={HEIGHT - height}
              height={height}
              fill={cividis((place + 0.5) / shares.length)}
            />
          );
        })}
        <rect
          x={(level - band / 2) * WIDTH}
          width={band * WIDTH}
          y={0}
          height={HEIGHT}
          fill="var(--sea)"
          fillOpacity={0.16}
        />
        {[-1, 1].map((side) => (
          <line
            key={side}
            x1={(level + (side * band) / 2) * WIDTH}
            x2={(level + (side * band) / 2) * WIDTH}
            y1={0}
            y2={HEIGHT}
            stroke="var(--sea)"
            strokeDasharray="2 3"
          />
        ))}
        <line x1={level * WIDTH} x2={level * WIDTH} y1={0} y2={HEIGHT} stroke="var(--sea)" strokeWidth={2} />
        {(inValues ? [-1, 1] : []).map((side) => (
          <rect
            key={side}
            data-grip={side < 0 ? "band low" : "band high"}
            x={(level + (side * band) / 2) * WIDTH + (side < 0 ? -9 : 1)}
            width={8}
            y={0}
            height={HEIGHT}
            fill="transparent"
            style={{ cursor: "ew-resize", touchAction: "none" }}
            onPointerDown={(down) => drag(`/fields/${fieldId}/band`, "band", (x) => 2 * Math.abs(x - level), down)}
          />
        ))}
        <rect
          data-grip="level"
          x={level * WIDTH - 5}
          width={10}
          y={0}
          height={HEIGHT}
          fill="transparent"
          style={{ cursor: "ew-resize", touchAction: "none" }}
          onPointerDown={(down) => drag(`/fields/${fieldId}/level`, "level", (x) => x, down)}
        />
      </svg>
      <div>
        <span>0</span>
        <span>
          {told ? `${percent(told.inside)} inside, ${percent(told.band)} in the band` : "…"}{" "}
          <SmallButton onPress={() => void bringIntoView(editing, allChosen(editing.session.getState()), fieldId)}>
            Bring it into view
          </SmallButton>
        </span>
        <span>1</span>
      </div>
    </Frame>
  );
}

const Frame = styled.div`
  margin-top: 6px;
  & svg { display: block; background: var(--paper); border-bottom: 1px solid var(--line); }
  & > div { display: flex; justify-content: space-between; font-size: 11.5px; line-height: 21px; color: var(--ink-soft); }
  & button { margin: -2px 0 -1px; }
`;
