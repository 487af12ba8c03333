import { create } from "zustand";

/** What the server is being asked, in words, the newest last: a press that waits for it is answered by these at once. */
export const useAsked = create<{ words: string[] }>()(() => ({ words: [] }));

/** Tells what is asked as long as it is not answered. */
export async function asking<Answer>(words: string, answer: Promise<Answer>): Promise<Answer> {
  useAsked.setState((asked) => ({ words: [...asked.words, words] }));
  try {
    return await answer;
  } finally {
    useAsked.setState((asked) => {
      const place = asked.words.lastIndexOf(words);
      return { words: asked.words.filter((_, other) => other !== place) };
    });
  }
}
