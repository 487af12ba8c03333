import { useEffect, useRef, useState } from "react";
import {
  Autocomplete,
  Button,
  Header,
  Input,
  type Key,
  ListBox,
  ListBoxItem,
  Menu,
  MenuItem,
  MenuSection,
  MenuTrigger,
  Popover,
  SearchField,
  Select,
  SelectValue,
  ToggleButton,
  ToggleButtonGroup,
  useFilter,
} from "react-aria-components";
import styled, { css } from "styled-components";

const list = css`
  outline: none; padding: 4px; max-height: 50vh; overflow: auto;
  background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px; min-width: 120px;
`;
const entry = css`
  padding: 5px 10px; border-radius: 2px; cursor: pointer; outline: none;
  &[data-focused] { background: var(--sea-wash); }
  &[data-selected] { font-weight: 600; }
  &[data-disabled] { color: var(--ink-soft); cursor: default; }
`;
const List = styled(ListBox)`${list}`;
const Entry = styled(ListBoxItem)`${entry}`;
export const Commands = styled(Menu)`${list}`;
export const Command = styled(MenuItem)`${entry}`;

type ChoiceProps<Value extends string> = {
  label: string;
  value: Value;
  options: readonly (readonly [Value, string])[];
  onChoose: (value: Value) => void;
  tone?: "field";
};

/** A word of a sentence that is chosen from a few. */
export function Choice<Value extends string>({ label, value, options, onChoose, tone }: ChoiceProps<Value>) {
  return (
    <Select
      aria-label={label}
      value={value}
      onChange={(key) => key !== null && onChoose(String(key) as Value)}
      style={{ display: "inline" }}
    >
      <WordButton data-tone={tone}>
        <SelectValue />
      </WordButton>
      <Popover>
        <List aria-label={label}>
          {options.map(([id, text]) => (
            <Entry key={id} id={id} textValue={text}>
              {text}
            </Entry>
          ))}
        </List>
      </Popover>
    </Select>
  );
}

export const WordButton = styled(Button)`
  display: inline; padding: 0 2px; margin: 0; border: 0; border-bottom: 1.5px solid var(--ink); border-radius: 0; background: none;
  font-weight: 600; color: var(--ink); cursor: pointer; white-space: nowrap;
  & > span { display: inline; }
  &[data-tone="field"] { color: var(--sea); border-color: var(--sea); }
  &[data-hovered] { background: var(--sea-wash); }
  &[data-pressed] { background: var(--sea-wash); border-color: var(--sea); }
`;

type CommandMenuProps = {
  children: React.ReactNode;
  label: string;
  commands: readonly MenuCommand[];
  /** The one that holds, where they are choices. */
  holds?: string;
};

/** A command of a list: its name, what it does, in a few words what it is for, what one wishes for that chooses it, and a picture
 * of what it would make, for the one that is pointed at. */
export type MenuCommand = readonly [
  name: string,
  run: () => void,
  says?: string,
  wish?: string,
  picture?: () => React.ReactNode,
];

/** So many commands are searched by typing. */
const MANY = 8;

/** A button that opens a list of commands. The first child is the button. */
export function CommandMenu({ children, label, commands, holds }: CommandMenuProps) {
  const [pointed, setPointed] = useState<string | null>(null);
  // Two things of a list may have the same name.
  const keyed = commands.map((command, place) => {
    const first = commands.findIndex(([name]) => name === command[0]);
    return [first === place ? command[0] : `${command[0]} ${place}`, command] as const;
  });
  const commandOf = (key: Key | null) => keyed.find(([one]) => one === key)?.[1];
  const picture = commandOf(pointed)?.[4];
  const act = (key: Key) => commandOf(key)?.[1]();
  const wishes = [...new Set(commands.map(([, , , wish]) => wish ?? ""))];
  const list = (
    <Commands
      aria-label={label}
      onAction={act}
      {...(holds === undefined
        ? {}
        : { selectionMode: "single" as const, disallowEmptySelection: true, selectedKeys: [holds] })}
      renderEmptyState={() => <None>Nothing of that kind.</None>}
    >
      {wishes.map((wish) => (
        <MenuSection key={wish} id={wish || "/all"} aria-label={wish || label}>
          {wish && <Wish>{wish}</Wish>}
          {keyed.flatMap(([key, command]) =>
            (command[3] ?? "") === wish ? [entryOf(key, command, () => setPointed(key))] : [],
          )}
        </MenuSection>
      ))}
    </Commands>
  );
  return (
    <MenuTrigger onOpenChange={() => setPointed(null)}>
      {children}
      <Popover>
        <Beside>
          {commands.length < MANY ? list : <Searched label={label}>{list}</Searched>}
          {commands.some((command) => command[4]) && (
            <Pictured>
              {picture ? <div key={pointed}>{picture()}</div> : <p>Point at one to see what it would make.</p>}
            </Pictured>
          )}
        </Beside>
      </Popover>
    </MenuTrigger>
  );
}

function entryOf(key: string, [name, , says, , picture]: MenuCommand, point: () => void) {
  return (
    <Command key={key} id={key} textValue={says ? `${name}: ${says}` : name}>
      {({ isFocused }) => (
        <>
          {picture && <Pointed on={isFocused} point={point} />}
          <span>{name}</span>
          {says && <Says>{says}</Says>}
        </>
      )}
    </Command>
  );
}

/** Tells that an entry has been pointed at, by pointer or by keys. */
function Pointed({ on, point }: { on: boolean; point: () => void }) {
  const told = useRef(point);
  useEffect(() => {
    if (on) told.current();
  }, [on]);
  return null;
}

/** A list with a box over it: what is typed there leaves those that have it in their name or in what they are for. */
function Searched({ label, children }: { label: string; children: React.ReactNode }) {
  const { contains } = useFilter({ sensitivity: "base" });
  return (
    <Found>
      <Autocomplete filter={contains}>
        <SearchField aria-label={`Find in: ${label}`} autoFocus>
          <Input placeholder="Type what it should do" />
        </SearchField>
        <Scroll role="region" aria-label="Found" tabIndex={0}>
          {children}
        </Scroll>
      </Autocomplete>
    </Found>
  );
}

type RowProps<Value extends string> = {
  label: string;
  value: Value;
  options: readonly (readonly [Value, string])[];
  onChoose: (value: Value) => void;
};

/** A few choices side by side, one of which holds. */
export function ChoiceRow<Value extends string>({ label, value, options, onChoose }: RowProps<Value>) {
  return (
    <Row
      aria-label={label}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[value]}
      onSelectionChange={(keys) => {
        const [chosen] = keys;
        if (chosen !== undefined) onChoose(String(chosen) as Value);
      }}
    >
      {options.map(([id, text]) => (
        <ToggleButton key={id} id={id}>
          {text}
        </ToggleButton>
      ))}
    </Row>
  );
}

const Wish = styled(Header)`padding: 6px 10px 2px; font-size: 11.5px; font-weight: 600; color: var(--sea);`;
const Beside = styled.div`display: flex; align-items: flex-start; gap: 4px;`;
const Pictured = styled.div`
  flex: none; width: 242px; padding: 8px; background: var(--card); border: 1px solid var(--ink-soft); border-radius: 3px;
  & > p { color: var(--ink-soft); font-size: 12px; }
`;
const Scroll = styled.div`height: 44vh; overflow: auto; outline-offset: -2px;`;
const None = styled.p`padding: 6px 10px; color: var(--ink-soft);`;
const Found = styled.div`
  background: var(--card); border: 1px solid var(--ink-soft); border-radius: 3px; width: 300px;
  & input {
    width: calc(100% - 8px); margin: 4px 4px 0; min-height: 28px; padding: 2px 8px; background: var(--paper); color: var(--ink);
    border: 1px solid var(--line); border-radius: 3px; outline-offset: -2px;
  }
  & input::placeholder { color: var(--ink-soft); opacity: 1; }
  & input::-webkit-search-cancel-button { display: none; }
  /* As high however few are left, so that nothing jumps while one types. */
  & [role="menu"] { border: 0; max-height: none; overflow: visible; }
`;
export const Says = styled.span`display: block; font-size: 11.5px; line-height: 1.3; color: var(--ink-soft);`;
const Row = styled(ToggleButtonGroup)`
  display: inline-flex; background: var(--card); border: 1px solid var(--line); border-radius: 3px; overflow: hidden;
  & > button { border: 0; border-right: 1px solid var(--line); background: none; color: var(--ink); padding: 4px 10px; cursor: pointer; }
  & > button:last-child { border-right: 0; }
  & > button[data-selected] { background: var(--ink); color: var(--card); }
  & > button[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: -2px; }
`;
