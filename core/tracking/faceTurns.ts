import type { Pose } from "../evaluate/poseSkeleton";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { conjugate, fromAxisAngle, multiplyQuat, toEulerXYZ } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import type { Character } from "../model/character";
import { readFaceName } from "../names/faceWords";
import { shapeMeaning } from "../names/shapeMeaning";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import type { ChannelMap } from "./channelMap";

/** Farthest that eyes turn, degrees: to the side, up and down (common practice, no source). */
export const EYE_RANGE = { yaw: 35, pitch: 25 } as const;

/** What a head's turn and a gaze are on a character. */
export interface TurnedFace {
  /** Angles of joints, degrees, on top of what plays. */
  readonly turns: Pose;
  /** Weights of shapes that turn the eyes, where no joint does. */
  readonly weights: Readonly<Record<string, number>>;
}
export type FaceTurner = (head: ArrayLike<number> | null, gaze: ArrayLike<number> | null) => TurnedFace;

interface Turned {
  readonly joint: string;
  /** Rest turn of the joint in character space. */
  readonly frame: Quat;
}
const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];
const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

/** A turn in character space as angles of a joint in its own frame, what it hangs on at rest. */
const anglesOf = ({ frame }: Turned, turn: Quat): Vec3 =>
  toEulerXYZ(multiplyQuat(multiplyQuat(conjugate(frame), turn), frame));

/** Turned to the side first, then nodded, then tilted, as a head is read. */
const spaceTurn = (pitch: number, yaw: number, roll: number): Quat =>
  multiplyQuat(multiplyQuat(fromAxisAngle(Y, yaw), fromAxisAngle(X, pitch)), fromAxisAngle(Z, roll));

/**
 * Brings a head's turn to neck and head, and a gaze to the eyes' joints or to shapes that turn them, each within its
 * range.
 */
export function makeFaceTurner(character: Character, map: ChannelMap): FaceTurner {
  const { skeleton, jointMap } = character;
  const bones = skeleton && humanoidMap(skeleton, jointMap);
  const world = skeleton && worldMatrices(skeleton, {});
  const turned = (bone: string): Turned | null => {
    const j = bones?.jointOfBone.get(bone);
    return j === undefined ? null : { joint: skeleton!.joints[j]!.name, frame: decomposeTRS(world!, 16 * j).q };
  };
  const [neck, head] = [turned("neck"), turned("head")];
  const motions = skeleton && bones ? jointMotions(skeleton, bones) : [];
  const rangeOf = (bone: string, name: string): readonly [number, number] => {
    const m = motions.find((x) => x.bone === bone && x.name === name);
    return m ? [m.min, m.max] : [-60, 60];
  };
  const eyes = [turned("leftEye"), turned("rightEye")].filter((e) => e !== null);
  const shapes = eyes.length === 2 ? [] : gazeShapes(character);
  const { neck: share, headNeutral, gazeNeutral, ...amount } = map.turns;
  const parts = [
    { bone: "neck", at: neck, share: head ? share : 1 },
    { bone: "head", at: head, share: neck ? 1 - share : 1 },
  ].flatMap(({ bone, at, share: of }) =>
    at ? [{ at, of, nod: rangeOf(bone, "nod"), turn: rangeOf(bone, "turn"), tilt: rangeOf(bone, "tilt") }] : [],
  );
  return (angles, look) => {
    const turns: Record<string, Vec3> = {};
    const weights: Record<string, number> = {};
    if (angles && amount.head > 0) {
      const [pitch, yaw, roll] = [0, 1, 2].map((i) => amount.head * (angles[i]! - headNeutral[i]!)) as [
        number,
        number,
        number,
      ];
      for (const { at, of, nod, turn, tilt } of parts)
        turns[at.joint] = anglesOf(
          at,
          spaceTurn(clamp(of * pitch, ...nod), clamp(of * yaw, ...turn), clamp(of * roll, ...tilt)),
        );
    }
    if (look && amount.gaze > 0) {
      const yaw = clamp(amount.gaze * (look[0]! - gazeNeutral[0]), -EYE_RANGE.yaw, EYE_RANGE.yaw);
      const pitch = clamp(amount.gaze * (look[1]! - gazeNeutral[1]), -EYE_RANGE.pitch, EYE_RANGE.pitch);
      for (const eye of eyes) turns[eye.joint] = anglesOf(eye, spaceTurn(pitch, yaw, 0));
      for (const { shape, goes } of shapes) {
        const far = {
          61: yaw / EYE_RANGE.yaw,
          62: -yaw / EYE_RANGE.yaw,
          63: -pitch / EYE_RANGE.pitch,
          64: pitch / EYE_RANGE.pitch,
        };
        const w = far[goes];
        if (w > 0) weights[shape] = w;
      }
    }
    return { turns, weights };
  };
}

type Goes = 61 | 62 | 63 | 64;
const LOOKS: Readonly<Record<string, Goes>> = { lookLeft: 61, lookRight: 62, lookUp: 63, lookDown: 64 };
/** Shapes that turn the eyes: action units 61 to 64, or presets that do. */
function gazeShapes(character: Character): { readonly shape: string; readonly goes: Goes }[] {
  const found = character.shapes.flatMap((s) => {
    const m = shapeMeaning(s.name);
    const preset = m?.system === "preset" ? LOOKS[m.name] : undefined;
    const unit = m?.system === "unit" ? m.unit : readFaceName(s.name).movements[0]?.unit;
    const goes = preset ?? (unit !== undefined && unit >= 61 && unit <= 64 ? (unit as Goes) : undefined);
    return goes === undefined ? [] : [{ shape: s.name, goes, preset: preset !== undefined }];
  });
  // one set is enough: where both are there they move the same eyes
  const units = found.filter((f) => !f.preset);
  return units.length >= 4 ? units : found.filter((f) => f.preset || units.length === found.length);
}
