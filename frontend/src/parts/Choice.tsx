import {
  Button,
  ListBox,
  ListBoxItem,
  Menu,
  MenuItem,
  MenuTrigger,
  Popover,
  Select,
  SelectValue,
  Text,
  ToggleButton,
  ToggleButtonGroup,
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
`;

type CommandMenuProps = {
  children: React.ReactNode;
  label: string;
  commands: readonly MenuCommand[];
};

/** A command of a list: its name, what it does, and in a few words what it is for. */
export type MenuCommand = readonly [name: string, run: () => void, says?: string];

/** A button that opens a list of commands. The first child is the button. */
export function CommandMenu({ children, label, commands }: CommandMenuProps) {
  return (
    <MenuTrigger>
      {children}
      <Popover>
        <Commands aria-label={label} onAction={(key) => commands.find(([name]) => name === key)?.[1]()}>
          {commands.map(([name, , says]) => (
            <Command key={name} id={name} textValue={name}>
              <Text slot="label">{name}</Text>
              {says && <Says slot="description">{says}</Says>}
            </Command>
          ))}
        </Commands>
      </Popover>
    </MenuTrigger>
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

export const Says = styled(Text)`display: block; font-size: 11.5px; line-height: 1.3; color: var(--ink-soft);`;
const Row = styled(ToggleButtonGroup)`
  display: inline-flex; background: var(--card); border: 1px solid var(--line); border-radius: 3px; overflow: hidden;
  & > button { border: 0; border-right: 1px solid var(--line); background: none; color: var(--ink); padding: 4px 10px; cursor: pointer; }
  & > button:last-child { border-right: 0; }
  & > button[data-selected] { background: var(--ink); color: var(--card); }
  & > button[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: -2px; }
`;
