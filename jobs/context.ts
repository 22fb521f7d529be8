import { makeFaceReader, type FaceReader } from "../core/checks/pairs/readPairs";
import { makeRig, withShapes, type Rig } from "../core/deform/rig";
import { makeJointGauge, withRig, type JointGauge } from "../core/measure/measureJoint";
import type { Character } from "../core/model/character";
import { UserError } from "../core/model/userError";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "../core/skeleton/jointMotions";
import type { JobContext } from "./job";

/** The tables of a state, made when they are asked for; a running job keeps those of the state it began with. */
class StateTables implements JobContext {
  private readonly gauges: Map<string, JointGauge | null>;
  private madeRig: Rig | null;
  private madeFace: FaceReader | null = null;
  private madeMotions: readonly JointMotion[] | null = null;

  /** @param before the state before, where its parts and skeleton are the same: what rests on them is taken over. */
  constructor(
    readonly character: Character,
    before: StateTables | null,
    readonly other: JobContext["other"],
  ) {
    this.gauges = new Map(before?.gauges);
    this.madeRig = before?.madeRig ? withShapes(before.madeRig, character) : null;
  }

  get rig(): Rig {
    return (this.madeRig ??= makeRig(this.character));
  }

  get motions(): readonly JointMotion[] {
    const { skeleton, jointMap } = this.character;
    return (this.madeMotions ??= skeleton ? jointMotions(skeleton, humanoidMap(skeleton, jointMap)) : []);
  }

  readonly motion = (id: string): JointMotion => {
    const found = this.motions.find((m) => m.id === id);
    if (!found) throw new UserError(`There is no motion named ${id}.`, "", "Read the character again and try it anew.");
    return found;
  };

  readonly gauge = (joint: string): JointGauge | null => {
    let gauge = this.gauges.get(joint);
    if (gauge === undefined) {
      const index = this.character.skeleton?.joints.findIndex((j) => j.name === joint) ?? -1;
      gauge = index < 0 ? null : makeJointGauge(this.rig, index);
    } else if (gauge && gauge.rig !== this.rig) gauge = withRig(gauge, this.rig);
    this.gauges.set(joint, gauge);
    return gauge;
  };

  readonly face = (): FaceReader => (this.madeFace ??= makeFaceReader(this.character));
}

/**
 * What jobs on a character work with. @param before of the state it came from: tables of unchanged parts and skeleton
 * are kept.
 */
export function makeContext(
  character: Character,
  before: JobContext | null = null,
  other: JobContext["other"] = () => Promise.reject(new Error("no other character can be had here")),
): JobContext {
  const same =
    before instanceof StateTables &&
    before.character.parts === character.parts &&
    before.character.skeleton === character.skeleton;
  return new StateTables(character, same ? before : null, other);
}
