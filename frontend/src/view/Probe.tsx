import { useEffect, useState } from "react";
import styled from "styled-components";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import { useEditing } from "../parts/editing";

type Found = { x: number; y: number; letter: string; name: string; lines: string[] };

/** What the field is under the pointer, and how it came about, clause by clause. */
export function Probe({ canvas }: { canvas: React.RefObject<HTMLCanvasElement | null> }) {
  const editing = useEditing();
  const [found, setFound] = useState<Found | null>(null);

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let pointer: { x: number; y: number } | null = null;
    let busy = false;

    async function look() {
      if (busy || !pointer) return;
      busy = true;
      const at = pointer;
      const result = await probe(at).catch(() => null);
      busy = false;
      if (pointer) setFound(result);
      if (pointer && pointer !== at) void look();
    }

    async function probe(at: { x: number; y: number }): Promise<Found | null> {
      if (!element) return null;
      const box = element.getBoundingClientRect();
      const hit = editing.stage.current?.pick((at.x / box.width) * 2 - 1, 1 - (at.y / box.height) * 2);
      const { shot, revision, unsaved, id } = editing.documents.getState();
      const { field, frame, playing } = editing.session.getState();
      const told = field ? shot.fields[field] : undefined;
      if (!hit || !told || !field || playing) return null;
      const body = { revision, patch: unsaved(), frame, field, item: hit.item, place: hit.place, part: hit.part };
      const answer = await answered(
        api.POST("/api/shots/{shot_id}/probe", { params: { path: { shot_id: id } }, body }),
      );
      return { ...at, letter: told.letter, name: told.name, lines: explain(answer, told.sources) };
    }

    const move = (event: PointerEvent) => {
      if (event.buttons !== 0) return leave();
      const box = element.getBoundingClientRect();
      pointer = { x: event.clientX - box.left, y: event.clientY - box.top };
      void look();
    };
    const leave = () => {
      pointer = null;
      setFound(null);
    };
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerleave", leave);
    return () => {
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerleave", leave);
    };
  }, [canvas, editing]);

  if (!found) return null;
  const width = canvas.current?.clientWidth ?? 800;
  return (
    <Tip role="tooltip" style={{ left: Math.min(found.x + 16, width - 240), top: Math.max(44, found.y - 20) }}>
      <b>
        {found.letter} {found.name} {found.lines[0]}
      </b>
      {found.lines.slice(1).map((line) => (
        <span key={line}>{line}</span>
      ))}
    </Tip>
  );
}

type Sources = components["schemas"]["Field"]["sources"];

function explain(answer: components["schemas"]["Probe"], sources: Sources): string[] {
  const clauses = answer.clauses.map(({ source, value, result }, place) => {
    const told = sources[source];
    const word = place > 0 && told ? `${told.word} ` : "";
    const not = told?.inverted ? "not " : "";
    return `${word}${not}${told?.kind ?? source} ${value.toFixed(2)}${place > 0 ? `: ${result.toFixed(2)}` : ""}`;
  });
  const state = answer.inside >= 1 ? "inside" : answer.inside > 0 ? "in the band" : "not inside";
  const named = answer.named ? [`at the middle of ${answer.named}`] : [];
  return [answer.value.toFixed(2), ...named, ...clauses, `level ${answer.level.toFixed(2)}: ${state}`];
}

const Tip = styled.div`
  position: absolute; z-index: 5; display: grid; gap: 1px; padding: 7px 10px; pointer-events: none; font-size: 12px; line-height: 1.5;
  background: #182530; color: #fff; border-radius: 3px; white-space: nowrap;
`;
