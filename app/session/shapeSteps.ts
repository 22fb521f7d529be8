import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { EncodedFace } from "~core/ledger/encodeIdentity";
import { shapeNamed, type Character, type ShapeDelta } from "~core/model/character";
import { uniqueName } from "~core/model/uniqueName";
import { hashOf, type StepWithBlobs } from "./ledgerClient";

/**
 * The steps that take on another face: base, joints and as many of its shapes as one step holds, then the rest of them.
 */
export async function newFaceSteps(face: EncodedFace, source: string): Promise<StepWithBlobs[]> {
  const runs: EncodedFace["shapes"][number][][] = [[]];
  let size = face.base.length;
  for (const shape of face.shapes) {
    if (size + shape.bytes.length > MOST_BYTES) {
      runs.push([]);
      size = 0;
    }
    runs.at(-1)!.push(shape);
    size += shape.bytes.length;
  }
  const items = (run: EncodedFace["shapes"]): Promise<{ name: string; blob: string }[]> =>
    Promise.all(run.map(async (s) => ({ name: s.name, blob: await hashOf(s.bytes) })));
  const [first, ...rest] = runs;
  return [
    {
      step: {
        op: "new face",
        source,
        base: await hashOf(face.base),
        jointOffsets: face.jointOffsets.map((o) => ({ joint: o.joint, offset: [...o.offset] })),
        shapes: await items(first!),
      },
      blobs: [face.base, ...first!.map((s) => s.bytes)],
    },
    ...(await Promise.all(
      rest.map(async (run): Promise<StepWithBlobs> => ({
        step: { op: "edit shapes", items: await items(run) },
        blobs: run.map((s) => s.bytes),
      })),
    )),
  ];
}

/** Movement that is to become a shape. */
export interface NewMovement {
  readonly name: string;
  readonly label?: string;
  readonly deltas: readonly ShapeDelta[];
}
/** More than this does not go into one step, bytes. */
const MOST_BYTES = 24e6;

/**
 * The steps that keep movements as shapes; many or large ones go in several steps.
 * @param replace whether a shape of the same name gets the new movement; else the new one gets a number. @param source
 * where they came from, for the ledger's sentence.
 */
export async function shapeSteps(
  character: Character,
  movements: readonly NewMovement[],
  replace: boolean,
  source: string,
): Promise<StepWithBlobs[]> {
  const taken = new Set(character.shapes.map((s) => s.name));
  const made: { m: NewMovement; bytes: Uint8Array<ArrayBuffer>; blob: string }[] = [];
  // one after the other: the page stays quick while many are written
  for (const m of movements) {
    const bytes = encodeDeltas(character, m.deltas);
    made.push({ m, bytes, blob: await hashOf(bytes) });
  }
  const runs = { edit: [] as (typeof made)[], add: [] as (typeof made)[] };
  for (const one of made) {
    const list = runs[replace && shapeNamed(character, one.m.name) ? "edit" : "add"];
    const last = list.at(-1);
    if (last && last.reduce((n, x) => n + x.bytes.length, one.bytes.length) <= MOST_BYTES) last.push(one);
    else list.push([one]);
  }
  return [
    ...runs.edit.map((run): StepWithBlobs => ({
      step: { op: "edit shapes", items: run.map(({ m, blob }) => ({ name: m.name, blob })) },
      blobs: run.map((x) => x.bytes),
    })),
    ...runs.add.map((run): StepWithBlobs => ({
      step: {
        op: "add shapes",
        source,
        items: run.map(({ m, blob }) => {
          const name = uniqueName(m.name, taken, "shape");
          return { name, label: m.label && m.label !== m.name ? m.label : name, blob };
        }),
      },
      blobs: run.map((x) => x.bytes),
    })),
  ];
}
