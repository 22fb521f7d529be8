import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState, type ReactNode } from "react";
import { evaluate } from "~core/evaluate/evaluate";
import type { Pose } from "~core/evaluate/poseSkeleton";
import { turnOf } from "~core/evaluate/turns";
import { toEulerXYZ, twistDegrees } from "~core/math/quat";
import type { Vec3 } from "~core/math/vec3";
import { isDriven } from "~core/model/character";
import { boneLabel } from "~core/names/humanoidBones";
import { ENDS, holdEnds, type End } from "~core/trials/holdEnds";
import { carriedTo, withFrames } from "~core/trials/carryKeys";
import {
  changeCurves,
  copyKeys,
  dropKeys,
  keyAll,
  keyTimes,
  moveKeys,
  NO_KEYS,
  scaleKeys,
  withKey,
} from "~core/trials/keys";
import { momentAt } from "~core/trials/momentAt";
import { LANES } from "~core/trials/lanes";
import { EASES, trialSeconds, type Curve, type Keys, type Piece, type Trial } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import { withMotion } from "../../../session/posing";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { addPiece, changePiece, setAutoKey, withPiece } from "../../../session/slices/trial";
import { lookAtJoint } from "../../../session/slices/view";
import { FindField } from "../../../ui/FindField";
import { RangeRibbon } from "../../../ui/RangeRibbon";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { WeightBar } from "../../../ui/WeightBar";
import { KeyCurve } from "./KeyCurve";

type KeysPiece = Piece & { readonly kind: "keys" };

const keysPiece = (seconds: number): KeysPiece => ({
  kind: "keys",
  id: crypto.randomUUID(),
  name: "keys",
  keys: NO_KEYS,
  start: 0,
  from: 0,
  to: Math.max(4, seconds),
  speed: 1,
  fadeIn: 0,
  fadeOut: 0,
  share: 1,
  on: true,
});

/** The keys that are worked on: those chosen on the ruler, else the first. */
function useKeysPiece(): KeysPiece | null {
  const trial = useSession((s) => s.trial);
  const chosen = useSession((s) => s.piece);
  const all = trial ? LANES.flatMap((l) => trial.lanes[l]).filter((p): p is KeysPiece => p.kind === "keys") : [];
  return all.find((p) => p.id === chosen) ?? all[0] ?? null;
}

/** Keys of one's own over whatever plays: angles, weights and the hips' way where the needle stands. */
export function KeysPanel(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const piece = useKeysPiece();
  if (!loaded?.character.skeleton || !trial) return null;
  return (
    <>
      <h2 className="group-title">Keys</h2>
      {piece ? (
        <Keying loaded={loaded} trial={trial} piece={piece} />
      ) : (
        <div className="p-0-18 line">
          <span className="muted take-rest">Angles, weights and the hips' way, keyed over whatever plays.</span>
          <Button variant="outlined" onClick={() => addPiece(store, "body", keysPiece(trialSeconds(trial)))}>
            Begin keys
          </Button>
        </div>
      )}
    </>
  );
}

/** A key's angles, as near to those of its neighbours as whole turns let them be. */
const near = (curve: Curve | undefined, at: number, angles: Vec3): number[] => {
  if (!curve?.times.length) return [...angles];
  const k = curve.times.reduce((best, t, i) => (Math.abs(t - at) < Math.abs(curve.times[best]! - at) ? i : best), 0);
  return angles.map((a, i) => a + 360 * Math.round((curve.values[3 * k + i]! - a) / 360));
};

function Keying({ loaded, trial, piece }: { loaded: Loaded; trial: Trial; piece: KeysPiece }): ReactNode {
  const store = useSessionStore();
  const player = playerOf(store);
  const { character, humanoid, motions } = loaded;
  const seconds = useSession((s) => s.playback.seconds);
  const autoKey = useSession((s) => s.autoKey);
  const [joint, setJoint] = useState<string>(motions[0]?.joint ?? "");
  const [held, setHeld] = useState<readonly End[]>([]);
  const [copied, setCopied] = useState<number | null>(null);
  const [shown, setShown] = useState<string | null>(null);
  const at = Math.round((piece.from + (seconds - piece.start) * piece.speed) * 1000) / 1000;
  const here = at >= piece.from && at <= piece.to;
  const keys = carriedTo(character, piece.keys);
  const now = evaluate(character, momentAt(character, trial, seconds));
  const poseNow = (name: string): Vec3 => {
    const j = character.skeleton!.joints.findIndex((x) => x.name === name);
    return j < 0 ? [0, 0, 0] : toEulerXYZ(turnOf(now.turns, j));
  };
  const setKeys = (next: Keys, same = false): void =>
    changePiece(store, piece.id, { keys: withFrames(character, next) } as Partial<Piece>, same);
  /** Lays changed angles, weights or the hips' way as keys where the needle stands; held hands and feet follow. */
  const key = (change: { pose?: Pose; weights?: Record<string, number>; hips?: Vec3 }): void => {
    let next: Keys = keys;
    for (const [name, angles] of Object.entries(change.pose ?? {}))
      next = {
        ...next,
        joints: { ...next.joints, [name]: withKey(next.joints[name], at, near(next.joints[name], at, angles)) },
      };
    for (const [name, w] of Object.entries(change.weights ?? {}))
      next = { ...next, shapes: { ...next.shapes, [name]: withKey(next.shapes[name], at, [w]) } };
    if (change.hips) next = { ...next, hips: withKey(next.hips, at, change.hips) };
    const moved = withPiece(trial, piece.id, (p) => ({ ...p, keys: next }) as Piece);
    const follow = holdEnds(character, momentAt(character, trial, seconds), momentAt(character, moved, seconds), held);
    for (const [name, angles] of Object.entries(follow))
      next = {
        ...next,
        joints: { ...next.joints, [name]: withKey(next.joints[name], at, near(next.joints[name], at, angles)) },
      };
    setKeys(next);
  };
  const times = keyTimes(keys);
  const keyed = times.some((t) => Math.abs(t - at) < 1e-3);
  const onRuler = (t: number): number => piece.start + (t - piece.from) / piece.speed;
  const go = (t: number | undefined): void => {
    if (t !== undefined) player.seek(onRuler(t));
  };
  const hips = keys.hips ? keysHips(keys.hips, now, character) : ([0, 0, 0] as Vec3);
  const joints = [...new Set(motions.map((m) => m.joint))];
  const label = (name: string): string => {
    const bone = humanoid?.boneOfJoint[character.skeleton!.joints.findIndex((j) => j.name === name)];
    return bone ? boneLabel(bone) : name;
  };
  const stays = !autoKey && !keyed;
  return (
    <div className="row open">
      <div className="row-body mt-6">
        <div className="line t-small">
          <Button variant="outlined" disabled={!here} onClick={() => setKeys(keyAll(character, keys, at))}>
            Key all here
          </Button>
          <Button disabled={!keyed} onClick={() => setKeys(dropKeys(keys, at))}>
            Take the keys out
          </Button>
          <Button
            disabled={!times.some((t) => t < at - 1e-3)}
            onClick={() => go(times.filter((t) => t < at - 1e-3).at(-1))}>
            Key before
          </Button>
          <Button disabled={!times.some((t) => t > at + 1e-3)} onClick={() => go(times.find((t) => t > at + 1e-3))}>
            Key after
          </Button>
          <FormControlLabel
            control={<Checkbox size="small" checked={autoKey} onChange={(e) => setAutoKey(store, e.target.checked)} />}
            label="key what I change"
          />
        </div>
        <div className="line t-small">
          <Button disabled={!keyed} onClick={() => setCopied(at)}>
            Copy
          </Button>
          <Button disabled={copied === null || !here} onClick={() => setKeys(copyKeys(keys, copied!, at))}>
            Put here
          </Button>
          <Button
            disabled={copied === null || !here}
            onClick={() => {
              setKeys(moveKeys(keys, copied!, at));
              setCopied(at);
            }}>
            Move here
          </Button>
          <Button disabled={times.length < 2} onClick={() => setKeys(scaleKeys(keys, at, 1.25))}>
            Slower after this
          </Button>
          <Button disabled={times.length < 2} onClick={() => setKeys(scaleKeys(keys, at, 0.8))}>
            Quicker after this
          </Button>
        </div>
        {!here && <p className="muted t-small">The needle stands outside these keys.</p>}
        {stays && here && (
          <p className="muted t-small">Nothing is keyed here: switch on “key what I change”, or key all here first.</p>
        )}
        <div className="line t-small" role="group" aria-label="Held while the rest moves">
          <span className="muted">held</span>
          {ENDS.map((end) => (
            <FormControlLabel
              key={end}
              control={
                <Checkbox
                  size="small"
                  checked={held.includes(end)}
                  onChange={(e) => setHeld(e.target.checked ? [...held, end] : held.filter((x) => x !== end))}
                />
              }
              label={boneLabel(end)}
            />
          ))}
        </div>
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
                  if (here && !stays) key({ hips: hips.map((x, i) => (i === c ? v / 1000 : x)) as unknown as Vec3 });
                }}
              />
            </label>
          ))}
        </div>
        <Select
          variant="standard"
          disableUnderline
          value={joint}
          onChange={(e) => {
            setJoint(e.target.value);
            lookAtJoint(store, e.target.value);
          }}
          inputProps={{ "aria-label": "Joint that is keyed" }}
          MenuProps={{ slotProps: { paper: { sx: { maxHeight: 420 } } } }}>
          {joints.map((name) => (
            <MenuItem key={name} value={name}>
              {label(name)}
              {keys.joints[name] ? ` · ${keys.joints[name].times.length} keys` : ""}
            </MenuItem>
          ))}
        </Select>
        {motions
          .filter((m) => m.joint === joint)
          .map((m) => {
            const j = character.skeleton!.joints.findIndex((x) => x.name === joint);
            const angle = Math.round(twistDegrees(turnOf(now.turns, j), m.axis));
            const beyond = angle < m.min || angle > m.max;
            const set = (degrees: number): void => {
              if (here && !stays)
                key({ pose: { [joint]: withMotion({ [joint]: poseNow(joint) }, m, degrees)[joint] ?? [0, 0, 0] } });
            };
            return (
              <div key={m.id} className="line one-row">
                <span className="wide-132 rigid nowrap over-hidden ellipsis t-small">{m.name}</span>
                <div className="take-rest">
                  <RangeRibbon
                    label={`${m.label}, keyed`}
                    min={m.min}
                    max={m.max}
                    readings={NO_READINGS}
                    brackets={NO_BRACKETS}
                    angle={angle}
                    onPick={(a) => set(Math.round(a))}
                  />
                </div>
                <span
                  style={beyond ? { color: "var(--amber)" } : undefined}
                  title={beyond ? "beyond its range" : undefined}>
                  <ScrubField
                    label={`${m.label}, degrees`}
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
          })}
        <ShapeKeys
          loaded={loaded}
          keys={keys}
          weightOf={(name) => now.weights[character.shapes.findIndex((s) => s.name === name)] ?? 0}
          onKey={(name, w) => here && !stays && key({ weights: { [name]: w } })}
        />
        <CurveChoice keys={keys} shown={shown} onShow={setShown} label={label} />
        <ShownCurve
          keys={keys}
          shown={shown}
          at={at}
          onGo={go}
          onEase={(ease) => setKeys(changeOne(keys, shown!, (c) => ({ ...c, ease })))}
        />
      </div>
    </div>
  );
}

const NO_READINGS: readonly never[] = [];
const NO_BRACKETS: readonly never[] = [];

/** The hips' way as it is played now, metres from rest. */
function keysHips(curve: Curve, now: ReturnType<typeof evaluate>, { skeleton }: Loaded["character"]): Vec3 {
  const moved = now.travel;
  if (!moved || !skeleton || !curve.times.length) return [0, 0, 0];
  for (let j = 0; j < skeleton.joints.length; j++) {
    const by: Vec3 = [moved[3 * j]!, moved[3 * j + 1]!, moved[3 * j + 2]!];
    if (by.some((x) => x !== 0)) return by;
  }
  return [0, 0, 0];
}

/** Shapes that are keyed, with their weights, and others to be. */
function ShapeKeys({
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

const changeOne = (keys: Keys, shown: string, change: (c: Curve) => Curve): Keys => {
  const found = curveOf(keys, shown);
  return found ? changeCurves(keys, (c) => (c === found ? change(c) : c)) : keys;
};
const curveOf = (keys: Keys, shown: string | null): Curve | null => {
  if (!shown) return null;
  const [kind, name] = [shown[0], shown.slice(2)];
  if (kind === "h") return keys.hips;
  return (kind === "j" ? keys.joints[name] : keys.shapes[name]) ?? null;
};

function CurveChoice({
  keys,
  shown,
  onShow,
  label,
}: {
  keys: Keys;
  shown: string | null;
  onShow: (shown: string) => void;
  label: (joint: string) => string;
}): ReactNode {
  const all: readonly (readonly [string, string])[] = [
    ...(keys.hips ? [["h:", "hips' way"] as const] : []),
    ...Object.keys(keys.joints).map((n) => [`j:${n}`, label(n)] as const),
    ...Object.keys(keys.shapes).map((n) => [`s:${n}`, n] as const),
  ];
  if (all.length === 0) return null;
  return (
    <div className="line t-small mt-6">
      <span className="muted">curve of</span>
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={all.some(([id]) => id === shown) ? shown! : ""}
        onChange={(e) => onShow(e.target.value)}
        inputProps={{ "aria-label": "Curve that is shown" }}
        MenuProps={{ slotProps: { paper: { sx: { maxHeight: 420 } } } }}>
        <MenuItem value="">none</MenuItem>
        {all.map(([id, name]) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </Select>
    </div>
  );
}

function ShownCurve({
  keys,
  shown,
  at,
  onGo,
  onEase,
}: {
  keys: Keys;
  shown: string | null;
  at: number;
  onGo: (t: number) => void;
  onEase: (ease: Curve["ease"]) => void;
}): ReactNode {
  const curve = curveOf(keys, shown);
  if (!curve || !shown) return null;
  return (
    <>
      <div className="line t-small">
        <Segmented label="Between keys" options={EASES} value={curve.ease} onChange={onEase} />
      </div>
      <KeyCurve
        curve={curve}
        kind={shown[0] === "s" ? "weight" : shown[0] === "h" ? "metres" : "degrees"}
        at={at}
        onGo={onGo}
      />
    </>
  );
}
