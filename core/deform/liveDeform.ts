import { evaluate, evaluationRoom, type EvaluationRoom } from "../evaluate/evaluate";
import type { Moment, SkinMethod } from "../evaluate/moment";
import { offsetBinds } from "../evaluate/offsetSkeleton";
import { skinMatrices } from "../evaluate/poseSkeleton";
import type { SkinBinding } from "../model/character";
import { packedSkin } from "./packedSkin";
import { DrawnDeform } from "./drawnDeform";
import { allocateDeformed, deformPart, renewDrawn, type Deformed, type Rig } from "./rig";

const known = new WeakMap<SkinBinding, Uint16Array>();

/** Joints that hold any vertex of a binding. */
function jointsOf(skin: SkinBinding): Uint16Array {
  const found = known.get(skin) ?? Uint16Array.from(new Set(packedSkin(skin).joints));
  known.set(skin, found);
  return found;
}

/** What one part was last made from. */
interface Made {
  /** Skinning matrices, 16 x jointCount; only those of joints that hold its vertices are compared. */
  readonly matrices: Float64Array | null;
  /** Weights of the shapes that move it, in the rig's order. */
  readonly weights: Float32Array;
  made: boolean;
}

type Moved = "not" | "joints" | "shapes";

/**
 * A character that is deformed again and again, moment after moment, in the same arrays, to be drawn: a part is made
 * anew only when one of its own joints or shapes moved, and nothing is allocated for its vertices.
 */
export class LiveDeform {
  readonly deformed: Deformed;
  /** Null where the platform cannot: then the plain way serves. */
  private readonly drawing: DrawnDeform | null;
  private rig: Rig;
  private room: EvaluationRoom;
  private parts: Made[];
  private method: SkinMethod = "linear";
  private readonly skinning: Float64Array<ArrayBuffer>;

  constructor(rig: Rig) {
    this.drawing = DrawnDeform.of(rig);
    this.deformed = this.drawing?.deformed ?? allocateDeformed(rig);
    this.rig = rig;
    this.room = evaluationRoom(rig.character);
    this.skinning = new Float64Array(this.room.world.length);
    this.parts = this.freshParts();
  }

  /** What was made is not believed any more: somebody else wrote into the arrays. */
  forget(): void {
    for (const part of this.parts) part.made = false;
  }

  /**
   * Brings parts up to date.
   * @param rig the same parts; shapes and drivers may be others than before.
   * @param shown by part: others are made once, and then left as they are until they are shown.
   * @returns indices of the parts that are not what they were.
   */
  update(rig: Rig, moment: Moment, shown: (part: number) => boolean = () => true): number[] {
    if (rig !== this.rig) {
      this.rig = rig;
      this.room = evaluationRoom(rig.character);
      this.parts = this.freshParts();
    }
    if (moment.method !== this.method) this.forget();
    this.method = moment.method;
    const { weights, offsets, skeleton, world } = evaluate(rig.character, moment, this.room);
    this.deformed.shapeWeights = weights;
    if (world && skeleton) skinMatrices(world, skeleton.inverseBinds, this.skinning);
    const changed: number[] = [];
    rig.character.parts.forEach(({ skin }, p) => {
      const made = this.parts[p]!;
      if (!shown(p) && made.made) return;
      let matrices: Float64Array | null = null;
      if (skin && world) {
        const binds = skin.inverseBinds;
        matrices = binds ? skinMatrices(world, offsets ? offsetBinds(binds, offsets) : binds) : this.skinning;
      }
      const moved = this.moved(p, made, matrices, skin, weights);
      if (moved === "not") return;
      this.deformed.matrices[p] = made.matrices;
      this.make(p, moved, weights);
      changed.push(p);
    });
    return changed;
  }

  private make(part: number, moved: Moved, weights: Float32Array): void {
    const { drawing, rig, method } = this;
    if (!drawing) {
      deformPart(rig, part, weights, method, this.deformed);
      renewDrawn(rig, part, this.deformed);
      return;
    }
    const { skin } = rig.character.parts[part]!;
    if (moved === "shapes") drawing.blend(rig, part, weights);
    drawing.skin(part, skin && jointsOf(skin), method);
  }

  /** What of a part is not what it was last made from; takes down what it is made from now. */
  private moved(
    part: number,
    made: Made,
    matrices: Float64Array | null,
    skin: SkinBinding | null,
    weights: Float32Array,
  ): Moved {
    let moved: Moved = made.made ? "not" : "shapes";
    made.made = true;
    this.rig.partShapes[part]!.forEach(({ shape }, k) => {
      if (made.weights[k] === weights[shape]) return;
      made.weights[k] = weights[shape]!;
      moved = "shapes";
    });
    if (!matrices || !made.matrices || !skin) return moved;
    for (const joint of jointsOf(skin))
      for (let i = 16 * joint; i < 16 * joint + 16; i++)
        if (made.matrices[i] !== matrices[i]) {
          made.matrices[i] = matrices[i]!;
          if (moved === "not") moved = "joints";
        }
    return moved;
  }

  private freshParts(): Made[] {
    const { character, partShapes } = this.rig;
    return character.parts.map(({ skin }, p) => ({
      matrices: skin && character.skeleton ? new Float64Array(16 * character.skeleton.joints.length) : null,
      weights: new Float32Array(partShapes[p]!.length),
      made: false,
    }));
  }
}
