import { Pause, Play, Repeat, SkipBack, SkipForward } from "lucide-react";
import { useState } from "react";
import styled from "styled-components";
import { Button, IconButton } from "../parts/Button";
import { CommandMenu } from "../parts/Choice";
import { useEditing, useSession, useShot } from "../parts/editing";
import { aroundHere } from "../view/playing";

const LOOPS = { loop: "over and over", "there and back": "there and back", once: "once" } as const;

/** Playing: the way, how often and which frames; the frame in view; how fast it really goes. */
export function Transport() {
  const { session } = useEditing();
  const { playing, frame, speed, sharpness, direction, loop, range } = useSession((state) => state);
  const frames = useShot((shot) => shot.frames);
  const rate = useShot((shot) => shot.rate);
  const fps = rate.numerator / rate.denominator;
  const [text, setText] = useState<string | null>(null);
  const go = (to: number) =>
    session.setState({ frame: Math.min(frames.last, Math.max(frames.first, to)), playing: false });
  const play = (way: 1 | -1) =>
    session.setState(playing && direction === way ? { playing: false } : { playing: true, direction: way });
  const backward = playing && direction < 0;
  const onward = playing && direction > 0;
  return (
    <Bar>
      <IconButton aria-label="First frame" onPress={() => go(frames.first)}>
        <SkipBack size={14} />
      </IconButton>
      <IconButton aria-label={backward ? "Pause" : "Play backward"} onPress={() => play(-1)}>
        {backward ? <Pause size={14} /> : <Play size={14} style={{ transform: "scaleX(-1)" }} />}
      </IconButton>
      <PlayButton aria-label={onward ? "Pause" : "Play"} onPress={() => play(1)}>
        {onward ? <Pause size={15} /> : <Play size={15} />}
      </PlayButton>
      <IconButton aria-label="Last frame" onPress={() => go(frames.last)}>
        <SkipForward size={14} />
      </IconButton>
      <FrameBox
        aria-label="Frame"
        value={text ?? String(Math.round(frame * 100) / 100)}
        onFocus={(event) => {
          setText(String(frame));
          event.target.select();
        }}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => {
          const typed = Number(text);
          if (text !== null && text.trim() !== "" && Number.isFinite(typed)) go(typed);
          setText(null);
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <Soft>
        of {frames.first}–{frames.last} · {Number(fps.toFixed(3))} fps
        {speed !== null && (
          <span data-speed={speed}>
            {" "}
            · playing {speed > 0 ? speed.toFixed(1) : "…"}
            {sharpness < 1 && " · drawn coarser to keep up"}
          </span>
        )}
      </Soft>
      <Space />
      {range ? (
        <Button onPress={() => session.setState({ range: null })}>
          Playing {range.first}–{range.last}: play all
        </Button>
      ) : (
        <Button onPress={() => session.setState({ range: aroundHere(Math.round(frame), fps, frames) })}>
          Around here
        </Button>
      )}
      <CommandMenu
        label="How often"
        commands={(Object.keys(LOOPS) as (keyof typeof LOOPS)[]).map(
          (name) => [`Play ${LOOPS[name]}`, () => session.setState({ loop: name })] as const,
        )}
      >
        <Button aria-label={`Plays ${LOOPS[loop]}`}>
          <Repeat size={13} /> {LOOPS[loop]}
        </Button>
      </CommandMenu>
    </Bar>
  );
}

const Bar = styled.div`
  display: flex; gap: 6px; align-items: center; height: 40px; position: sticky; top: 0; background: var(--card); z-index: 3;
`;
const PlayButton = styled(IconButton)`
  && { background: var(--ink); color: var(--card); border-color: var(--ink); min-width: 34px; }
`;
const FrameBox = styled.input`
  width: 56px; margin-left: 6px; padding: 3px 6px; font-weight: 600; font-size: 15px; background: none; border: 1px solid transparent; border-radius: 3px;
  &:hover, &:focus { border-color: var(--line); background: var(--paper); }
`;
const Soft = styled.span`color: var(--ink-soft); white-space: nowrap; overflow: hidden; text-overflow: ellipsis;`;
const Space = styled.span`flex: 1;`;
