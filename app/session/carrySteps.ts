import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { Step } from "~core/ledger/steps";
import type { Character, Shape } from "~core/model/character";
import { poseDriven } from "~core/model/drivenShapes";
import type { PoseDriver } from "~core/model/poseDriver";
import { uniqueName } from "~core/model/uniqueName";
import type { CarriedCorrectives } from "~core/transfer/carryCorrectives";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import { driveStep, sampledItem } from "./poseDrivers";
import { correctiveItem } from "./sculpt";

type MakeStep = Extract<Step, { op: "make correctives" }>;

/**
 * The steps that keep correctives carried over from another character, their shapes named apart from all that stay.
 * @param replaced whether everything that poses drive here goes first.
 */
export async function carrySteps(
  character: Character,
  { driven, read, sampled }: CarriedCorrectives,
  replaced: boolean,
): Promise<StepWithBlobs[]> {
  const gone = replaced ? poseDriven(character) : new Set<string>();
  const sets = replaced ? (character.sampleSets ?? []).map((s) => s.name) : [];
  const alone = [...gone].filter((n) => !character.sampleSets?.some((s) => s.samples.some((x) => x.shape === n)));
  const taken = new Set(character.shapes.flatMap((s) => (gone.has(s.name) ? [] : s.name)));
  const setNames = new Set(replaced ? [] : character.sampleSets?.map((s) => s.name));
  const items: MakeStep["items"] = [];
  const samples: NonNullable<MakeStep["sampled"]> = [];
  const blobs: Uint8Array[] = [];
  for (const { shape, driver } of driven) {
    const name = uniqueName(shape.name, taken, "corrective");
    const made = await correctiveItem(character, shape.deltas, { ...driver, shape: name }, name);
    items.push(made.item);
    blobs.push(made.bytes);
  }
  for (const { set, shapes } of sampled) {
    const name = uniqueName(set.name, setNames, "poses");
    const made = await sampledItem(character, { set: { ...set, name }, shapes }, taken);
    samples.push(made.item);
    blobs.push(...made.blobs);
  }
  return [
    ...sets.map((name): StepWithBlobs => ({ step: { op: "remove samples", name }, blobs: [] })),
    ...(alone.length ? [{ step: { op: "remove shapes", names: alone } as const, blobs: [] }] : []),
    ...(items.length || samples.length
      ? [{ step: { op: "make correctives", items, ...(samples.length ? { sampled: samples } : {}) } as const, blobs }]
      : []),
    ...(read.length ? [await readStep(character, read, taken)] : []),
  ];
}

/** The step that keeps what several readings drive; weights that it reads and nothing has are made. */
async function readStep(
  character: Character,
  read: CarriedCorrectives["read"],
  taken: Set<string>,
): Promise<StepWithBlobs> {
  const names = new Map(read.map(({ shape }) => [shape.name, uniqueName(shape.name, taken, "corrective")]));
  const name = (shape: string): string => names.get(shape) ?? shape;
  const blobs = read.map(({ shape }) => encodeDeltas(character, shape.deltas));
  const shapes = await Promise.all(
    read.map(async ({ shape }: { readonly shape: Shape }, i) => ({
      name: name(shape.name),
      label: name(shape.name),
      blob: await hashOf(blobs[i]!),
    })),
  );
  const named = (driver: PoseDriver): PoseDriver => ({
    ...driver,
    shape: name(driver.shape),
    terms: driver.terms.map((t) => (t.kind === "weight" ? { ...t, shape: name(t.shape) } : t)),
  });
  const made = new Set(shapes.map((s) => s.name));
  const controls = read.flatMap(({ driver }) =>
    named(driver).terms.flatMap((t) =>
      t.kind === "weight" && !made.has(t.shape) && !character.shapes.some((s) => s.name === t.shape) ? [t.shape] : [],
    ),
  );
  return {
    step: {
      op: "drive by pose",
      items: read.flatMap(({ driver }) => driveStep(named(driver)).items),
      shapes,
      ...(controls.length ? { controls: [...new Set(controls)] } : {}),
    },
    blobs,
  };
}
