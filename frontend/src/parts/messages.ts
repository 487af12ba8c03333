import { create } from "zustand";

export type Message = { id: number; text: string; action?: { label: string; run: () => void } };

export const useMessages = create<{ messages: Message[] }>()(() => ({ messages: [] }));

let count = 0;

/** Says something to the person: what happened, what is unharmed, what to do. */
export function tell(text: string, action?: Message["action"]): void {
  const id = ++count;
  const others = useMessages.getState().messages.filter((message) => message.text !== text);
  useMessages.setState({ messages: [...others.slice(-2), action ? { id, text, action } : { id, text }] });
}

export function dismiss(id: number): void {
  useMessages.setState({ messages: useMessages.getState().messages.filter((message) => message.id !== id) });
}
