import { encodeContainer } from "~core/formats/container";
import type { Step } from "~core/ledger/steps";
import { allKept, change, forget, keep } from "./kept/keptStore";
import { beginStep } from "./stepsAtWork";
import { ask, postJson, Refusal, type Trouble } from "./refusal";

export { ask, postJson, Refusal };

export const hashOf = async (bytes: Uint8Array<ArrayBuffer>): Promise<string> =>
  Array.from(new Uint8Array(await crypto.subtle.digest("SHA-256", bytes)), (b) => b.toString(16).padStart(2, "0")).join(
    "",
  );

/** A step with the geometry it carries. */
export interface StepWithBlobs {
  readonly step: Step;
  readonly blobs: readonly Uint8Array[];
}
/** A step that has not reached the database yet; kept in the browser until it has. */
export interface PendingStep extends StepWithBlobs {
  readonly character: string;
  /** The same whenever the step is sent: the server takes it once. */
  readonly key: string;
  /** Place in the order in which steps were made. */
  readonly order: number;
  /** Draft that it was made of, which is in work until the step is taken. */
  readonly from: string | null;
  /** Why it has not been taken; null while it is on its way. */
  readonly trouble: Trouble | null;
  readonly told: string;
}
/** What the server says of a step it has taken. */
export interface Taken {
  readonly revision: number;
  /** Steps undone before that are kept as a branch now. */
  readonly branched: number;
}

/** Changes of one character go one after the other, each on the revision the one before it made. */
const lines = new Map<string, { last: Promise<unknown>; revision: number }>();
function inLine<T extends { revision: number }>(
  character: string,
  seen: number,
  work: (revision: number) => Promise<T>,
): Promise<T> {
  const line = lines.get(character) ?? { last: Promise.resolve(), revision: 0 };
  lines.set(character, line);
  const next = line.last.then(async () => {
    const answer = await work(Math.max(seen, line.revision));
    line.revision = answer.revision;
    return answer;
  });
  line.last = next.catch(() => {});
  return next;
}

let orders = 0;
/** @param from draft that the step is made of: sent again unchanged, it is the same step. */
export async function pendingOf(
  character: string,
  made: StepWithBlobs,
  from: string | null = null,
): Promise<PendingStep> {
  const key =
    from === null
      ? crypto.randomUUID()
      : `${from} ${(await hashOf(new TextEncoder().encode(JSON.stringify(made.step)))).slice(0, 24)}`;
  return { ...made, character, key, order: Date.now() + orders++ / 1000, from, trouble: null, told: "" };
}

const WAITING = "waits for the one before it";

/**
 * Keeps steps in the browser, in their order, so that none is lost whatever happens to those before it. An older step
 * of the same draft goes.
 */
export async function keepSteps(steps: readonly PendingStep[]): Promise<void> {
  for (const step of steps) {
    if (step.from !== null)
      for (const old of await pendingSteps(step.character))
        if (old.from === step.from && old.key !== step.key) await forget("steps", old.key);
    await keep("steps", step.key, step);
  }
}

/**
 * Sends a step that is kept. It is forgotten when the server has confirmed it, and only then; else it says why it is
 * still here.
 * @param revision of the ledger that the page shows. @throws Refusal
 */
export async function sendStep(step: PendingStep, revision: number): Promise<Taken> {
  const job = crypto.randomUUID();
  try {
    const taken = await inLine(step.character, revision, (now) => {
      const ended = beginStep(job);
      return ask(`/api/characters/${encodeURIComponent(step.character)}/steps?job=${job}`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream" },
        body: encodeContainer({ step: step.step, revision: now, key: step.key, blobs: step.blobs }),
      }).finally(ended) as Promise<Taken>;
    });
    await forget("steps", step.key);
    return taken;
  } catch (error) {
    const refusal = error instanceof Refusal ? error : new Refusal("That did not work.", "", "failed");
    await change<PendingStep>("steps", step.key, (old) => ({
      ...old,
      trouble: refusal.trouble,
      told: refusal.message,
    }));
    throw refusal;
  }
}

/** Says of steps that they wait for one that was not taken. */
export async function letWait(steps: readonly PendingStep[]): Promise<void> {
  for (const step of steps)
    await change<PendingStep>("steps", step.key, (old) => ({ ...old, trouble: "unreachable", told: `It ${WAITING}.` }));
}

/** Steps of a character that are still waiting, oldest first. */
export async function pendingSteps(character: string): Promise<PendingStep[]> {
  return (await allKept<PendingStep>("steps"))
    .filter((s) => s.character === character)
    .sort((a, b) => a.order - b.order);
}
export const forgetStep = (step: PendingStep): Promise<void> => forget("steps", step.key);

/**
 * Whether a step that was not taken can be let go at once: it was cancelled, or the server said for certain that it
 * will not take it, and what it was made of is still open.
 */
export const canLetGo = (step: PendingStep, trouble: Trouble): boolean =>
  trouble === "cancelled" ||
  (trouble === "refused" && (step.blobs.length === 0 || step.from !== null)) ||
  (step.from !== null && (trouble === "conflict" || trouble === "too large"));

export const moveHead = (character: string, revision: number, by: number): Promise<unknown> =>
  inLine(
    character,
    revision,
    (now) => postJson(`/api/characters/${encodeURIComponent(character)}/head`, { by, revision: now }) as Promise<Taken>,
  );
/** Takes up the steps of a branch in place of the ledger. */
export const takeUpBranch = (character: string, revision: number, branch: number): Promise<unknown> =>
  inLine(
    character,
    revision,
    (now) =>
      postJson(`/api/characters/${encodeURIComponent(character)}/branches/${branch}`, {
        revision: now,
      }) as Promise<Taken>,
  );
