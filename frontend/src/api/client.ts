import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Problem = components["schemas"]["Problem"];

const BROWSER_KEY = "windsock-browser";

/** A number by which the server tells browsers apart; undo goes through the edits of one browser. */
export function browserId(): string {
  let id = localStorage.getItem(BROWSER_KEY);
  if (!id || !/^[a-z0-9]{8,64}$/.test(id)) {
    id = newKey().replaceAll("-", "");
    localStorage.setItem(BROWSER_KEY, id);
  }
  return id;
}

/** A new, unique key. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}

export const headers = { "X-Windsock-Browser": browserId() };

export const api = createClient<paths>({ baseUrl: "", headers });

/** A request that was answered with a problem, or not at all (status 0). */
export class Refused extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly problem?: Problem,
  ) {
    super(detail);
  }

  /** Whether asking again later can help. */
  get passing(): boolean {
    return this.status === 0 || this.status === 429 || this.status === 503;
  }
}

const AWAY = "The server does not answer. What was saved is unharmed. The page goes on by itself when it is back.";

/** The data of an answer, or Refused with the server's words. */
export async function answered<Data>(
  request: Promise<{ data?: Data; error?: unknown; response: Response }>,
): Promise<Data> {
  let reply: { data?: Data; error?: unknown; response: Response };
  try {
    reply = await request;
  } catch {
    throw new Refused(0, AWAY);
  }
  if (!reply.response.ok) throw refused(reply.response.status, reply.error);
  return reply.data as Data;
}

/** What the server answers to a file that is sent to it, or Refused. */
export async function sentFile<Data>(address: string, file: File, signal?: AbortSignal): Promise<Data> {
  const request = fetch(address, { method: "POST", headers, body: file, ...(signal ? { signal } : {}) });
  return answered<Data>(
    request.then(async (response) => {
      const data: unknown = await response.json().catch(() => undefined);
      return response.ok ? { data: data as Data, response } : { error: data, response };
    }),
  );
}

/** A text answer, or Refused. */
export async function fetchedText(address: string): Promise<string> {
  const response = await fetch(address, { headers }).catch(() => null);
  if (!response) throw new Refused(0, AWAY);
  if (response.ok) return response.text();
  throw refused(response.status, await response.json().catch(() => undefined));
}

/** The bytes of a file that is kept, or Refused. */
export async function fetchedFile(address: string): Promise<ArrayBuffer> {
  const response = await fetch(address, { headers }).catch(() => null);
  if (!response) throw new Refused(0, AWAY);
  if (response.ok) return response.arrayBuffer();
  throw refused(response.status, await response.json().catch(() => undefined));
}

/** A binary answer, or Refused. */
export async function fetchedBytes(address: string, body: unknown, signal?: AbortSignal): Promise<ArrayBuffer> {
  let response: Response;
  try {
    response = await fetch(address, {
      method: "POST",
      headers: { ...headers, "Content-Type": "application/json" },
      body: JSON.stringify(body),
      signal: signal ?? null,
    });
    if (response.ok) return await response.arrayBuffer();
  } catch (fault) {
    if (fault instanceof DOMException && fault.name === "AbortError") throw fault;
    throw new Refused(0, AWAY);
  }
  throw refused(response.status, await response.json().catch(() => undefined));
}

function refused(status: number, body: unknown): Refused {
  const problem = isProblem(body) ? body : undefined;
  return new Refused(status, problem?.detail ?? "The server answered in words the page does not know.", problem);
}

function isProblem(body: unknown): body is Problem {
  return typeof body === "object" && body !== null && "detail" in body && typeof body.detail === "string";
}

/** The state of a shot from an answer. The client library's reading of the description widens tuples; this names them again. */
export async function answeredShot(
  request: Promise<{ data?: { revision: number }; error?: unknown; response: Response }>,
): Promise<components["schemas"]["ShotState"]> {
  return (await answered(request)) as components["schemas"]["ShotState"];
}
