import { evaluate } from "~core/evaluate/evaluate";
import type { Pose } from "~core/evaluate/poseSkeleton";
import type { Vec3 } from "~core/math/vec3";
import { carriedTo, withFrames } from "~core/trials/carryKeys";
import { holdEnds, type End } from "~core/trials/holdEnds";
import { keyTimes, withKey } from "~core/trials/keys";
import { momentAt } from "~core/trials/momentAt";
import type { Curve, Keys, Piece, Trial } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { changePiece, withPiece } from "../../../session/slices/trial";

export type KeysPiece = Piece & { readonly kind: "keys" };

/** A key's angles, as near to those of its neighbours as whole turns let them be. */
const near = (curve: Curve | undefined, at: number, angles: Vec3): number[] => {
  if (!curve?.times.length) return [...angles];
  const k = curve.times.reduce((best, t, i) => (Math.abs(t - at) < Math.abs(curve.times[best]! - at) ? i : best), 0);
  return angles.map((a, i) => a + 360 * Math.round((curve.values[3 * k + i]! - a) / 360));
};

/** Keys as they are worked on where the needle stands. */
export interface KeyWork {
  readonly loaded: Loaded;
  readonly keys: Keys;
  /** Where the needle stands in the keys, seconds. */
  readonly at: number;
  /** Whether it stands within them. */
  readonly here: boolean;
  /** Whether there is a key there. */
  readonly keyed: boolean;
  /** Whether what is changed is taken as a key. */
  readonly takes: boolean;
  /** What plays there. */
  readonly now: ReturnType<typeof evaluate>;
  readonly setKeys: (keys: Keys) => void;
  /** Lays changed angles, weights or the hips' way as keys; held hands and feet follow. */
  readonly key: (change: { pose?: Pose; weights?: Record<string, number>; hips?: Vec3 }) => void;
  /** Moves the needle. @param t seconds in the keys. */
  readonly go: (t: number | undefined) => void;
}

/** @param held hands and feet that stay while the rest is keyed. */
export function useKeyWork(loaded: Loaded, trial: Trial, piece: KeysPiece, held: readonly End[]): KeyWork {
  const store = useSessionStore();
  const seconds = useSession((s) => s.playback.seconds);
  const autoKey = useSession((s) => s.autoKey);
  const { character } = loaded;
  const at = Math.round((piece.from + (seconds - piece.start) * piece.speed) * 1000) / 1000;
  const here = at >= piece.from && at <= piece.to;
  const keys = carriedTo(character, piece.keys);
  const keyed = keyTimes(keys).some((t) => Math.abs(t - at) < 1e-3);
  const setKeys = (next: Keys): void =>
    changePiece(store, piece.id, { keys: withFrames(character, next) } as Partial<Piece>, false);
  const key: KeyWork["key"] = ({ pose = {}, weights = {}, hips }) => {
    let next = withPose(keys, at, pose);
    for (const [name, w] of Object.entries(weights))
      next = { ...next, shapes: { ...next.shapes, [name]: withKey(next.shapes[name], at, [w]) } };
    if (hips) next = { ...next, hips: withKey(next.hips, at, hips) };
    const moved = withPiece(trial, piece.id, (p) => ({ ...p, keys: next }) as Piece);
    const follow = holdEnds(character, momentAt(character, trial, seconds), momentAt(character, moved, seconds), held);
    setKeys(withPose(next, at, follow));
  };
  return {
    loaded,
    keys,
    at,
    here,
    keyed,
    takes: here && (autoKey || keyed),
    now: evaluate(character, momentAt(character, trial, seconds)),
    setKeys,
    key,
    go: (t) => {
      if (t !== undefined) playerOf(store).seek(piece.start + (t - piece.from) / piece.speed);
    },
  };
}

function withPose(keys: Keys, at: number, pose: Pose): Keys {
  const joints = { ...keys.joints };
  for (const [name, angles] of Object.entries(pose))
    joints[name] = withKey(joints[name], at, near(joints[name], at, angles));
  return { ...keys, joints };
}
