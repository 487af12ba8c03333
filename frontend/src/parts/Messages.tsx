import styled from "styled-components";
import { Button } from "./Button";
import { dismiss, useMessages } from "./messages";

/** What the page has to say, at the foot of the window until it is put away. */
export function Messages() {
  const messages = useMessages((state) => state.messages);
  return (
    <Stack role="status" aria-live="polite">
      {messages.map((message) => (
        <Note key={message.id}>
          <span>{message.text}</span>
          {message.action && (
            <Button
              onPress={() => {
                message.action?.run();
                dismiss(message.id);
              }}
            >
              {message.action.label}
            </Button>
          )}
          <Button onPress={() => dismiss(message.id)}>Put away</Button>
        </Note>
      ))}
    </Stack>
  );
}

const Stack = styled.div`
  position: fixed; left: 50%; bottom: 16px; transform: translateX(-50%); z-index: 60;
  display: grid; gap: 8px; width: min(640px, calc(100vw - 32px));
`;
const Note = styled.div`
  display: flex; gap: 8px; align-items: center; padding: 8px 8px 8px 12px; background: var(--card); color: var(--ink);
  border: 1px solid var(--signal); border-left-width: 4px; border-radius: 3px;
  & > span { flex: 1; }
`;
