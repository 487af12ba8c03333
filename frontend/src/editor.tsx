import { Redo2, SlidersHorizontal, Undo2 } from "lucide-react";
import { type CSSProperties, useEffect, useState } from "react";
import styled from "styled-components";
import { useStore } from "zustand";
import { answeredShot, api, Refused } from "./api/client";
import { useEvents } from "./api/events";
import { WhereTimeGoes } from "./costs/WhereTimeGoes";
import { createDocument } from "./document/store";
import { inOrder, type ShotState } from "./document/types";
import { Do } from "./doing/Do";
import { KeyList } from "./doing/KeyList";
import { TakeAway } from "./export/TakeAway";
import { Findings } from "./findings/Findings";
import { History } from "./history/History";
import { go, useAddress } from "./parts/address";
import { Button, IconButton } from "./parts/Button";
import { ClashDialog } from "./parts/ClashDialog";
import { type Editing, EditingContext, useEditing } from "./parts/editing";
import { Hairline } from "./parts/Hairline";
import { Mark } from "./parts/Mark";
import { tell } from "./parts/messages";
import { PanelEdge, usePanelWidth } from "./parts/PanelEdge";
import { ThemeSwitch } from "./parts/ThemeSwitch";
import { useEditorKeys } from "./parts/useEditorKeys";
import { Recipe } from "./recipe/Recipe";
import { ShotSettings } from "./recipe/ShotSettings";
import { Tracks } from "./tracks/Tracks";
import { Player } from "./view/player";
import { createSession } from "./view/session";
import { View } from "./view/View";

/** One shot: bar, recipe, view and tracks. */
export function Editor({ shotId }: { shotId: string }) {
  const { query } = useAddress();
  const [editing, setEditing] = useState<Editing | null>(null);
  const [trouble, setTrouble] = useState("");
  const [playAtOnce] = useState(query.includes("play"));
  const [width, setWidth] = usePanelWidth();

  useEffect(() => {
    let wanted = true;
    let made: Editing | null = null;
    let timer = 0;
    const open = async () => {
      try {
        const state = await answeredShot(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shotId } } }));
        if (!wanted) return;
        made = begin(state, playAtOnce);
        setTrouble("");
        setEditing(made);
      } catch (fault) {
        if (!wanted) return;
        setTrouble(fault instanceof Error ? fault.message : String(fault));
        if (fault instanceof Refused && fault.passing) timer = window.setTimeout(() => void open(), 1000);
      }
    };
    void open();
    return () => {
      wanted = false;
      window.clearTimeout(timer);
      made?.player.stop();
    };
  }, [shotId, playAtOnce]);

  if (!editing) {
    return (
      <Waiting>
        {trouble ? <p role="alert">{trouble}</p> : <Hairline label="Opening the shot" />}
        {trouble && <Button onPress={() => go("/")}>Go home</Button>}
      </Waiting>
    );
  }
  return (
    <EditingContext value={editing}>
      <Layout style={width === null ? undefined : ({ "--recipe": `${width}px` } as CSSProperties)}>
        <Bar />
        <Recipe />
        <PanelEdge onWidth={setWidth} />
        <View />
        <Tracks />
        <ClashDialog />
        <Do />
        <KeyList />
        <WhereTimeGoes />
      </Layout>
    </EditingContext>
  );
}

function begin(state: ShotState, playing: boolean): Editing {
  const documents = createDocument(state);
  const items = inOrder(state.document.items);
  const chosen =
    (items.find(([, item]) => item.kind === "shape" && Object.keys(item.recipe.steps).length > 0) ??
      items.find(([, item]) => item.kind === "shape"))?.[0] ?? null;
  const field = inOrder(state.document.fields)[0]?.[0] ?? null;
  const session = createSession({ frame: state.document.opening_frame, playing, chosen, field });
  return { documents, session, player: new Player(documents, session), stage: { current: null } };
}

/** Takes in what others do to the shot, as it is heard of. */
function useOthers(): void {
  const { documents } = useEditing();
  const heard = useEvents((state) => state.edits.find((edit) => edit.shot === documents.getState().id));
  useEffect(() => {
    if (!heard || heard.revision <= documents.getState().revision) return;
    void documents.getState().hear(heard.revision);
    if (!heard.mine) tell(`Changed elsewhere: ${heard.label}.`);
  }, [documents, heard]);
}

function Bar() {
  const { documents, session } = useEditing();
  useOthers();
  const project = useStore(documents, (state) => state.project);
  const name = useStore(documents, (state) => state.shot.name);
  const undo = useStore(documents, (state) => state.undo);
  const redo = useStore(documents, (state) => state.redo);
  const saving = useStore(documents, (state) => state.saving);
  const revision = useStore(documents, (state) => state.revision);
  const waiting = useStore(documents, (state) => state.queue.length);
  useEditorKeys();
  useEffect(() => {
    document.title = `${name} · Wind Sock`;
  }, [name]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => documents.getState().queue.length > 0 && event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [documents]);
  const { takeBack } = documents.getState();
  return (
    <Header>
      <Home
        href="/"
        aria-label="Home"
        onClick={(event) => {
          event.preventDefault();
          go("/");
        }}
      >
        <Mark />
      </Home>
      <b>{project.name}</b>
      <Name>/ {name}</Name>
      <ShotSettings>
        <IconButton aria-label="Shot settings">
          <SlidersHorizontal size={14} />
        </IconButton>
      </ShotSettings>
      <Space />
      <Button aria-label="Do…" onPress={() => session.setState({ panel: "do" })}>
        Do…
      </Button>
      <History />
      <Findings />
      <Button isDisabled={!undo} onPress={() => void takeBack("undo")}>
        <Undo2 size={14} /> Undo<Told>{undo ? `: ${undo}` : ""}</Told>
      </Button>
      <Button isDisabled={!redo} onPress={() => void takeBack("redo")}>
        <Redo2 size={14} /> Redo<Told>{redo ? `: ${redo}` : ""}</Told>
      </Button>
      <Saved role="status" data-saving={saving} data-revision={revision}>
        {saving === "saved"
          ? `Saved, edit ${revision}`
          : saving === "saving"
            ? "Saving …"
            : `${waiting} not saved yet, trying again`}
      </Saved>
      <ThemeSwitch />
      <TakeAway />
    </Header>
  );
}

const Layout = styled.main`
  --recipe: 376px;
  position: relative; display: grid; height: 100vh; grid-template: 44px minmax(0, 1fr) 228px / var(--recipe) minmax(0, 1fr);
  & > header { grid-column: 1 / 3; }
  & > aside { grid-row: 2 / 4; }
  @media (max-width: 1100px) { --recipe: 330px; }
`;
const Header = styled.header`
  display: flex; gap: 10px; align-items: center; padding: 0 12px; background: var(--card); border-bottom: 1px solid var(--line); min-width: 0;
  & > b { font-weight: 600; white-space: nowrap; }
`;
const Home = styled.a`display: grid; padding: 4px;`;
const Name = styled.span`color: var(--ink-soft); white-space: nowrap; overflow: hidden; text-overflow: ellipsis;`;
const Space = styled.span`flex: 1;`;
const Told = styled.span`max-width: 150px; overflow: hidden; text-overflow: ellipsis; color: var(--ink-soft); @media (max-width: 1200px) { display: none; }`;
const Saved = styled.span`
  color: var(--ink-soft); white-space: nowrap;
  &[data-saving="waiting"] { color: var(--signal); font-weight: 600; }
`;
const Waiting = styled.main`
  display: grid; gap: 12px; align-content: center; justify-items: center; height: 100vh;
  & > div { width: 280px; }
`;
