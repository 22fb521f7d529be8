import type { MaskRecord } from "~core/correctives/paintedMask";
import type { StrokeRecord } from "~core/correctives/sketch";
import type { JointMotion } from "~core/skeleton/jointMotions";
import type { PaintRecord, PaintTool } from "~core/weights/paintWeights";
import type { PendingStep } from "../ledgerClient";
import type { ScanState } from "../scan";
import type { SculptPurpose } from "../sculptShape";
import type { ViewState } from "../urlState";
import { allKept, forget, keep, kept, tell } from "./keptStore";

/** The pose and mix that something was made over. */
export type DraftView = Pick<ViewState, "pose" | "weights" | "method" | "drivers" | "joint">;

/** Where a draft belongs: a station with its own parameters of the address. */
export interface DraftPlace {
  readonly station: string;
  readonly query: Readonly<Record<string, string>>;
}

export type DraftContent =
  | {
      readonly kind: "sculpt";
      readonly part: string;
      readonly vertexCount: number;
      readonly deltas: Float32Array;
      readonly began: Float32Array;
      readonly ill: readonly number[];
      readonly editing: string | null;
      readonly motion: JointMotion | null;
      readonly purpose: SculptPurpose | null;
      readonly name: string | null;
      readonly undo: readonly StrokeRecord[];
      readonly redo: readonly StrokeRecord[];
      readonly view: DraftView;
    }
  | {
      readonly kind: "weights";
      readonly part: string;
      readonly vertexCount: number;
      readonly joints: readonly string[];
      readonly dense: Float32Array;
      readonly tool: PaintTool;
      readonly painted: readonly string[];
      readonly undo: readonly PaintRecord[];
      /** Absent in drafts of earlier versions. */
      readonly redo?: readonly PaintRecord[];
      readonly view: DraftView;
    }
  | {
      readonly kind: "mask";
      readonly part: string;
      readonly values: Float32Array;
      readonly undo: readonly MaskRecord[];
      /** Absent in drafts of earlier versions. */
      readonly redo?: readonly MaskRecord[];
    }
  | { readonly kind: "scan"; readonly scan: Omit<ScanState, "positions" | "mesh" | "tree"> }
  | { readonly kind: "rules"; readonly of: string; readonly value: unknown }
  | { readonly kind: "step"; readonly step: PendingStep };

/** Work that is not in the ledger yet, kept in this browser while it is done. */
export interface Draft {
  readonly id: string;
  readonly character: string;
  /** What it is, in words that follow "In work:". */
  readonly title: string;
  /** How much of it there is, as "12 strokes". */
  readonly amount: string;
  readonly place: DraftPlace;
  readonly changedAt: number;
  readonly content: DraftContent;
}

/** Large things of a draft that do not change while it is worked on. */
const heavyKey = (id: string): string => `${id} heavy`;
const isDraft = (x: unknown): x is Draft => typeof x === "object" && x !== null && "content" in x;

export const keepDraft = (draft: Draft): Promise<void> => keep("drafts", draft.id, draft);
export const keepHeavy = (id: string, value: unknown): Promise<void> => keep("drafts", heavyKey(id), { heavy: value });
export const heavyOf = async <T>(id: string): Promise<T | null> =>
  (await kept<{ heavy: T }>("drafts", heavyKey(id)))?.heavy ?? null;
export const dropDraft = (id: string): Promise<void> => forget("drafts", id, heavyKey(id));
export const draftOf = (id: string): Promise<Draft | undefined> => kept<Draft>("drafts", id);

/** Drafts, the latest first; of one character where it is named. */
export const listDrafts = async (character?: string): Promise<Draft[]> =>
  (await allKept<unknown>("drafts"))
    .filter(isDraft)
    .filter((d) => character === undefined || d.character === character)
    .sort((a, b) => b.changedAt - a.changedAt);

export const dropDraftsOf = async (character: string): Promise<void> => {
  for (const draft of await listDrafts(character)) await dropDraft(draft.id);
};

const lockName = (id: string): string => `yxomorph draft ${id}`;
/** Marks a draft as in work in this window until the callback's promise ends, so that other windows do not offer it. */
export const holdDraft = (id: string, until: Promise<void>): void =>
  void (typeof navigator === "undefined"
    ? undefined
    : navigator.locks
        ?.request(lockName(id), () => until)
        .then(
          () => tell("drafts"),
          () => {},
        ));
/** Of drafts, those that no window works on. */
export async function freeDrafts(drafts: readonly Draft[]): Promise<Draft[]> {
  const held = new Set(((await navigator.locks?.query())?.held ?? []).map((l) => l.name));
  return drafts.filter((d) => !held.has(lockName(d.id)));
}
