import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { answered, api, Refused } from "../api/client";
import type { components } from "../api/schema";
import { at } from "../document/parameter";
import { Button, IconButton, SmallButton } from "../parts/Button";
import { useEditing } from "../parts/editing";
import { tell } from "../parts/messages";

type Look = components["schemas"]["LookToKeep"]["look"];

/** The looks that are kept in the shot's project. */
export function useKeptLooks() {
  const { documents } = useEditing();
  const queries = useQueryClient();
  const { id } = documents.getState().project;
  const path = { project_id: id };
  const queryKey = ["looks", id];
  const { data } = useQuery({
    queryKey,
    queryFn: () => answered(api.GET("/api/projects/{project_id}/looks", { params: { path } })),
  });
  const after = async (asked: Promise<unknown>) => {
    try {
      await asked;
    } catch (fault) {
      tell(fault instanceof Refused ? fault.message : "It did not work. Nothing was kept. Try again.");
    }
    await queries.invalidateQueries({ queryKey });
  };
  return {
    looks: data?.looks ?? [],
    keep: (name: string, look: Look) =>
      after(answered(api.POST("/api/projects/{project_id}/looks", { params: { path }, body: { name, look } }))),
    letGo: (look_id: string) =>
      after(
        answered(api.DELETE("/api/projects/{project_id}/looks/{look_id}", { params: { path: { ...path, look_id } } })),
      ),
  };
}

/** Keeps a look in the project under a name, for all its shots. */
export function KeepLook({ pointer }: { pointer: string }) {
  const { documents } = useEditing();
  const { looks, keep, letGo } = useKeptLooks();
  const [name, setName] = useState("");
  const told = name.trim();
  return (
    <DialogTrigger>
      <SmallButton aria-label="Keep it: this look, in the project">Keep it</SmallButton>
      <Popover placement="bottom start">
        <Sheet aria-label="Looks kept in the project">
          {({ close }) => (
            <form
              onSubmit={(event) => {
                event.preventDefault();
                if (!told) return;
                close();
                setName("");
                void keep(told, at(documents.getState().shot, pointer) as Look);
              }}
            >
              <Line>
                <input
                  // biome-ignore lint/a11y/noAutofocus: the sheet was opened to type this
                  autoFocus
                  aria-label="Name of the look"
                  placeholder="Name of the look"
                  maxLength={80}
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
                <Button type="submit" isDisabled={!told}>
                  {looks.some((one) => one.name === told) ? "Keep in its place" : "Keep in the project"}
                </Button>
              </Line>
              {looks.map((one) => (
                <Line key={one.id}>
                  <i style={{ background: one.look.base_colour }} />
                  <span>{one.name}</span>
                  <IconButton
                    data-small
                    aria-label={`Let go of the look ${one.name}`}
                    onPress={() => void letGo(one.id)}
                  >
                    <X size={13} />
                  </IconButton>
                </Line>
              ))}
            </form>
          )}
        </Sheet>
      </Popover>
    </DialogTrigger>
  );
}

const Sheet = styled(Dialog)`
  padding: 10px 12px; outline: none; max-height: 320px; overflow: auto;
  background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
`;
const Line = styled.div`
  display: flex; gap: 8px; align-items: center; min-height: 28px;
  & > span { flex: 1; }
  & > i { width: 12px; height: 12px; border-radius: 50%; border: 1px solid var(--line); }
  & > input { font: inherit; padding: 3px 6px; background: var(--paper); color: var(--ink); border: 1px solid var(--line); border-radius: 3px; }
`;
