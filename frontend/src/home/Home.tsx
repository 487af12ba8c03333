import { useQuery, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { answered, answeredShot, api, Refused } from "../api/client";
import type { components } from "../api/schema";
import { go } from "../parts/address";
import { Button, IconButton } from "../parts/Button";
import { CommandMenu } from "../parts/Choice";
import { Hairline } from "../parts/Hairline";
import { Mark } from "../parts/Mark";
import { tell } from "../parts/messages";
import { ThemeSwitch } from "../parts/ThemeSwitch";
import { attempt, keep } from "./keeping";
import { BringProject, PutAway } from "./PutAway";
import { Thumbnail } from "./Thumbnail";

type Project = components["schemas"]["ProjectSummary"];

/** Projects and their shots; the way in. */
export function Home() {
  const { data, error } = useQuery({
    queryKey: ["projects"],
    queryFn: () => answered(api.GET("/api/projects")),
    retry: (_, fault) => fault instanceof Refused && fault.passing,
    retryDelay: 1000,
    gcTime: 0,
  });
  const here = (data?.projects ?? []).filter((project) => project.kept === "here");
  const first = here.flatMap((project) => project.shots).find((shot) => shot.kept === "here");
  return (
    <Page>
      <header>
        <Mark size={30} />
        <div>
          <h1>Wind Sock</h1>
          <p>Effects that look simulated, at any frame, at once.</p>
        </div>
        <span />
        {first && (
          <Button data-main onPress={() => go(`/shots/${first.id}?play`)}>
            Open the demo
          </Button>
        )}
        <NewProject />
        <BringProject />
        <ThemeSwitch />
      </header>
      {error && <p role="alert">{error.message}</p>}
      {!data && !error && <Hairline label="Looking for projects" />}
      {here.map((project) => (
        <ProjectRow key={project.id} project={project} />
      ))}
      {data && here.length === 0 && <p>No projects here. Make one to begin.</p>}
      {data && <PutAway projects={data.projects} />}
    </Page>
  );
}

function NewProject() {
  const queries = useQueryClient();
  return (
    <Button
      onPress={async () => {
        await attempt(() => answered(api.POST("/api/projects", { body: { name: "New project" } })));
        await queries.invalidateQueries({ queryKey: ["projects"] });
      }}
    >
      New project
    </Button>
  );
}

function ProjectRow({ project }: { project: Project }) {
  const queries = useQueryClient();
  const [name, setName] = useState(project.name);
  const params = { path: { project_id: project.id } };
  const again = () => queries.invalidateQueries({ queryKey: ["projects"] });
  const shots = project.shots.filter((shot) => shot.kept === "here");

  async function newShot() {
    const made = await attempt(() =>
      answered(
        api.POST("/api/projects/{project_id}/shots", {
          params,
          body: { name: `Shot ${project.shots.length + 1}`, document: null },
        }),
      ),
    );
    if (made) go(`/shots/${made.id}`);
  }

  async function readShot(file: File | undefined) {
    if (!file) return;
    if (file.size > 16 * 2 ** 20)
      return tell("This document is over 16 MB. Nothing was read. Check that it is a shot’s JSON.");
    const text = await file.text();
    let document: unknown;
    try {
      document = JSON.parse(text);
    } catch {
      return tell("This file is not JSON. Nothing was read. Choose a document that was taken away here.");
    }
    const made = await attempt(() =>
      answered(api.POST("/api/projects/{project_id}/shots", { params, body: { name: null, document } })),
    );
    if (made) await again();
  }

  /** A copy of a shot as it stands, with a history of its own. */
  async function copyShot(id: string) {
    const state = await attempt(() =>
      answeredShot(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: id } } })),
    );
    if (!state) return;
    const document = { ...state.document, name: `${state.document.name} copy`.slice(0, 80) };
    const made = await attempt(() =>
      answered(api.POST("/api/projects/{project_id}/shots", { params, body: { name: null, document } })),
    );
    if (made) await again();
  }

  async function rename() {
    const told = name.trim();
    if (!told || told === project.name) return setName(project.name);
    await attempt(() => answered(api.PATCH("/api/projects/{project_id}", { params, body: { name: told } })));
    await again();
  }

  return (
    <Section aria-label={project.name}>
      <div>
        <input
          aria-label="Name of the project"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => void rename()}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        <Button onPress={() => void newShot()}>New shot</Button>
        <FileTrigger acceptedFileTypes={[".json"]} onSelect={(files) => void readShot(files?.[0])}>
          <Button>Read a shot’s JSON</Button>
        </FileTrigger>
        <CommandMenu
          label={`Project ${project.name}`}
          commands={[
            ["Take it away as one file", () => window.location.assign(`/api/projects/${project.id}/file`)],
            ["Archive the project", () => void keep("projects", project.id, "archived").then(again)],
            ["Delete the project", () => void keep("projects", project.id, "deleted").then(again)],
          ]}
        >
          <IconButton aria-label={`Commands for the project ${project.name}`}>
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
      </div>
      <ul>
        {shots.map((shot) => (
          <li key={shot.id}>
            {shot.readable ? <Readable shot={shot} /> : <Unreadable shot={shot} />}
            <CommandMenu
              label={`Shot ${shot.name}`}
              commands={[
                ...(shot.readable ? ([["Copy the shot", () => void copyShot(shot.id)]] as const) : []),
                ["Take it away as a file", () => window.location.assign(`/api/shots/${shot.id}/document.json`)],
                ["Archive it", () => void keep("shots", shot.id, "archived").then(again)],
                ["Delete it", () => void keep("shots", shot.id, "deleted").then(again)],
              ]}
            >
              <IconButton data-small aria-label={`Commands for ${shot.name}`}>
                <MoreHorizontal size={14} />
              </IconButton>
            </CommandMenu>
          </li>
        ))}
      </ul>
      {shots.length === 0 && <p>No shots yet. A new shot starts with a ball and a controller, ready to be cut.</p>}
    </Section>
  );
}

/** A shot, to be opened. */
function Readable({ shot }: { shot: Project["shots"][number] }) {
  return (
    <a
      href={`/shots/${shot.id}`}
      onClick={(event) => {
        event.preventDefault();
        go(`/shots/${shot.id}`);
      }}
    >
      <Thumbnail shot={shot} />
      <b>{shot.name}</b>
      <small>
        {shot.frames} frames, {Number(shot.fps.toFixed(3))} fps
      </small>
    </a>
  );
}

/** A shot that this version cannot read: it is kept, and can be taken away. */
function Unreadable({ shot }: { shot: Project["shots"][number] }) {
  return (
    <a href={`/api/shots/${shot.id}/document.json`} download>
      <b>{shot.name}</b>
      <small>
        This version of Wind Sock cannot read it. It is kept as it is. Press to take it away as a file; open it with the
        version that it was made with.
      </small>
    </a>
  );
}

const Page = styled.main`
  max-width: 1120px; margin: 0 auto; padding: 28px 24px 60px; display: grid; gap: 22px;
  & > header { display: flex; gap: 12px; align-items: center; }
  & > header > span { flex: 1; }
  & h1 { font-size: 22px; line-height: 1.1; }
  & header p { color: var(--ink-soft); }
`;
const Section = styled.section`
  display: grid; gap: 12px; padding-top: 16px; border-top: 1px solid var(--line);
  & > div { display: flex; gap: 8px; align-items: center; }
  & input { flex: 1; padding: 3px 6px; margin-left: -7px; font-weight: 600; font-size: 16px; background: none; border: 1px solid transparent; border-radius: 3px; }
  & input:hover, & input:focus { border-color: var(--line); background: var(--card); }
  & ul { list-style: none; margin: 0; padding: 0; display: grid; grid-template-columns: repeat(auto-fill, minmax(250px, 1fr)); gap: 14px; }
  & li { position: relative; }
  & li > button { position: absolute; right: 8px; bottom: 12px; }
  & li a { display: grid; color: inherit; text-decoration: none; background: var(--card); border: 1px solid var(--line); border-radius: 3px; overflow: hidden; padding-bottom: 8px; }
  & li a:hover { border-color: var(--ink-soft); }
  & li b, & li small { padding: 0 10px; }
  & li b { margin-top: 7px; }
  & small { color: var(--ink-soft); font-size: 12px; }
`;
