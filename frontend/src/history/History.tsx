import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { HistoryIcon } from "lucide-react";
import { Dialog, DialogTrigger, Heading, Popover } from "react-aria-components";
import styled from "styled-components";
import { useStore } from "zustand";
import { answered, api } from "../api/client";
import { Button, IconButton } from "../parts/Button";
import { CommandMenu } from "../parts/Choice";
import { useEditing, useSession } from "../parts/editing";
import { usePanel } from "../parts/usePanel";
import { compareWithEdit, compareWithShot, otherShots } from "../view/compared";

/** The edits of the shot as a list: any of them can be looked at, and returned to. */
export function History() {
  const { session } = useEditing();
  const { isOpen, onOpenChange } = usePanel("history");
  const change = (now: boolean) => {
    onOpenChange(now);
    if (!now && !session.getState().compared) session.setState({ past: null });
  };
  return (
    <DialogTrigger isOpen={isOpen} onOpenChange={change}>
      <IconButton aria-label="History of the shot">
        <HistoryIcon size={14} />
      </IconButton>
      <Popover placement="bottom end">
        <Sheet>
          <Heading slot="title">History</Heading>
          <Edits done={() => change(false)} />
        </Sheet>
      </Popover>
    </DialogTrigger>
  );
}

const PAGE = 60;
const WORDS = { edit: "", undo: "Undone: ", redo: "Redone: " } as const;

function Edits({ done }: { done: () => void }) {
  const editing = useEditing();
  const { documents, session } = editing;
  const revision = useStore(documents, (state) => state.revision);
  const past = useSession((state) => state.past);
  const compared = useSession((state) => state.compared);
  const id = documents.getState().id;
  const { data, fetchNextPage, hasNextPage } = useInfiniteQuery({
    queryKey: ["history", id, revision],
    queryFn: ({ pageParam }) =>
      answered(
        api.GET("/api/shots/{shot_id}/history", { params: { path: { shot_id: id }, query: { before: pageParam } } }),
      ),
    initialPageParam: 2 ** 31 - 1,
    getNextPageParam: (page) => (page.edits.length === PAGE ? page.edits.at(-1)?.revision : undefined),
  });
  const edits = data?.pages.flatMap((page) => page.edits) ?? [];
  const look = (at: number) => session.setState({ past: at === revision ? null : at, playing: false });
  return (
    <>
      <p>
        {compared
          ? "Press an edit to see it on the right of the line."
          : "Press an edit to see the shot as it was after it. Nothing changes until you return."}
      </p>
      <List aria-label="Edits, newest first">
        {edits.map((edit) => (
          <li key={edit.revision}>
            <Row
              type="button"
              aria-pressed={edit.revision === (past ?? revision)}
              data-undone={edit.standing ? undefined : true}
              onClick={() => look(edit.revision)}
            >
              <span>{edit.revision}</span>
              <b>
                {WORDS[edit.kind]}
                {edit.label}
              </b>
              <small>
                {edit.mine ? "" : "elsewhere, "}
                {told(edit.made)}
              </small>
            </Row>
          </li>
        ))}
        {!hasNextPage && data && (
          <li>
            <Row type="button" aria-pressed={(past ?? revision) === 0} onClick={() => look(0)}>
              <span>0</span>
              <b>As it began</b>
            </Row>
          </li>
        )}
      </List>
      <footer>
        {hasNextPage && <Button onPress={() => void fetchNextPage()}>Earlier ones</Button>}
        <Button
          isDisabled={past === null}
          onPress={() => {
            const edit = edits.find((one) => one.revision === past);
            if (past !== null) compareWithEdit(editing, past, edit?.label ?? "as it began");
            done();
          }}
        >
          Compare with now
        </Button>
        <Button
          data-main
          isDisabled={past === null}
          onPress={async () => {
            if (past !== null) await documents.getState().returnTo(past);
            done();
          }}
        >
          {past === null ? "Return to an edit" : `Return to edit ${past}`}
        </Button>
      </footer>
      <OtherShots id={id} done={done} />
    </>
  );
}

/** The other shots, to be compared with this one. */
function OtherShots({ id, done }: { id: string; done: () => void }) {
  const editing = useEditing();
  const { data } = useQuery({ queryKey: ["other shots", id], queryFn: () => otherShots(id), gcTime: 0 });
  if (!data || data.length === 0) return null;
  const compare = (shot: string) => {
    void compareWithShot(editing, shot);
    done();
  };
  const commands = data.map((shot) => [shot.name, () => compare(shot.id), "", shot.project] as const);
  return (
    <CommandMenu label="Compare with another shot" commands={commands}>
      <Button>Compare with another shot…</Button>
    </CommandMenu>
  );
}

function told(made: string): string {
  const when = new Date(made);
  const today = new Date().toDateString() === when.toDateString();
  const time = when.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  return today ? time : `${when.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}, ${time}`;
}

const Sheet = styled(Dialog)`
  display: grid; gap: 10px; width: 340px; padding: 14px; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px;
  & h2 { font-size: 16px; }
  & p { color: var(--ink-soft); }
  & footer { display: flex; gap: 8px; justify-content: flex-end; }
`;
const List = styled.ol`
  list-style: none; margin: 0; padding: 2px; max-height: 56vh; overflow: auto;
`;
const Row = styled.button`
  display: grid; grid-template-columns: 34px 1fr auto; gap: 8px; width: 100%; padding: 4px 6px; text-align: left; cursor: pointer; font: inherit;
  background: none; color: var(--ink); border: 1px solid transparent; border-radius: 3px;
  & > span, & > small { color: var(--ink-soft); font-variant-numeric: tabular-nums; }
  & > b { font-weight: 500; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  &[data-undone] > b { text-decoration: line-through; color: var(--ink-soft); }
  &:hover { background: var(--sea-wash); }
  &[aria-pressed="true"] { border-color: var(--signal); }
`;
