import { encodeAdded } from "~core/intake/addThings";
import { hungOn, type Addition } from "~core/intake/bringAdditions";
import { hashOf, type StepWithBlobs } from "./ledgerClient";

const LONGEST = 200;

/** What is kept of an addition's geometry; joints have none. */
function bytesOf(a: Addition): Uint8Array<ArrayBuffer>[] {
  if (a.what === "part") return [encodeAdded(a.added)];
  return a.what === "clip" ? [encodeAdded({ ...a.clip, fitting: a.fitting })] : [];
}

/**
 * The steps that add parts, clips and joints to the character as it stands: joints first, since parts hang on them.
 * @param under by file, the joint that its coming joints are hung on where another than theirs was chosen.
 */
export async function additionSteps(
  chosen: readonly Addition[],
  under: Readonly<Record<string, string>>,
): Promise<StepWithBlobs[]> {
  const source = [...new Set(chosen.map((a) => a.file))].join(", ").slice(0, LONGEST);
  const steps: StepWithBlobs[] = [];
  const joints = chosen.flatMap((a) => {
    if (a.what !== "joints") return [];
    return under[a.file] ? hungOn(a.joints, under[a.file]!) : a.joints;
  });
  if (joints.length) {
    const coming = joints.map((j) => ({ ...j, rest: [...j.rest] }));
    steps.push({ step: { op: "add joints", source, joints: coming }, blobs: [] });
  }
  for (const what of ["part", "clip"] as const) {
    const list = chosen.filter((a) => a.what === what);
    const blobs = list.flatMap(bytesOf);
    const items = await Promise.all(
      list.map(async (a, i) => ({ name: a.name.slice(0, LONGEST), blob: await hashOf(blobs[i]!) })),
    );
    if (items.length) steps.push({ step: { op: what === "part" ? "add parts" : "add clips", source, items }, blobs });
  }
  return steps;
}
