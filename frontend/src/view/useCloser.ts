import { useEffect } from "react";
import { useEditing } from "../parts/editing";
import { closerAt, STEP, slid } from "./closer";

/** Brings what the shot's camera sees closer by the wheel, and moves it along by a drag beside the handles. */
export function useCloser(canvas: React.RefObject<HTMLCanvasElement | null>): void {
  const { session, stage } = useEditing();
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let last: { x: number; y: number } | null = null;
    const looking = () => session.getState().through === "camera" && stage.current?.freely === false;

    const wheel = (event: WheelEvent) => {
      if (!looking()) return;
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const [x, y] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
      const times = STEP ** (-Math.sign(event.deltaY) * Math.min(1, Math.abs(event.deltaY) / 100));
      session.setState(({ closer }) => ({ closer: closerAt(closer, times, x, y) }));
    };
    const grab = (event: PointerEvent) => {
      if (!looking() || session.getState().closer.zoom === 1 || event.button > 1) return;
      last = { x: event.clientX, y: event.clientY };
      element.setPointerCapture(event.pointerId);
    };
    const drag = (event: PointerEvent) => {
      if (!last) return;
      const box = element.getBoundingClientRect();
      const [x, y] = [(event.clientX - last.x) / box.width, (event.clientY - last.y) / box.height];
      last = { x: event.clientX, y: event.clientY };
      session.setState(({ closer }) => ({ closer: slid(closer, x, y) }));
    };
    const release = () => {
      last = null;
    };
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", grab);
    element.addEventListener("pointermove", drag);
    element.addEventListener("pointerup", release);
    element.addEventListener("pointercancel", release);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", grab);
      element.removeEventListener("pointermove", drag);
      element.removeEventListener("pointerup", release);
      element.removeEventListener("pointercancel", release);
    };
  }, [canvas, session, stage]);
}

const SLIDE = 0.1;

/** Arrows move what is looked at closely along, plus and minus bring it closer and away. */
export function closerByKey(editing: ReturnType<typeof useEditing>, event: React.KeyboardEvent): void {
  if (event.target !== event.currentTarget) return;
  const { session } = editing;
  const { closer } = session.getState();
  const [x, y] = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key] ?? [];
  const times = { "+": STEP, "=": STEP, "-": 1 / STEP }[event.key];
  if (x !== undefined && y !== undefined) session.setState({ closer: slid(closer, SLIDE * x, SLIDE * y) });
  else if (times) session.setState({ closer: closerAt(closer, times) });
  else return;
  event.preventDefault();
}
