import { useSnackbar } from "notistack";
import { useCallback } from "react";
import { useRevalidator, useRouteLoaderData } from "react-router";
import type { Step } from "~core/ledger/steps";
import type { CharacterPage } from "../routes/character";
import { moveHead, Refusal, sendStep } from "./ledgerClient";

export const useCharacterPage = (): CharacterPage => useRouteLoaderData("routes/character") as CharacterPage;

export interface Desk {
  /** Adds a step to the ledger; resolves to true when the server has it. */
  readonly addStep: (step: Step, blobs?: readonly Uint8Array[]) => Promise<boolean>;
  readonly undo: () => Promise<void>;
  readonly redo: () => Promise<void>;
  /** Goes so many steps forward or back at once. */
  readonly moveBy: (steps: number) => Promise<void>;
}

/** What stations do to the ledger, with the refusals told in place. */
export function useDesk(): Desk {
  const page = useCharacterPage();
  const { revalidate } = useRevalidator();
  const { enqueueSnackbar } = useSnackbar();
  const { id } = page.character;
  const { revision } = page.ledger;
  const tell = useCallback((error: unknown) => {
    enqueueSnackbar(error instanceof Refusal ? error.message : "That did not work.", { variant: "error" });
    void revalidate();
  }, [enqueueSnackbar, revalidate]);
  const addStep = useCallback(async (step: Step, blobs: readonly Uint8Array[] = []) => {
    try {
      await sendStep({ character: id, step, blobs, madeAt: Date.now() }, revision);
      await revalidate();
      return true;
    } catch (error) {
      if (error instanceof Refusal && error.unreachable) window.dispatchEvent(new Event("yxomorph-pending"));
      else tell(error);
      return false;
    }
  }, [id, revision, revalidate, tell]);
  const move = useCallback(async (by: number) => {
    try {
      await moveHead(id, revision, by);
      await revalidate();
    } catch (error) {
      tell(error);
    }
  }, [id, revision, revalidate, tell]);
  return { addStep, undo: useCallback(() => move(-1), [move]), redo: useCallback(() => move(1), [move]), moveBy: move };
}
