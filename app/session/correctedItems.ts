import { mirrorDriver, mirrorSamples } from "~core/correctives/mirrorCorrective";
import type { JointProposal } from "~core/correctives/proposeForJoint";
import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { Step } from "~core/ledger/steps";
import type { Character, Driver, ShapeDelta } from "~core/model/character";
import type { SampleSet } from "~core/model/poseDriver";
import { uniqueName } from "~core/model/uniqueName";
import { mirrorDeltas, mirrorName } from "~core/shapes/mirrorDeltas";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import { written } from "./poseDrivers";
import { correctiveItem } from "./sculpt";

type MakeStep = Extract<Step, { op: "make correctives" }>;
type Sampled = NonNullable<MakeStep["sampled"]>[number];

/** From this share of vertices without a counterpart on a figure counts as other on either side. */
const ASYMMETRIC = 0.02;

interface Moved {
  readonly name: string;
  readonly label: string;
  readonly deltas: readonly ShapeDelta[];
}

/** Proposals for joints gathered as one step, their shapes named apart from all that are there. */
export class CorrectedItems {
  private readonly items: MakeStep["items"] = [];
  private readonly sampled: Sampled[] = [];
  private readonly bytes: Uint8Array[] = [];
  private readonly shapes: Set<string>;
  private readonly sets: Set<string>;

  constructor(private readonly character: Character) {
    this.shapes = new Set(character.shapes.map((s) => s.name));
    this.sets = new Set(character.sampleSets?.map((s) => s.name));
  }

  /** How many shapes there are. */
  get count(): number {
    return this.items.length + this.sampled.reduce((n, s) => n + s.shapes.length, 0);
  }

  async keep({ made, samples }: JointProposal): Promise<void> {
    for (const { shapes } of made)
      for (const { shape, driver } of shapes) await this.keepDriven(shape.deltas, driver, shape.name);
    if (samples) await this.keepSampled(samples.set, samples.shapes);
  }

  /** The same for the other side. @returns false, and nothing is kept, where the figure's sides differ. */
  async keepMirrored({ made, samples }: JointProposal): Promise<boolean> {
    const { character } = this;
    let [moved, unmatched] = [0, 0];
    const mirrored = <T extends Moved>(shape: T): Moved => {
      const other = mirrorDeltas(character, shape.deltas);
      moved += shape.deltas.reduce((n, d) => n + d.vertices.length, 0);
      unmatched += other.unmatched;
      return { name: mirrorName(shape.name), label: mirrorName(shape.label), deltas: other.deltas };
    };
    const driven = made.flatMap((m) => m.shapes.map((x) => ({ shape: mirrored(x.shape), driver: x.driver })));
    const sampled = samples?.shapes.map(mirrored) ?? [];
    if (unmatched > ASYMMETRIC * moved) return false;
    for (const { shape, driver } of driven)
      await this.keepDriven(shape.deltas, mirrorDriver(character, driver), shape.name);
    if (samples) {
      const names = new Map(samples.shapes.map((s) => [s.name, mirrorName(s.name)]));
      const set = mirrorSamples(character, samples.set);
      await this.keepSampled(
        {
          ...set,
          samples: set.samples.map((s, i) => ({
            ...s,
            shape: names.get(samples.set.samples[i]!.shape ?? "") ?? s.shape,
          })),
        },
        sampled,
      );
    }
    return true;
  }

  /** One step with all of them. */
  step(): StepWithBlobs {
    const { items, sampled } = this;
    return { step: { op: "make correctives", items, ...(sampled.length ? { sampled } : {}) }, blobs: this.bytes };
  }

  private async keepDriven(deltas: readonly ShapeDelta[], driver: Driver, wished: string): Promise<void> {
    const name = uniqueName(wished, this.shapes, "corrective");
    const made = await correctiveItem(this.character, deltas, { ...driver, shape: name, method: "linear" }, name);
    this.items.push(made.item);
    this.bytes.push(made.bytes);
  }

  private async keepSampled(set: SampleSet, shapes: readonly Moved[]): Promise<void> {
    const names = new Map(shapes.map((s) => [s.name, uniqueName(s.name, this.shapes, "pose")]));
    const made: Sampled["shapes"] = [];
    for (const s of shapes) {
      const bytes = encodeDeltas(this.character, s.deltas);
      this.bytes.push(bytes);
      made.push({ name: names.get(s.name)!, label: names.get(s.name)!, blob: await hashOf(bytes) });
    }
    const kept: SampleSet = {
      ...set,
      name: uniqueName(set.name, this.sets, "swing"),
      samples: set.samples.map((s) => ({ ...s, shape: s.shape === null ? null : (names.get(s.shape) ?? s.shape) })),
    };
    this.sampled.push({ set: written<Sampled["set"]>(kept), shapes: made });
  }
}
