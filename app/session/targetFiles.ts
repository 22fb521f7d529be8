import { encodeDeltas } from "~core/ledger/deltasBlob";
import { shapeNamed } from "~core/model/character";
import { uniqueName } from "~core/model/uniqueName";
import type { BringOptions, BroughtTarget } from "~core/shapes/targets/bringTargets";
import { hashOf } from "./ledgerClient";
import { longRun, type LongRun } from "./measureClient";
import type { StepWithBlobs } from "./sculpt";
import type { Loaded } from "./session";

/** Reads and fits target files off the main thread. */
export const bringFiles = (loaded: Loaded, files: readonly File[], options: BringOptions, progress: (share: number) => void): LongRun<BroughtTarget[]> =>
  longRun(loaded, async (api, tell, token) => api.targets(await Promise.all(files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) }))), options, tell, token), progress);

/** The steps that keep what was brought. @param replace whether a shape of the same name gets the new movement; else the new one gets a number. */
export async function targetSteps({ character }: Loaded, brought: readonly BroughtTarget[], replace: boolean, source: string): Promise<StepWithBlobs[]> {
  const taken = new Set(character.shapes.map((s) => s.name));
  const made = await Promise.all(brought.map(async (b) => {
    const bytes = encodeDeltas(character, b.deltas);
    return { b, bytes, blob: await hashOf(bytes) };
  }));
  const edits = made.filter(({ b }) => replace && shapeNamed(character, b.name));
  const added = made.filter((m) => !edits.includes(m));
  return [
    ...(edits.length ? [{ step: { op: "edit shapes" as const, items: edits.map(({ b, blob }) => ({ name: b.name, blob })) }, blobs: edits.map((m) => m.bytes) }] : []),
    ...(added.length ? [{ step: { op: "add shapes" as const, source, items: added.map(({ b, blob }) => {
      const name = uniqueName(b.name, taken, "shape");
      return { name, label: name, blob };
    }) }, blobs: added.map((m) => m.bytes) }] : []),
  ];
}
