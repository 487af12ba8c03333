import { Check as Tick } from "lucide-react";
import { Checkbox, type CheckboxProps } from "react-aria-components";
import styled from "styled-components";

/** A thing that is so or not. */
export function Check({ children, ...given }: Omit<CheckboxProps, "children"> & { children: React.ReactNode }) {
  return (
    <Box {...given}>
      <span aria-hidden="true">
        <Tick size={11} />
      </span>
      {children}
    </Box>
  );
}

const Box = styled(Checkbox)`
  display: inline-flex; gap: 6px; align-items: center; cursor: pointer;
  & > span { display: grid; place-items: center; width: 15px; height: 15px; background: var(--paper); border: 1px solid var(--ink-soft); border-radius: 2px; }
  & > span > svg { opacity: 0; }
  &[data-selected] > span { background: var(--ink); color: var(--card); }
  &[data-selected] > span > svg { opacity: 1; }
  &[data-focus-visible] > span { outline: 2px solid var(--sea); outline-offset: 1px; }
`;
