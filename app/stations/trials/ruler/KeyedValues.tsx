import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { turnOf } from "~core/evaluate/turns";
import { toEulerXYZ, twistDegrees } from "~core/math/quat";
import type { Vec3 } from "~core/math/vec3";
import { isDriven } from "~core/model/character";
import type { JointMotion } from "~core/skeleton/jointMotions";
import type { Curve, Keys } from "~core/trials/trial";
import { withMotion } from "../../../session/posing";
import { useSessionStore, type Loaded } from "../../../session/session";
import { lookAtJoint } from "../../../session/slices/view";
import { FindField } from "../../../ui/FindField";
import { RangeRibbon } from "../../../ui/RangeRibbon";
import { ScrubField } from "../../../ui/ScrubField";
import { WeightBar } from "../../../ui/WeightBar";
import type { KeyWork } from "./useKeyWork";

/** How far the hips have gone where the needle stands. */
export function HipsKeys({ work: { loaded, keys, now, takes, key } }: { work: KeyWork }): ReactNode {
  const hips = keys.hips ? keysHips(keys.hips, now, loaded.character) : ([0, 0, 0] as Vec3);
  return (
    <div className="line t-small">
      <span className="muted">hips</span>
      {(["to the left", "up", "ahead"] as const).map((word, c) => (
        <label key={word} className="line one-row gap-4">
          <span className="muted">{word}</span>
          <ScrubField
            label={`hips ${word}`}
            value={Math.round(1000 * hips[c]!)}
            min={-5000}
            max={5000}
            step={1}
            digits={0}
            unit=" mm"
            onChange={(v) => {
              if (takes) key({ hips: hips.map((x, i) => (i === c ? v / 1000 : x)) as unknown as Vec3 });
            }}
          />
        </label>
      ))}
    </div>
  );
}

/** The joint that is keyed, and its angles. */
export function JointKeys({ work, label }: { work: KeyWork; label: (joint: string) => string }): ReactNode {
  const store = useSessionStore();
  const { motions } = work.loaded;
  const [joint, setJoint] = useState<string>(motions[0]?.joint ?? "");
  return (
    <>
      <SmallSelect
        label="Joint that is keyed"
        value={joint}
        onChange={(value) => {
          setJoint(value);
          lookAtJoint(store, value);
        }}
        size={13}
        options={[...new Set(motions.map((m) => m.joint))]}
        words={(name) =>
          `${label(name)}${work.keys.joints[name] ? ` · ${work.keys.joints[name].times.length} keys` : ""}`
        }
      />
      {motions
        .filter((m) => m.joint === joint)
        .map((m) => (
          <MotionKeys key={m.id} motion={m} work={work} />
        ))}
    </>
  );
}

/** The angle of one motion where the needle stands. */
function MotionKeys({ motion, work }: { motion: JointMotion; work: KeyWork }): ReactNode {
  const { loaded, now, takes, key } = work;
  const { joint, min, max, label } = motion;
  const turn = turnOf(
    now.turns,
    loaded.character.skeleton!.joints.findIndex((x) => x.name === joint),
  );
  const angle = Math.round(twistDegrees(turn, motion.axis));
  const beyond = angle < min || angle > max;
  const set = (degrees: number): void => {
    const angles = withMotion({ [joint]: toEulerXYZ(turn) }, motion, degrees)[joint] ?? [0, 0, 0];
    if (takes) key({ pose: { [joint]: angles } });
  };
  return (
    <div className="line one-row">
      <span className="wide-132 rigid nowrap over-hidden ellipsis t-small">{motion.name}</span>
      <div className="take-rest">
        <RangeRibbon
          label={`${label}, keyed`}
          min={min}
          max={max}
          readings={NO_READINGS}
          brackets={NO_BRACKETS}
          angle={angle}
          onPick={(a) => set(Math.round(a))}
        />
      </div>
      <span style={beyond ? { color: "var(--amber)" } : undefined} title={beyond ? "beyond its range" : undefined}>
        <ScrubField
          label={`${label}, degrees`}
          value={angle}
          min={-180}
          max={180}
          step={1}
          digits={0}
          unit="°"
          onChange={set}
        />
      </span>
    </div>
  );
}

const NO_READINGS: readonly never[] = [];
const NO_BRACKETS: readonly never[] = [];

/** The hips' way as it is played now, metres from rest. */
function keysHips(curve: Curve, now: KeyWork["now"], { skeleton }: Loaded["character"]): Vec3 {
  const moved = now.travel;
  if (!moved || !skeleton || !curve.times.length) return [0, 0, 0];
  for (let j = 0; j < skeleton.joints.length; j++) {
    const by: Vec3 = [moved[3 * j]!, moved[3 * j + 1]!, moved[3 * j + 2]!];
    if (by.some((x) => x !== 0)) return by;
  }
  return [0, 0, 0];
}

/** Shapes that are keyed, with their weights, and others to be. */
export function ShapeKeys({
  loaded,
  keys,
  weightOf,
  onKey,
}: {
  loaded: Loaded;
  keys: Keys;
  weightOf: (name: string) => number;
  onKey: (name: string, weight: number) => void;
}): ReactNode {
  const [find, setFind] = useState("");
  const { character } = loaded;
  const free = character.shapes.filter((s) => !keys.shapes[s.name] && !isDriven(character, s.name));
  const found = find
    ? free.filter((s) => `${s.name} ${s.label}`.toLowerCase().includes(find.toLowerCase())).slice(0, 6)
    : [];
  return (
    <div role="group" aria-label="Shapes that are keyed">
      {[...Object.keys(keys.shapes), ...found.map((s) => s.name)].map((name) => (
        <div key={name} className="line one-row">
          <span className="wide-132 rigid nowrap over-hidden ellipsis t-small">{name}</span>
          <WeightBar label={name} value={weightOf(name)} onChange={(w) => onKey(name, w)} />
        </div>
      ))}
      <div className="mt-6">
        <FindField label="Find a shape to key" value={find} onChange={setFind} />
      </div>
    </div>
  );
}
