import type { TwistLimb } from "~core/weights/spreadTwist";
import { writtenGivingWay } from "./givingWay";
import { startJob } from "./jobs/pageJobs";
import type { ToldStep } from "./sculpt";
import type { Loaded, Session } from "./session";

/**
 * The step that spreads the twist of limbs; correctives that were sculpted in a twist and stay give way, and are told.
 * @param without correctives of these twists that go.
 */
export async function twistStep(
  loaded: Loaded,
  limbs: readonly TwistLimb[],
  without: readonly string[],
  method: Session["method"],
  options: Parameters<typeof startJob>[3],
): Promise<ToldStep> {
  const { edits, missedMm } = await startJob(
    loaded,
    "spread twists",
    { limbs: [...limbs], without: [...without], method },
    options,
  );
  const { edits: given, blobs } = await writtenGivingWay(loaded.character, edits);
  return {
    step: {
      op: "add twist joints",
      limbs: limbs.map((l) => ({ ...l })),
      ...(without.length ? { without: [...without] } : {}),
      ...(given.length ? { edits: given } : {}),
    },
    blobs,
    told: given.length
      ? `${given.length === 1 ? `${given[0]!.name} gives` : `${given.length} correctives give`} way: what was sculpted ` +
        `in a twist is met to ${missedMm.toFixed(3)} mm.`
      : "",
  };
}
