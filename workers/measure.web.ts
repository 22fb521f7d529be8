import { expose } from "comlink";
import type { Finding } from "../core/checks/finding";
import { PROFILES, type Profile } from "../core/checks/profile";
import { answerPairs } from "../core/checks/pairs/answerPairs";
import { searchMixes, type MixSearch } from "../core/checks/pairs/searchMixes";
import type { FaceReading } from "../core/measure/faceGauge";
import {
  makeFaceReader,
  readPairs,
  type FaceReader,
  type PairRow,
  type ShapePair,
} from "../core/checks/pairs/readPairs";
import { CHECKS, runChecks } from "../core/checks/runChecks";
import { proposeInSteps, type Proposal } from "../core/correctives/proposeSculpt";
import { excess, proposeForRange, type RangeProposal } from "../core/correctives/proposeForRange";
import { deform, makeRig, withShapes, type Rig } from "../core/deform/rig";
import type { Moment } from "../core/evaluate/moment";
import { bringAdditions, type Brought } from "../core/additions/bringAdditions";
import type { DeliveryFile } from "../core/formats/readDelivery";
import { writeObj } from "../core/formats/obj/writeObj";
import { isUserError } from "../core/model/userError";
import { clothOverMotions, skinOutside, type ClothRow } from "../core/measure/clothThrough";
import { walkThrough, type WalkRow } from "../core/measure/walkThrough";
import {
  makeJointGauge,
  measureJoint,
  withRig,
  type JointFields,
  type JointGauge,
  type JointReading,
} from "../core/measure/measureJoint";
import { measureShapes, type ShapeReading } from "../core/measure/measureShapes";
import { sweepMotion, type SweepRow, type Tick } from "../core/measure/sweepMotion";
import { poseFindings } from "../core/checks/pose/poseFindings";
import type { Character, ShapeDelta } from "../core/model/character";
import type { Pose } from "../core/evaluate/poseSkeleton";
import { withTrialShape } from "../core/correctives/correctiveFromSculpt";
import { pushCloth, type PushedCloth } from "../core/correctives/pushCloth";
import { combinedPoses, readCombined, type CombinedRow } from "../core/measure/combinedPoses";
import { poseNote } from "../core/correctives/poseNote";
import { takeSculpt, type TakenSculpt } from "../core/correctives/takeSculpt";
import { headFit, seatReading, type SeatReading } from "../core/repairs/headFit";
import type { Seat } from "../core/repairs/seatPart";
import { applyRepair, repairChanges, type Repair, type RepairChange } from "../core/repairs/repairs";
import { buildShapes, type BuildShape } from "../core/skeleton/refitJoints";
import { rebind, rebindError, type RebindError } from "../core/skeleton/rebind";
import { changeWeights, type WeightChange } from "../core/weights/changeWeights";
import { weightsEffect, type WeightsEffect } from "../core/weights/weightsEffect";
import type { DerivedItem } from "../core/shapes/deriveShapes";
import {
  bringTargets,
  type BringOptions,
  type BroughtTarget,
  type TargetFile,
} from "../core/shapes/targets/bringTargets";
import { transferShapes, type TransferResult } from "../core/transfer/transferShapes";
import type { PlainMesh } from "../core/formats/readPly";
import type { Similarity } from "../core/math/similarity";
import type { Vec3 } from "../core/math/vec3";
import type { FaceLandmark } from "../core/wrap/faceLandmarks";
import { layOnScan, type LaidOnScan, type ScanOptions } from "../core/wrap/layOnScan";
import { newIdentity } from "../core/wrap/newIdentity";
import { encodeIdentity, type EncodedFace } from "../core/ledger/encodeIdentity";
import { openScan, proposedOn, type OpenedScan } from "../core/wrap/openScan";
import type { JointMotion } from "../core/skeleton/jointMotions";

/** Holds a copy of the character off the page's main thread and answers what takes long. */
let rig: Rig | null = null;
let base: Character["parts"] | null = null;
const gauges = new Map<number, JointGauge | null>();
const cancelled = new Set<string>();

const SKETCH = "\u0000sketch";
const need = (): Rig => {
  if (!rig) throw new Error("no character is loaded");
  return rig;
};
function gaugeOf(joint: number): JointGauge | null {
  const known = gauges.get(joint);
  if (known !== undefined) return known && (known.rig === rig ? known : withRig(known, need()));
  const made = makeJointGauge(need(), joint);
  gauges.set(joint, made);
  return made;
}
const gaugeByName = (name: string): JointGauge | null => {
  const j = need().character.skeleton?.joints.findIndex((x) => x.name === name) ?? -1;
  return j < 0 ? null : gaugeOf(j);
};

let reader: FaceReader | null = null;
/** Tables for reading the face of the character as it is. */
function faceReader(): FaceReader {
  if (reader?.character !== need().character) reader = makeFaceReader(need().character);
  return reader;
}

/** Lets messages in between steps, so that a cancel arrives; reports at most every 60 ms. */
function ticker(token: string, progress: (share: number) => void): Tick {
  let last = 0;
  return async (done, total) => {
    if (Date.now() - last > 60 || done === total) {
      last = Date.now();
      progress(done / total);
      await new Promise((r) => setTimeout(r, 0));
    }
    if (cancelled.delete(token)) throw new Error("cancelled");
  };
}

export interface JointMeasure {
  readonly reading: JointReading;
  readonly fields: JointFields;
  /** Share of each vertex held by the joint and all under it, for masks and the weights reading. */
  readonly share: Float32Array;
}

/** An answer to what the user should know about their input. */
export interface Refused {
  readonly refused: { readonly what: string; readonly where: string; readonly todo: string };
}

export interface RepairPreview {
  readonly changes: RepairChange[];
  /** What the face checks would find afterwards, where the repair is one of the face. */
  readonly face: Finding[] | null;
  /** How a seated part lies on the head, now and then; null for one that has no place there. */
  readonly onHead: { readonly now: SeatReading; readonly then: SeatReading } | null;
  /** Skin that stands out of the seated part at rest. */
  readonly outside: {
    readonly part: string;
    readonly now: number;
    readonly count: number;
    readonly depthMm: number;
    readonly vertices: number[];
  } | null;
}
/** The answer, or what the user should know about their input. */
async function refusing<T>(work: () => Promise<T>): Promise<T | Refused> {
  try {
    return await work();
  } catch (error) {
    if (isUserError(error)) return { refused: { what: error.what, where: error.where, todo: error.todo } };
    throw error;
  }
}
const MOST_SHOWN = 200;
/** How far within the limits a corrective is asked to stay, for the angles between those measured. */
const ROOM = { volume: 0.005, depth: 1, stretch: 0.05 };

/** Findings of the face checks and of turned faces, worst first. */
const faceFindings = async (character: Character): Promise<Finding[]> =>
  (
    await runChecks(character, PROFILES.realtime, {
      only: CHECKS.map((c) => c.id).filter(
        (id) => id.startsWith("face.") || id === "shapes.flip" || id === "skeleton.eye-centre",
      ),
    })
  ).findings;

const api = {
  /** Takes a character; parts that are the same objects' copies as before keep their gauges. */
  load(character: Character, sameParts: boolean): void {
    if (rig && base && sameParts) rig = withShapes(rig, { ...character, parts: base });
    else {
      rig = makeRig(character);
      base = character.parts;
      gauges.clear();
    }
  },
  measure(
    joint: string,
    moment: Moment,
    sketch: { part: number; deltas: Float32Array; weight: number } | null,
  ): JointMeasure | null {
    const gauge = gaugeByName(joint);
    if (!gauge) return null;
    let used = gauge;
    let at = moment;
    if (sketch) {
      const all = Uint32Array.from({ length: sketch.deltas.length / 3 }, (_, v) => v);
      used = withRig(
        gauge,
        withShapes(
          need(),
          withTrialShape(need().character, [{ part: sketch.part, vertices: all, deltas: sketch.deltas }], SKETCH),
        ),
      );
      at = { ...moment, weights: { ...moment.weights, [SKETCH]: sketch.weight } };
    }
    const { reading, fields } = measureJoint(used, at);
    return { reading, fields, share: gauge.region.share };
  },
  async sweep(
    motion: JointMotion,
    steps: number,
    moment: Moment,
    profile: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<{ rows: SweepRow[]; findings: Finding[] } | null> {
    const gauge = gaugeByName(motion.joint);
    if (!gauge) return null;
    const rows = await sweepMotion(gauge, motion, steps, moment, ticker(token, progress));
    return { rows, findings: poseFindings(rows, profile) };
  },
  async check(profile: Profile, progress: (share: number) => void, token: string): Promise<Finding[]> {
    return (await runChecks(need().character, profile, { rig: need(), tick: ticker(token, progress) })).findings;
  },
  async shapes(progress: (share: number) => void, token: string): Promise<ShapeReading[]> {
    return measureShapes(need(), ticker(token, progress));
  },
  /** A first sculpt for a joint in a pose; null when nothing needs to move. */
  async propose(
    joint: string,
    moment: Moment,
    progress: (share: number) => void,
    token: string,
  ): Promise<Proposal | null> {
    const gauge = gaugeByName(joint);
    if (!gauge) return null;
    const tick = ticker(token, progress);
    const { limits } = PROFILES.realtime;
    // what is within the limits is left as it was made
    if (
      excess(measureJoint(gauge, moment).reading, {
        volume: limits["pose.volume.warn"],
        depth: limits["pose.penetration"],
        stretch: limits["pose.stretch"],
      }) === 0
    )
      return null;
    const steps = proposeInSteps(gauge, { ...moment, drivers: false });
    for (;;) {
      const { done, value } = steps.next();
      if (done) return value;
      await tick(value, 1);
    }
  },
  /**
   * Correctives with drivers for one end of a motion, when the way there is over the profile's limits; null when
   * nothing is.
   */
  async correctRange(
    motion: JointMotion,
    end: number,
    label: string,
    { limits }: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<RangeProposal | null> {
    const gauge = gaugeByName(motion.joint);
    if (!gauge) return null;
    const tick = ticker(token, progress);
    const less = (limit: number | null, by: number): number | null => (limit === null ? null : limit - by);
    const steps = proposeForRange(
      gauge,
      motion,
      end,
      {
        volume: less(limits["pose.volume.warn"], -ROOM.volume),
        depth: less(limits["pose.penetration"], ROOM.depth),
        stretch: less(limits["pose.stretch"], ROOM.stretch),
      },
      { name: label, label },
    );
    for (;;) {
      const { done, value } = steps.next();
      if (done) return value;
      await tick(value, 1);
    }
  },
  /** What pairs of shapes at full do beyond limits and beyond either alone, a list of rows for each pair. */
  async pairs(
    pairs: readonly ShapePair[],
    profile: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<PairRow[][]> {
    return readPairs(faceReader(), pairs, profile, ticker(token, progress));
  },
  /** Skin through every garment over every motion, worst first. */
  async cloth(
    motions: readonly JointMotion[],
    steps: number,
    method: Moment["method"],
    progress: (share: number) => void,
    token: string,
  ): Promise<ClothRow[]> {
    return clothOverMotions(need(), motions, steps, method, ticker(token, progress));
  },
  /** Poses of two neighbouring motions at once, seeded. */
  async combined(
    motions: readonly JointMotion[],
    seed: number,
    moment: Moment,
    { limits }: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<CombinedRow[]> {
    const over = (r: JointReading): number =>
      excess(r, {
        volume: limits["pose.volume.warn"],
        depth: limits["pose.penetration"],
        stretch: limits["pose.stretch"],
      });
    return readCombined(
      need(),
      combinedPoses(motions, seed),
      moment,
      (a, b) => over(a) > over(b),
      ticker(token, progress),
    );
  },
  /** A garment pushed off the skin at angles of motions; those where nothing comes through are left out. */
  async pushCloth(
    wanted: readonly {
      readonly garment: string;
      readonly motion: JointMotion;
      readonly degrees: number;
      readonly name: string;
    }[],
    method: Moment["method"],
    progress: (share: number) => void,
    token: string,
  ): Promise<PushedCloth[]> {
    const tick = ticker(token, progress);
    const made: PushedCloth[] = [];
    for (const [i, { garment, motion, degrees, name }] of wanted.entries()) {
      await tick(i, wanted.length);
      const pushed = pushCloth(
        need(),
        need().character.parts.findIndex((p) => p.name === garment),
        motion,
        degrees,
        method,
        name,
      );
      if (pushed) made.push(pushed);
    }
    return made;
  },
  /** Every part over every motion, where it tears, worst first. */
  async walk(
    motions: readonly JointMotion[],
    method: Moment["method"],
    progress: (share: number) => void,
    token: string,
  ): Promise<WalkRow[]> {
    return walkThrough(need(), motions, method, ticker(token, progress));
  },
  /** The face at mixes of weights, with what they drive. */
  faces(mixes: readonly Readonly<Record<string, number>>[]): FaceReading[] {
    return mixes.map((m) => faceReader().read(new Map(Object.entries(m))));
  },
  /** A seeded search for bad mixes inside 0..1. */
  async searchMixes(
    seed: number,
    count: number,
    profile: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<MixSearch> {
    return searchMixes(need().character, profile, seed, count, ticker(token, progress));
  },
  /** Combinations that answer pairs which do not go together. */
  async answers(
    pairs: readonly ShapePair[],
    profile: Profile,
    progress: (share: number) => void,
    token: string,
  ): Promise<DerivedItem[]> {
    return answerPairs(need().character, pairs, profile, ticker(token, progress));
  },
  /** Shapes of another character carried over to this one; a body that cannot be laid on comes back as a refusal. */
  async transfer(
    source: Character,
    names: readonly string[],
    progress: (share: number) => void,
    token: string,
  ): Promise<TransferResult | Refused> {
    return refusing(() => transferShapes(source, need().character, names, ticker(token, progress)));
  },
  /** Target meshes as shapes, each taken or refused. */
  async targets(
    files: readonly TargetFile[],
    options: BringOptions,
    progress: (share: number) => void,
    token: string,
  ): Promise<BroughtTarget[]> {
    return bringTargets(need().character, files, options, ticker(token, progress));
  },
  /** A scan to lay the skin on: where it stands, and where the face's landmarks are proposed on it. */
  async openScan(
    file: TargetFile,
    fitSize: boolean,
    progress: (share: number) => void,
    token: string,
  ): Promise<OpenedScan | Refused> {
    return refusing(() => openScan(need().character, file, fitSize, ticker(token, progress)));
  },
  /** Landmarks proposed anew on a scan, beside those that are known, in the scan's own coordinates. */
  async proposePlaces(
    mesh: PlainMesh,
    place: Similarity,
    landmarks: readonly FaceLandmark[],
    known: ReadonlyMap<string, Vec3>,
    progress: (share: number) => void,
    token: string,
  ): Promise<(Vec3 | null)[] | Refused> {
    return refusing(
      async () => (await proposedOn(need().character, mesh, place, landmarks, known, ticker(token, progress))).places,
    );
  },
  /** The skin laid on a scan that stands in the character's place. */
  async layOnScan(
    mesh: PlainMesh,
    options: ScanOptions,
    progress: (share: number) => void,
    token: string,
  ): Promise<LaidOnScan | Refused> {
    return refusing(() => layOnScan(need().character, mesh, options, ticker(token, progress)));
  },
  /** Another face for the character, as a step carries it: joints, and with `carry` the shapes, made ready for it. */
  async newFace(
    deltas: readonly ShapeDelta[],
    carry: boolean,
    progress: (share: number) => void,
    token: string,
  ): Promise<EncodedFace | Refused> {
    const { character } = need();
    return refusing(async () =>
      encodeIdentity(character, await newIdentity(character, deltas, carry, ticker(token, progress))),
    );
  },
  /** Shapes that change the build, and how far their joints are behind. */
  async builds(): Promise<BuildShape[]> {
    return buildShapes(need().character);
  },
  /** How far a binding in a pose would differ from the present one. */
  async rebinding(pose: Pose, progress: (share: number) => void, token: string): Promise<RebindError> {
    const { character } = need();
    return rebindError(character, rebind(character, pose), pose, ticker(token, progress));
  },
  /**
   * How far a change of weights would move a part at the ends of all ranges; a change that cannot be made comes back as
   * a refusal.
   */
  async weights(
    part: string,
    change: WeightChange,
    progress: (share: number) => void,
    token: string,
  ): Promise<WeightsEffect | Refused> {
    const { character } = need();
    return refusing(async () =>
      weightsEffect(
        character,
        changeWeights(character, part, change),
        character.parts.findIndex((p) => p.name === part),
        ticker(token, progress),
      ),
    );
  },
  /**
   * What files that came later bring to the character: parts and clips, each with a note; files that cannot be used are
   * refused one by one.
   */
  async additions(files: readonly DeliveryFile[]): Promise<Brought> {
    return bringAdditions(need().character, files);
  },
  /**
   * What a repair would change, and for one of a part that lies on the skin, how much skin then stands out of it; one
   * that cannot be made comes back as a refusal.
   */
  async repair(repair: Repair): Promise<RepairPreview | Refused> {
    try {
      const before = need().character;
      const after = applyRepair(before, repair);
      const cover = "part" in repair ? after.parts.findIndex((p) => p.name === repair.part) : -1;
      const outside = (c: Character): ReturnType<typeof skinOutside> =>
        repair.what === "seat" && cover >= 0
          ? skinOutside(makeRig({ ...c, shapes: [], drivers: [], shapeDrivers: [] }), cover)
          : null;
      const seen = outside(after);
      const face = repair.what === "trim part" || repair.what === "trim lips" ? await faceFindings(after) : null;
      const kind = cover >= 0 ? after.parts[cover]!.kind : "other";
      const reading = (c: Character): SeatReading | null =>
        repair.what === "seat" && (kind === "hair" || kind === "garment") ? seatReading(c, repair.part) : null;
      const [now, then] = [reading(before), reading(after)];
      return {
        changes: repairChanges(before, after),
        face,
        onHead: now && then && (then.covered > 0.3 || now.covered > 0.3 || kind === "hair") ? { now, then } : null,
        outside: seen && {
          part: after.parts[seen.body]!.name,
          now: outside(before)?.vertices.length ?? 0,
          count: seen.vertices.length,
          depthMm: 1000 * (seen.depths[0] ?? 0),
          vertices: seen.vertices.slice(0, MOST_SHOWN),
        },
      };
    } catch (error) {
      if (isUserError(error)) return { refused: { what: error.what, where: error.where, todo: error.todo } };
      throw error;
    }
  },
  /** Where a part belongs on the head. */
  async headFit(part: string): Promise<Seat | Refused> {
    return refusing(async () => headFit(need().character, part));
  },
  /** The moment as OBJ text, to be sculpted elsewhere. */
  posedObj(moment: Moment): string {
    return writeObj(
      need().character,
      deform(need(), moment, { normals: false }).positions,
      undefined,
      poseNote(moment),
    );
  },
  /** Returns a sculpted OBJ of the moment to rest; a file that does not fit comes back as a refusal. */
  async returnSculpt(moment: Moment, bytes: Uint8Array, file: string): Promise<TakenSculpt | Refused> {
    return refusing(async () => takeSculpt(need(), moment, bytes, file));
  },
  cancel(token: string): void {
    cancelled.add(token);
  },
};

export type MeasureApi = typeof api;
expose(api);
