import { useEffect, useRef, useState } from "react";
import { Input, type Key, SearchField, type Selection, Tree, useDragAndDrop } from "react-aria-components";
import styled from "styled-components";
import { change } from "../document/changing";
import { additions } from "../doing/adding";
import { Button } from "../parts/Button";
import { CommandMenu } from "../parts/Choice";
import { choose, useAllChosen } from "../parts/chosen";
import { useEditing, useRelations, useShot } from "../parts/editing";
import { bringIntoView } from "../view/framing";
import { ItemRow } from "./ItemRow";
import { above, PICTURE, type Row, rowsCalled, rowsOf, SCENERY } from "./rows";

const DRAGGED = "windsock-item";

/** The items of the shot: carried ones under their carrier, scenery folded away, found by typing. */
export function Outline() {
  const editing = useEditing();
  const { session } = editing;
  const shot = useShot((now) => now);
  const relations = useRelations((all) => all);
  const chosen = useAllChosen();
  const [words, setWords] = useState("");
  const [renaming, rename] = useState<string | null>(null);
  const [folded, setFolded] = useState<Set<Key>>(new Set([SCENERY]));
  const list = useRef<HTMLDivElement>(null);
  const all = rowsOf(shot, relations);
  const rows = words.trim() ? rowsCalled(words, shot) : all;
  const over = chosen[0] ? above(all, chosen[0]).join(" ") : "";
  const first = chosen[0];

  // What is chosen elsewhere is unfolded and brought into sight.
  useEffect(() => {
    if (over) setFolded((keys) => new Set([...keys].filter((key) => !over.split(" ").includes(String(key)))));
    if (first) {
      requestAnimationFrame(() =>
        list.current?.querySelector(`[data-item="${first}"]`)?.scrollIntoView({ block: "nearest" }),
      );
    }
  }, [over, first]);

  const unfolded = keysOf(all).filter((key) => !folded.has(key));
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].filter((key) => key in shot.items).map((key) => ({ [DRAGGED]: String(key) })),
    acceptedDragTypes: [DRAGGED],
    getDropOperation: () => "move",
    shouldAcceptItemDrop: ({ key }) => key in shot.items,
    onItemDrop: ({ target, items }) => void carry(items, String(target.key)),
    onRootDrop: ({ items }) => void carry(items, null),
  });

  async function carry(dropped: Parameters<NonNullable<DropHandler>>[0]["items"], carrier: string | null) {
    const ids = await Promise.all(dropped.map((one) => ("getText" in one ? one.getText(DRAGGED) : "")));
    const moved = ids.filter((id) => id !== carrier && !ids.includes(shot.items[id]?.parent ?? ""));
    const changes = moved.map((item) => ({ kind: "carry_item" as const, item, carrier }));
    if (changes.length > 0) void change(editing, { kind: "do_several", changes });
  }

  function select(keys: Selection) {
    const picked = keys === "all" ? keysOf(rows) : [...keys].map(String);
    const group = all.find((row) => row.group && picked.includes(row.key));
    choose(session, group?.group?.members ?? picked.filter((key) => key in shot.items));
  }

  function chooseFirst() {
    const [id] = rows.flatMap((row) => (row.item ? [row.item[0]] : []));
    if (!words.trim() || !id) return;
    choose(session, [id]);
    setWords("");
  }

  return (
    <Section
      aria-label="Items of the shot"
      onKeyDown={(event) => {
        const row = event.target instanceof HTMLElement ? event.target.dataset.named : undefined;
        if (event.key === "F2" && row) rename(row);
      }}
    >
      <Head>
        <Search aria-label="Find an item" value={words} onChange={setWords} onSubmit={chooseFirst}>
          <Input placeholder={`Find one of ${Object.keys(shot.items).length} items`} />
        </Search>
        <CommandMenu label="Add" commands={additions(editing)}>
          <Button>Add…</Button>
        </CommandMenu>
      </Head>
      <List
        ref={list}
        aria-label="Items"
        selectionMode="multiple"
        selectionBehavior="replace"
        selectedKeys={chosen.length > 0 ? chosen : [PICTURE]}
        onSelectionChange={select}
        expandedKeys={unfolded}
        onExpandedChange={(keys) => setFolded(new Set(keysOf(all).filter((key) => !keys.has(key))))}
        onAction={(key) => key in shot.items && void bringIntoView(editing, [String(key)])}
        dragAndDropHooks={dragAndDropHooks}
        renderEmptyState={() => (
          <Empty>{words ? "No item has a name with that in it." : "No items yet. Add one."}</Empty>
        )}
      >
        {rows.map((row) => (
          <ItemRow key={row.key} row={row} renaming={renaming} rename={rename} />
        ))}
      </List>
    </Section>
  );
}

type DropHandler = NonNullable<Parameters<typeof useDragAndDrop>[0]["onRootDrop"]>;

/** The keys of rows and of all rows under them. */
function keysOf(rows: Row[]): string[] {
  return rows.flatMap((row) => [row.key, ...keysOf(row.rows)]);
}

const Section = styled.section`margin-bottom: 8px;`;
const Head = styled.div`display: flex; gap: 6px; margin-bottom: 4px;`;
const Search = styled(SearchField)`
  flex: 1; min-width: 0;
  & input {
    width: 100%; min-height: 26px; padding: 2px 8px; background: var(--card); color: var(--ink);
    border: 1px solid var(--line); border-radius: 3px;
  }
  & input::placeholder { color: var(--ink-soft); opacity: 1; }
  & input::-webkit-search-cancel-button { display: none; }
`;
const List = styled(Tree)`
  max-height: 134px; overflow: auto; background: var(--card); border: 1px solid var(--line); border-radius: 3px; outline: none;
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: -1px; }
  &[data-drop-target] { background: var(--sea-wash); }
`;
const Empty = styled.p`padding: 6px 10px; color: var(--ink-soft);`;
