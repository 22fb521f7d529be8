import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { Driver } from "~core/model/character";
import { askJob } from "./jobs/pageJobs";
import { hashOf } from "./ledgerClient";
import type { ToldStep } from "./sculpt";
import type { Loaded, Session } from "./session";

type Change = Partial<Omit<Driver, "shape" | "axis">>;

/** The step that changes what drives a corrective; those sculpted on top give way to where it acts from now on. */
export async function driverStep(
  loaded: Loaded,
  name: string,
  change: Change,
  method: Session["method"],
): Promise<ToldStep> {
  const step = { op: "set driver", name, driver: change } as const;
  // one that is switched off for a while comes back as it was
  if (change.enabled !== undefined) return { step, blobs: [] };
  const { edits } = await askJob(loaded, "ask again", { name, driver: change, method });
  if (edits.length === 0) return { step, blobs: [] };
  const blobs = edits.map((e) => encodeDeltas(loaded.character, e.deltas));
  const given = await Promise.all(edits.map(async (e, i) => ({ name: e.name, blob: await hashOf(blobs[i]!) })));
  return {
    step: { ...step, edits: given },
    blobs,
    told: `${edits.length === 1 ? `${edits[0]!.name}, sculpted on top of it, gives` : `${edits.length} correctives sculpted on top of it give`} way: their sculpts are met as before.`,
  };
}
