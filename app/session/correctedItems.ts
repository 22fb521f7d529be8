import { mirrorDriver, mirrorSamples } from "~core/correctives/mirrorCorrective";
import type { JointProposal } from "~core/correctives/proposeForJoint";
import type { Step } from "~core/ledger/steps";
import type { Character, Driver, Shape, ShapeDelta } from "~core/model/character";
import type { SampleSet } from "~core/model/poseDriver";
import { uniqueName } from "~core/model/uniqueName";
import { mirrorDeltas, mirrorName } from "~core/shapes/mirrorDeltas";
import type { StepWithBlobs } from "./ledgerClient";
import { sampledItem } from "./poseDrivers";
import { correctiveItem } from "./sculpt";

type MakeStep = Extract<Step, { op: "make correctives" }>;
type Sampled = NonNullable<MakeStep["sampled"]>[number];

/** From this share of vertices without a counterpart on a figure counts as other on either side. */
const ASYMMETRIC = 0.02;

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
    for (const { shape, driver } of made) await this.keepDriven(shape.deltas, driver, shape.name);
    if (samples) await this.keepSampled(samples.set, samples.shapes);
  }

  /** The same for the other side. @returns false, and nothing is kept, where the figure's sides differ. */
  async keepMirrored({ made, samples }: JointProposal): Promise<boolean> {
    const { character } = this;
    let [moved, unmatched] = [0, 0];
    const mirrored = (shape: Shape): Shape => {
      const other = mirrorDeltas(character, shape.deltas);
      moved += shape.deltas.reduce((n, d) => n + d.vertices.length, 0);
      unmatched += other.unmatched;
      return { name: mirrorName(shape.name), label: mirrorName(shape.label), deltas: other.deltas };
    };
    const driven = made.map(({ shape, driver }) => ({ shape: mirrored(shape), driver }));
    const sampled = samples?.shapes.map(mirrored) ?? [];
    if (unmatched > ASYMMETRIC * moved) return false;
    for (const { shape, driver } of driven)
      await this.keepDriven(shape.deltas, mirrorDriver(character, driver), shape.name);
    if (samples) await this.keepSampled(mirrorSamples(character, samples.set), sampled);
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

  private async keepSampled(set: SampleSet, shapes: readonly Shape[]): Promise<void> {
    const name = uniqueName(set.name, this.sets, "swing");
    const { item, blobs } = await sampledItem(this.character, { set: { ...set, name }, shapes }, this.shapes);
    this.sampled.push(item);
    this.bytes.push(...blobs);
  }
}
