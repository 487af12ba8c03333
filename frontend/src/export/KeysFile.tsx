import { FileTrigger } from "react-aria-components";
import { answered, api, fetchedText, Refused } from "../api/client";
import { Button } from "../parts/Button";
import { useCommit, useEditing } from "../parts/editing";
import { tell } from "../parts/messages";
import { save } from "./save";

/** All keys as CSV, out and in. */
export function KeysFile({ stem }: { stem: string }) {
  const { documents } = useEditing();
  const commit = useCommit();
  const { id } = documents.getState();

  async function attempt(run: () => Promise<void>) {
    try {
      await run();
    } catch (fault) {
      tell(fault instanceof Refused ? fault.message : "It could not be done. Nothing was changed.");
    }
  }

  async function bring(file: File | undefined) {
    if (!file) return;
    if (file.size > 4 * 2 ** 20) return tell("The file is larger than 4 MB. Nothing was changed. Bring keys in parts.");
    const text = await file.text();
    await attempt(async () => {
      const params = { path: { shot_id: id } };
      const body = { text, revision: documents.getState().revision };
      const { patch } = await answered(api.POST("/api/shots/{shot_id}/keys", { params, body }));
      commit(`keys from ${file.name}`, patch);
      tell(`Keys of ${patch.length} values were brought in. Undo takes them back.`);
    });
  }

  async function takeAway() {
    await attempt(async () => {
      const text = await fetchedText(`/api/shots/${id}/keys.csv`);
      save(new Blob([text], { type: "text/csv" }), `${stem}-keys.csv`);
    });
  }

  return (
    <div>
      <Button onPress={() => void takeAway()}>All keys as CSV</Button>{" "}
      <FileTrigger acceptedFileTypes={[".csv"]} onSelect={(files) => void bring(files?.[0])}>
        <Button>Bring keys in</Button>
      </FileTrigger>
      <p>A line for each key: which value, frame, numbers, easing.</p>
    </div>
  );
}
