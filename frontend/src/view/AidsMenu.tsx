import { MenuTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { Command, Commands, Says } from "../parts/Choice";
import { AIDS, type Aid, turn, useAids } from "./aids";

/** What helps to judge the picture, on or off. */
export function AidsMenu() {
  const on = useAids((state) => state.on);
  return (
    <MenuTrigger>
      <Chip aria-label="Aids" data-on={on.size > 0 || undefined}>
        Aids
      </Chip>
      <Popover>
        <Commands aria-label="Aids" selectionMode="multiple" selectedKeys={on} onAction={(key) => turn(key as Aid)}>
          {AIDS.map(([aid, name, says]) => (
            <Aids key={aid} id={aid} textValue={name}>
              <span>{name}</span>
              <Says>{says}</Says>
            </Aids>
          ))}
        </Commands>
      </Popover>
    </MenuTrigger>
  );
}

const Aids = styled(Command)`
  padding-left: 26px; position: relative;
  &[data-selected]::before { content: "✓"; position: absolute; left: 9px; }
`;
const Chip = styled(Button)`
  padding: 4px 10px; min-height: 0;
  &[data-on] { box-shadow: inset 0 -2px var(--sea); }
`;
