import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { headers } from "../api/client";
import type { components } from "../api/schema";
import { Button, SmallButton } from "../parts/Button";
import { tell } from "../parts/messages";
import { attempt, keep } from "./keeping";

type Project = components["schemas"]["ProjectSummary"];
type Put = { what: "projects" | "shots"; id: string; name: string; of: string; kept: string };

const WORDS = { archived: "Archived", deleted: "Deleted, and still to be brought back" } as const;

/** What is archived, and what was deleted and can still be brought back. */
export function PutAway({ projects }: { projects: Project[] }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const again = () => queries.invalidateQueries({ queryKey: ["projects"] });
  const all: Put[] = projects.flatMap((project) => [
    ...(project.kept === "here" ? [] : [{ what: "projects" as const, of: "a project", ...project }]),
    ...project.shots
      .filter((shot) => shot.kept !== "here" && project.kept === "here")
      .map((shot) => ({ what: "shots" as const, of: `of ${project.name}`, ...shot })),
  ]);
  if (all.length === 0) return null;
  return (
    <Section aria-label="Put away">
      <SmallButton aria-expanded={open} onPress={() => setOpen(!open)}>
        {open ? "Fold what is put away" : `What is put away: ${all.length}`}
      </SmallButton>
      {open &&
        (["archived", "deleted"] as const).map((kept) => {
          const those = all.filter((one) => one.kept === kept);
          if (those.length === 0) return null;
          return (
            <div key={kept}>
              <h2>{WORDS[kept]}</h2>
              <ul>
                {those.map((one) => (
                  <li key={one.id}>
                    <b>{one.name}</b> <span>{one.of}</span>
                    <SmallButton onPress={() => void keep(one.what, one.id, "here").then(again)}>
                      Bring {one.name} back
                    </SmallButton>
                    {kept === "archived" && (
                      <SmallButton onPress={() => void keep(one.what, one.id, "deleted").then(again)}>
                        Delete it
                      </SmallButton>
                    )}
                  </li>
                ))}
              </ul>
            </div>
          );
        })}
    </Section>
  );
}

const LARGEST = 256 * 2 ** 20;

/** A project from the one file that it was taken away as. */
export function BringProject() {
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  async function bring(file: File | undefined) {
    if (!file) return;
    if (file.size > LARGEST)
      return tell("The file is larger than 256 MB. Nothing was made. Bring its shots one by one.");
    setBusy(true);
    await attempt(async () => {
      const reply = await fetch("/api/projects/file", { method: "POST", headers, body: file });
      if (reply.ok) return;
      const told: unknown = await reply.json().catch(() => null);
      const detail = typeof told === "object" && told !== null && "detail" in told ? String(told.detail) : "";
      throw new Error(detail || "The file was not taken. Nothing was made.");
    });
    setBusy(false);
    await queries.invalidateQueries({ queryKey: ["projects"] });
  }
  return (
    <FileTrigger acceptedFileTypes={[".zip"]} onSelect={(files) => void bring(files?.[0])}>
      <Button isDisabled={busy}>Bring a project</Button>
    </FileTrigger>
  );
}

const Section = styled.section`
  display: grid; gap: 10px; justify-items: start; padding-top: 16px; border-top: 1px solid var(--line);
  & h2 { font-size: 14px; }
  & ul { list-style: none; margin: 0; padding: 0; display: grid; gap: 6px; }
  & li { display: flex; gap: 8px; align-items: center; }
  & span { color: var(--ink-soft); }
`;
