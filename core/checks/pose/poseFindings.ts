import type { SweepRow } from "../../measure/sweepMotion";
import { finding, type Finding } from "../finding";
import type { Profile } from "../profile";

const signed = (x: number): string => `${x > 0 ? "+" : ""}${x.toFixed(0)}`;

/** Findings of one motion's sweep with correctives on: the worst angle for each measure that passes its limit. */
export function poseFindings(rows: readonly SweepRow[], profile: Profile): Finding[] {
  const out: Finding[] = [];
  const { limits } = profile;
  const worst = (value: (r: SweepRow) => number): SweepRow | undefined =>
    rows.reduce<SweepRow | undefined>((best, r) => (best && value(best) >= value(r) ? best : r), undefined);
  const base = (r: SweepRow, check: string) => ({ check, joint: r.joint });
  const volume = worst((r) => -r.with.volume);
  const warn = limits["pose.volume.warn"];
  const error = limits["pose.volume.error"];
  if (volume && warn !== null && volume.with.volume < warn) {
    const severe = error !== null && volume.with.volume < error;
    out.push(
      finding({
        ...base(volume, "pose.volume"),
        severity: severe ? "error" : "warn",
        value: 100 * volume.with.volume,
        unit: "%",
        limit: 100 * (severe ? error! : warn),
        message:
          `${volume.joint} loses ${(-100 * volume.with.volume).toFixed(0)} % of its volume ` +
          `at ${signed(volume.angle)} degrees (${volume.motion}); sculpt a corrective there.`,
      }),
    );
  }
  const depth = worst((r) => r.with.depth);
  const maxDepth = limits["pose.penetration"];
  if (depth && maxDepth !== null && depth.with.depth > maxDepth)
    out.push(
      finding({
        ...base(depth, "pose.penetration"),
        severity: "warn",
        value: depth.with.depth,
        unit: "mm",
        limit: maxDepth,
        message:
          `Skin goes ${depth.with.depth.toFixed(1)} mm into skin at ` +
          `${signed(depth.angle)} degrees of ${depth.joint} (${depth.motion}).`,
      }),
    );
  const stretch = worst((r) => r.with.stretch);
  const maxStretch = limits["pose.stretch"];
  if (stretch && maxStretch !== null && stretch.with.stretch > maxStretch)
    out.push(
      finding({
        ...base(stretch, "pose.stretch"),
        severity: "warn",
        value: stretch.with.stretch,
        unit: "ratio",
        limit: maxStretch,
        message:
          `Edges stretch to ${stretch.with.stretch.toFixed(2)} times their length at ` +
          `${signed(stretch.angle)} degrees of ${stretch.joint} (${stretch.motion}).`,
      }),
    );
  const flips = worst((r) => r.with.flips);
  if (flips && flips.with.flips > 0)
    out.push(
      finding({
        ...base(flips, "pose.flip"),
        severity: "warn",
        value: flips.with.flips,
        unit: "faces",
        limit: 0,
        message:
          `${flips.with.flips === 1 ? "1 face turns" : `${flips.with.flips} faces turn`} ` +
          `inside out at ${signed(flips.angle)} degrees of ${flips.joint} (${flips.motion}).`,
      }),
    );
  return out;
}
