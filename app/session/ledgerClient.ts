import { del, entries, set } from "idb-keyval";
import { encodeContainer } from "~core/formats/container";
import type { Step } from "~core/ledger/steps";

/** What the server says when it will not do something. */
export class Refusal extends Error {
  constructor(
    readonly what: string,
    readonly todo: string,
    /** The server or its database could not be reached: worth trying again unchanged. */
    readonly unreachable: boolean,
  ) {
    super([what, todo].filter(Boolean).join(" "));
  }
}

export async function ask(url: string, init: RequestInit): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(url, init);
  } catch {
    throw new Refusal("The server does not answer.", "Nothing is lost: try again in a moment.", true);
  }
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body;
  const error = (body as { error?: { what: string; where: string; todo: string } } | null)?.error;
  throw new Refusal(error ? [error.where && `${error.where}:`, error.what].filter(Boolean).join(" ") : "The server failed at this.", error?.todo ?? "", response.status === 503);
}

export const hashOf = async (bytes: Uint8Array<ArrayBuffer>): Promise<string> => Array.from(new Uint8Array(await crypto.subtle.digest("SHA-256", bytes)), (b) => b.toString(16).padStart(2, "0")).join("");

/** A step that has not reached the database yet; kept in the browser until it has. */
export interface PendingStep {
  readonly character: string;
  readonly step: Step;
  readonly blobs: readonly Uint8Array[];
  readonly madeAt: number;
}
const key = (p: PendingStep): string => `step ${p.character} ${p.madeAt}`;

/** Changes of one character go one after the other, each on the revision the one before it made. */
const lines = new Map<string, { last: Promise<unknown>; revision: number }>();
function inLine(character: string, seen: number, work: (revision: number) => Promise<unknown>): Promise<void> {
  const line = lines.get(character) ?? { last: Promise.resolve(), revision: 0 };
  lines.set(character, line);
  const next = line.last.then(async () => {
    const answer = await work(Math.max(seen, line.revision));
    line.revision = (answer as { revision: number }).revision;
  });
  line.last = next.catch(() => {});
  return next;
}

/** Sends a step. It is kept in the browser first and forgotten only when the server has confirmed or refused it. @param revision the one the page shows. */
export async function sendStep(pending: PendingStep, revision: number): Promise<void> {
  await set(key(pending), pending);
  try {
    await inLine(pending.character, revision, (now) =>
      ask(`/api/characters/${encodeURIComponent(pending.character)}/steps`, { method: "POST", headers: { "Content-Type": "application/octet-stream" }, body: encodeContainer({ step: pending.step, revision: now, blobs: pending.blobs }) }));
  } catch (error) {
    if (!(error instanceof Refusal && error.unreachable)) await del(key(pending));
    throw error;
  }
  await del(key(pending));
}

/** Steps of a character that are still waiting, oldest first. */
export async function pendingSteps(character: string): Promise<PendingStep[]> {
  const all = await entries<string, PendingStep>();
  return all.filter(([k]) => String(k).startsWith(`step ${character} `)).map(([, p]) => p).sort((a, b) => a.madeAt - b.madeAt);
}
export const forgetStep = (p: PendingStep): Promise<void> => del(key(p));

export const moveHead = (character: string, revision: number, by: number): Promise<void> => inLine(character, revision, (now) => postJson(`/api/characters/${encodeURIComponent(character)}/head`, { by, revision: now }));

export const postJson = (url: string, body: unknown): Promise<unknown> => ask(url, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
