import { useLayoutEffect, useRef, useState } from "react";
import { Dialog, Popover } from "react-aria-components";
import styled from "styled-components";
import { readNumber, shown, told } from "../document/arithmetic";
import { change } from "../document/changing";
import { at, isKeyed, keyOn } from "../document/parameter";
import type { Quantity } from "../document/quantities";
import { Button } from "./Button";
import { Curve } from "./Curve";
import { beginDrag, putValue, useEditing, useSession, useShot, useValueNow } from "./editing";
import { LastSettings } from "./LastSettings";

type Props = {
  pointer: string;
  quantity: Quantity;
  label: string;
  /** Which component of a vector this is. */
  axis?: 0 | 1 | 2;
  tone?: "field";
  /** Whether the value may change over time. */
  keyable?: boolean;
};

/** A number of a sentence: drag sideways to change it, click to type it, arrows to nudge it, keys behind it. */
export function NumberValue({ pointer, quantity, label, axis, tone, keyable = true }: Props) {
  const editing = useEditing();
  const now = useValueNow(pointer);
  const parameter = useShot((shot) => at(shot, pointer));
  const keyedHere = useSession(({ frame }) => isKeyed(parameter) && keyOn(parameter, frame) !== undefined);
  const [open, setOpen] = useState(false);
  const anchor = useRef<HTMLButtonElement>(null);
  const nudge = useRef<{ drag: ReturnType<typeof beginDrag>; value: number; timer: number } | null>(null);
  const component = (value: number | number[]) => (typeof value === "number" ? value : (value[axis ?? 0] ?? 0));
  const whole = (value: number): number | number[] =>
    typeof now === "number" ? value : now.map((old, place) => (place === axis ? value : old));
  const fit = (value: number) => {
    const bounded = Math.min(quantity.high, Math.max(quantity.low, value));
    return quantity.whole ? Math.round(bounded) : Number(bounded.toPrecision(6));
  };
  const text = `${told(component(now), quantity.whole)}${quantity.unit ? ` ${quantity.unit}` : ""}`;
  const keyed = isKeyed(parameter);

  function startDrag(down: React.PointerEvent<HTMLButtonElement>) {
    if (down.button !== 0) return;
    const button = down.currentTarget;
    const drag = beginDrag(editing, pointer);
    const from = component(drag.start);
    let moved = false;
    let last = from;
    button.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      const pixels = event.clientX - down.clientX;
      if (!moved && Math.abs(pixels) < 4) return;
      moved = true;
      last = fit(from + pixels * quantity.drag * (event.shiftKey ? 0.1 : 1));
      drag.to(whole(last));
    };
    const end = (event: PointerEvent) => {
      button.removeEventListener("pointermove", move);
      button.removeEventListener("pointerup", end);
      button.removeEventListener("pointercancel", end);
      if (!moved) setOpen(true);
      else if (event.type === "pointerup") drag.keep(`${label} ${shown(last, quantity.whole)}`);
      else drag.drop();
    };
    button.addEventListener("pointermove", move);
    button.addEventListener("pointerup", end);
    button.addEventListener("pointercancel", end);
  }

  function onKey(event: React.KeyboardEvent) {
    const direction = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      event.stopPropagation();
      setOpen(true);
    }
    if (direction === 0) return;
    event.preventDefault();
    const held = nudge.current ?? { drag: beginDrag(editing, pointer), value: component(now), timer: 0 };
    nudge.current = held;
    const step = quantity.whole ? 1 : quantity.drag * 10 * (event.shiftKey ? 0.1 : 1);
    held.value = fit(held.value + direction * step);
    held.drag.to(whole(held.value));
    window.clearTimeout(held.timer);
    held.timer = window.setTimeout(() => {
      held.drag.keep(`${label} ${shown(held.value, quantity.whole)}`);
      nudge.current = null;
    }, 500);
  }

  return (
    <>
      <Value
        ref={anchor}
        type="button"
        data-tone={tone}
        data-pointer={axis === undefined ? pointer : `${pointer}#${axis}`}
        data-called={label}
        aria-haspopup="dialog"
        aria-label={`${label} ${text}${keyed ? (keyedHere ? ", keyed here" : ", keyed") : ""}`}
        title={`${quantity.says}. Drag sideways, or click to type.`}
        onPointerDown={startDrag}
        onKeyDown={onKey}
      >
        {text}
        {keyed && <Stem data-here={keyedHere || undefined} />}
      </Value>
      <Popover triggerRef={anchor} isOpen={open} onOpenChange={setOpen} placement="bottom start">
        <Sheet aria-label={label}>
          <ValueSheet {...{ pointer, quantity, label, keyable }} axis={axis ?? null} close={() => setOpen(false)} />
        </Sheet>
      </Popover>
    </>
  );
}

type SheetProps = {
  pointer: string;
  quantity: Quantity;
  label: string;
  keyable: boolean;
  axis: number | null;
  close: () => void;
};

function ValueSheet({ pointer, quantity, label, keyable, axis, close }: SheetProps) {
  const editing = useEditing();
  const now = useValueNow(pointer);
  const parameter = useShot((shot) => at(shot, pointer));
  const frame = useSession((session) => session.frame);
  const wholeCurve = useSession((session) => session.wholeCurve);
  const value = typeof now === "number" ? now : (now[axis ?? 0] ?? 0);
  const [text, setText] = useState(shown(value, quantity.whole));
  const [wrong, setWrong] = useState("");
  const input = useRef<HTMLInputElement>(null);
  // As it is laid out, so that what is typed at once goes into it.
  useLayoutEffect(() => {
    input.current?.focus({ preventScroll: true });
    input.current?.select();
  }, []);
  const keyHere = isKeyed(parameter) ? keyOn(parameter, frame) : undefined;

  function keep() {
    const typed = readNumber(text, quantity.unit);
    if (typed === null) return setWrong("This is not a number. Nothing was changed. Type one, such as 0.4 or 2 * 0.3.");
    if (typed < quantity.low || typed > quantity.high) {
      return setWrong(
        `It must lie between ${quantity.low} and ${quantity.high} ${quantity.unit}. Nothing was changed.`,
      );
    }
    const fitted = quantity.whole ? Math.round(typed) : typed;
    const next = typeof now === "number" ? fitted : now.map((old, place) => (place === axis ? fitted : old));
    putValue(editing, pointer, next, `${label} ${shown(fitted, quantity.whole)}`);
    close();
  }

  return (
    <>
      <p>{quantity.says}</p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <Input
          ref={input}
          aria-label={label}
          aria-invalid={wrong !== ""}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <span>{quantity.unit}</span>
        <Button type="submit">Keep</Button>
      </form>
      <LastSettings {...{ pointer, quantity, label, axis }} />
      {wrong && <Wrong role="alert">{wrong}</Wrong>}
      {keyable && (
        <div>
          {keyHere ? (
            <Button
              onPress={() =>
                void change(
                  editing,
                  { kind: "remove_key", at: pointer, key: keyHere },
                  { label: `no key of ${label} at ${frame}` },
                )
              }
            >
              Remove this key
            </Button>
          ) : (
            <Button
              onPress={() =>
                void change(editing, { kind: "set_key", at: pointer }, { label: `key of ${label} at ${frame}` })
              }
            >
              Key at {frame}
            </Button>
          )}
          {isKeyed(parameter) && (
            <label>
              <input
                type="checkbox"
                checked={wholeCurve}
                onChange={(event) => editing.session.setState({ wholeCurve: event.target.checked })}
              />
              Change the whole curve
            </label>
          )}
        </div>
      )}
      {isKeyed(parameter) && <Curve pointer={pointer} keyed={parameter} axis={axis} label={label} />}
    </>
  );
}

const Value = styled.button`
  display: inline; padding: 0 2px; margin: 0; border: 0; border-bottom: 1.5px solid var(--ink); background: none; border-radius: 0;
  font-weight: 600; white-space: nowrap; cursor: ew-resize; touch-action: none; user-select: none;
  &[data-tone="field"] { color: var(--sea); border-color: var(--sea); }
  &:hover { background: var(--sea-wash); }
`;
const Stem = styled.span`
  display: inline-block; width: 6px; height: 10px; margin-left: 3px; position: relative;
  &::before { content: ""; position: absolute; left: 2px; top: 3px; bottom: 0; width: 2px; background: currentColor; }
  &::after { content: ""; position: absolute; left: 0; top: 0; width: 6px; height: 4px; border: 1px solid currentColor; }
  &[data-here]::after { background: currentColor; }
`;
const Sheet = styled(Dialog)`
  display: grid; gap: 8px; width: 300px; padding: 10px; outline: none; background: var(--card); color: var(--ink);
  border: 1px solid var(--ink-soft); border-radius: 3px;
  & p { color: var(--ink-soft); }
  & form, & > div { display: flex; gap: 8px; align-items: center; flex-wrap: wrap; }
  & label { display: inline-flex; gap: 4px; align-items: center; }
`;
const Input = styled.input`
  width: 110px; padding: 4px 6px; background: var(--paper); border: 1px solid var(--line); border-radius: 3px; font-weight: 600;
`;
const Wrong = styled.p`&& { color: var(--signal); }`;
