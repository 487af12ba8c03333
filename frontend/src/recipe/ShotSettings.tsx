import { useState } from "react";
import { Dialog, DialogTrigger, Heading, Popover } from "react-aria-components";
import styled from "styled-components";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useCommit, useEditing, useSession, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { usePanel } from "../parts/usePanel";

const RATES = [
  ["24/1", "24"],
  ["25/1", "25"],
  ["30/1", "30"],
  ["60/1", "60"],
  ["24000/1001", "23.976"],
  ["30000/1001", "29.97"],
] as const;

const SIZES = [
  ["1280x720", "16:9, 1280 by 720"],
  ["1920x1080", "16:9, 1920 by 1080"],
  ["3840x2160", "16:9, 3840 by 2160"],
  ["1080x1080", "1:1, 1080 by 1080"],
  ["1080x1350", "4:5, 1080 by 1350"],
  ["1080x1920", "9:16, 1080 by 1920"],
  ["2048x858", "2.39:1, 2048 by 858"],
  ["", "a size of its own"],
] as const;

/** What belongs to the shot as a whole. The child is the button that opens it. */
export function ShotSettings({ children }: { children: React.ReactNode }) {
  return (
    <DialogTrigger {...usePanel("settings")}>
      {children}
      <Popover placement="bottom start">
        <Sheet>
          <Settings />
        </Sheet>
      </Popover>
    </DialogTrigger>
  );
}

function Settings() {
  const editing = useEditing();
  const commit = useCommit();
  const name = useShot((shot) => shot.name);
  const rate = useShot((shot) => `${shot.rate.numerator}/${shot.rate.denominator}`);
  const frame = useSession((session) => session.frame);
  const opening = useShot((shot) => shot.opening_frame);
  const shape = useShot(({ picture }) => `${picture.width}x${picture.height}`);
  const [text, setText] = useState(name);
  const rates = RATES.some(([value]) => value === rate) ? RATES : [...RATES, [rate, rate] as const];
  const keepName = () => {
    const told = text.trim();
    if (told && told !== name) commit(`name ${told}`, [{ op: "replace", path: "/name", value: told }]);
  };
  return (
    <>
      <Heading slot="title">The shot</Heading>
      <input
        aria-label="Name of the shot"
        maxLength={80}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={keepName}
        onKeyDown={(event) => event.key === "Enter" && keepName()}
      />
      <div>
        Frames{" "}
        <NumberValue
          pointer="/frames/first"
          quantity={quantity("FrameRange", "first")}
          label="First frame"
          keyable={false}
        />{" "}
        to{" "}
        <NumberValue
          pointer="/frames/last"
          quantity={quantity("FrameRange", "last")}
          label="Last frame"
          keyable={false}
        />{" "}
        at{" "}
        <Choice
          label="Frames per second"
          value={rate}
          options={rates}
          onChoose={(chosen) => {
            const [numerator = 24, denominator = 1] = chosen.split("/").map(Number);
            void change(editing, { kind: "change_rate", numerator, denominator });
          }}
        />{" "}
        a second. Keys keep their seconds when the rate changes.
      </div>
      <div>
        Picture{" "}
        <NumberValue
          pointer="/picture/width"
          quantity={quantity("PictureSize", "width")}
          label="Width"
          keyable={false}
        />{" "}
        by{" "}
        <NumberValue
          pointer="/picture/height"
          quantity={quantity("PictureSize", "height")}
          label="Height"
          keyable={false}
        />
        , or{" "}
        <Choice
          label="Shape of the picture"
          value={SIZES.find(([size]) => size === shape)?.[0] ?? ""}
          options={SIZES}
          onChoose={(size) => {
            const [width = 1280, height = 720] = size.split("x").map(Number);
            if (size) commit(`picture ${size}`, [{ op: "replace", path: "/picture", value: { width, height } }]);
          }}
        />
      </div>
      <div>
        Opens on frame <b>{opening}</b>{" "}
        <SmallButton
          isDisabled={opening === frame}
          onPress={() => commit(`opens on ${frame}`, [{ op: "replace", path: "/opening_frame", value: frame }])}
        >
          Open on {frame}
        </SmallButton>
      </div>
    </>
  );
}

const Sheet = styled(Dialog)`
  display: grid; gap: 10px; width: 340px; padding: 14px; line-height: 1.8; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px;
  & h2 { font-size: 16px; }
  & > input { padding: 4px 6px; font-weight: 600; background: var(--paper); border: 1px solid var(--line); border-radius: 3px; }
`;
