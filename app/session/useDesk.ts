import { useSnackbar } from "notistack";
import { useCallback } from "react";
import { useRevalidator, useRouteLoaderData } from "react-router";
import type { Step } from "~core/ledger/steps";
import type { CharacterPage } from "~server/services/characterPage";
import { readPage } from "./readPage";
import { noticeToast } from "../ui/noticeToast";
import {
  canLetGo,
  forgetStep,
  keepSteps,
  letWait,
  moveHead,
  pendingOf,
  Refusal,
  sendStep,
  type PendingStep,
  type StepWithBlobs,
} from "./ledgerClient";

export const useCharacterPage = (): CharacterPage => readPage(useRouteLoaderData("routes/character") as string);

export interface Desk {
  /** Adds a step to the ledger; resolves to true when the server has it. */
  readonly addStep: (step: Step, blobs?: readonly Uint8Array[]) => Promise<boolean>;
  /** Adds steps one after the other; those that come after one that is not taken are kept with it. */
  readonly addSteps: (steps: readonly StepWithBlobs[]) => Promise<boolean>;
  /** Adds the step that a draft becomes. @returns why it was not taken, or null when it was. */
  readonly addFromDraft: (made: StepWithBlobs, draft: string) => Promise<Refusal | null>;
  readonly undo: () => Promise<void>;
  readonly redo: () => Promise<void>;
  /** Goes so many steps forward or back at once. */
  readonly moveBy: (steps: number) => Promise<void>;
}

/** Sends steps one after the other. @returns why one was not taken, or null. */
function useSendAll(revision: number): (steps: readonly PendingStep[]) => Promise<Refusal | null> {
  const { revalidate } = useRevalidator();
  const { enqueueSnackbar } = useSnackbar();
  const tellBranched = useCallback(
    (count: number) => {
      const text =
        `${count === 1 ? "The step" : `The ${count} steps`} undone before ` +
        `${count === 1 ? "is" : "are"} kept as a branch: Hand-off, Ledger.`;
      enqueueSnackbar(text, noticeToast(text));
    },
    [enqueueSnackbar],
  );
  return useCallback(
    async (steps: readonly PendingStep[]): Promise<Refusal | null> => {
      await keepSteps(steps);
      for (const [i, step] of steps.entries()) {
        try {
          const { branched } = await sendStep(step, revision);
          if (branched > 0) tellBranched(branched);
        } catch (error) {
          const refusal = error as Refusal;
          if (canLetGo(step, refusal.trouble)) await forgetStep(step);
          await letWait(steps.slice(i + 1));
          if (refusal.trouble === "cancelled") enqueueSnackbar(refusal.message, noticeToast(refusal.message));
          else if (refusal.trouble !== "unreachable" && step.from === null)
            enqueueSnackbar(refusal.message, { variant: "error" });
          // a page that cannot be fetched now would take the place of what is open
          if (refusal.trouble !== "unreachable") await revalidate();
          return refusal;
        }
      }
      await revalidate();
      return null;
    },
    [enqueueSnackbar, revalidate, revision, tellBranched],
  );
}

/** What stations do to the ledger, with the refusals told in place. */
export function useDesk(): Desk {
  const page = useCharacterPage();
  const { revalidate } = useRevalidator();
  const { enqueueSnackbar } = useSnackbar();
  const { id } = page.character;
  const { revision } = page.ledger;
  const sendAll = useSendAll(revision);
  const addSteps = useCallback(
    async (made: readonly StepWithBlobs[]) =>
      (await sendAll(await Promise.all(made.map((m) => pendingOf(id, m))))) === null,
    [id, sendAll],
  );
  const addStep = useCallback(
    (step: Step, blobs: readonly Uint8Array[] = []) => addSteps([{ step, blobs }]),
    [addSteps],
  );
  const addFromDraft = useCallback(
    async (made: StepWithBlobs, draft: string) => sendAll([await pendingOf(id, made, draft)]),
    [id, sendAll],
  );
  const move = useCallback(
    async (by: number) => {
      try {
        await moveHead(id, revision, by);
      } catch (error) {
        enqueueSnackbar(error instanceof Refusal ? error.message : "That did not work.", { variant: "error" });
      }
      await revalidate();
    },
    [id, revision, revalidate, enqueueSnackbar],
  );
  return {
    addStep,
    addSteps,
    addFromDraft,
    undo: useCallback(() => move(-1), [move]),
    redo: useCallback(() => move(1), [move]),
    moveBy: move,
  };
}
