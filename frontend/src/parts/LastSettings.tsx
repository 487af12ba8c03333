import { useEffect, useState } from "react";
import styled from "styled-components";
import { answered, api } from "../api/client";
import { settingInWords } from "../document/parameter";
import type { Quantity } from "../document/quantities";
import { SmallButton } from "./Button";
import { useCommit, useEditing } from "./editing";

type Props = { pointer: string; quantity: Quantity; label: string; axis: number | null };

/** The last five settings of a value: hover shows one in the picture, click keeps it. Later changes of others stay. */
export function LastSettings({ pointer, quantity, label, axis }: Props) {
  const { documents } = useEditing();
  const commit = useCommit();
  const [settings, setSettings] = useState<unknown[]>([]);
  useEffect(() => {
    const id = documents.getState().id;
    let wanted = true;
    void answered(
      api.GET("/api/shots/{shot_id}/settings", { params: { path: { shot_id: id }, query: { pointer } } }),
    ).then(
      (answer) => wanted && setSettings(answer.settings),
      () => undefined,
    );
    return () => {
      wanted = false;
      documents.getState().dragTo(null);
    };
  }, [documents, pointer]);
  if (settings.length === 0) return null;
  const patch = (value: unknown) => [{ op: "replace" as const, path: pointer, value }];
  const words = (value: unknown) => settingInWords(value, axis ?? 0, quantity.whole);
  return (
    <Row role="group" aria-label={`Last settings of ${label}`}>
      was{" "}
      {settings.map((value) => (
        <SmallButton
          key={JSON.stringify(value)}
          onHoverStart={() => documents.getState().dragTo(patch(value))}
          onHoverEnd={() => documents.getState().dragTo(null)}
          onPress={() => commit(`${label} ${words(value)}`, patch(value))}
        >
          {words(value)}
        </SmallButton>
      ))}
    </Row>
  );
}

const Row = styled.div`
  && { color: var(--ink-soft); gap: 4px; }
`;
