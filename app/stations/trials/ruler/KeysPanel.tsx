import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useState, type ReactNode } from "react";
import { boneLabel } from "~core/names/humanoidBones";
import { ENDS, type End } from "~core/trials/holdEnds";
import { copyKeys, dropKeys, keyAll, keyTimes, moveKeys, NO_KEYS, scaleKeys } from "~core/trials/keys";
import { LANES } from "~core/trials/lanes";
import { trialSeconds, type Trial } from "~core/trials/trial";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { addPiece, setAutoKey } from "../../../session/slices/trial";
import { changeOne, CurveChoice, ShownCurve } from "./KeyedCurve";
import { HipsKeys, JointKeys, ShapeKeys } from "./KeyedValues";
import { useKeyWork, type KeysPiece, type KeyWork } from "./useKeyWork";

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

function Keying({ loaded, trial, piece }: { loaded: Loaded; trial: Trial; piece: KeysPiece }): ReactNode {
  const { character, humanoid } = loaded;
  const [held, setHeld] = useState<readonly End[]>([]);
  const [shown, setShown] = useState<string | null>(null);
  const work = useKeyWork(loaded, trial, piece, held);
  const { keys, at, here, takes, now, key, go, setKeys } = work;
  const label = (name: string): string => {
    const bone = humanoid?.boneOfJoint[character.skeleton!.joints.findIndex((j) => j.name === name)];
    return bone ? boneLabel(bone) : name;
  };
  return (
    <div className="row open">
      <div className="row-body mt-6">
        <KeyButtons work={work} />
        <CopyButtons work={work} />
        {!here && <p className="muted t-small">The needle stands outside these keys.</p>}
        {here && !takes && (
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
        <HipsKeys work={work} />
        <JointKeys work={work} label={label} />
        <ShapeKeys
          loaded={loaded}
          keys={keys}
          weightOf={(name) => now.weights[character.shapes.findIndex((s) => s.name === name)] ?? 0}
          onKey={(name, w) => takes && key({ weights: { [name]: w } })}
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

function KeyButtons({ work }: { work: KeyWork }): ReactNode {
  const store = useSessionStore();
  const autoKey = useSession((s) => s.autoKey);
  const { loaded, keys, at, here, keyed, setKeys, go } = work;
  const times = keyTimes(keys);
  const before = times.filter((t) => t < at - 1e-3).at(-1);
  const after = times.find((t) => t > at + 1e-3);
  return (
    <div className="line t-small">
      <Button variant="outlined" disabled={!here} onClick={() => setKeys(keyAll(loaded.character, keys, at))}>
        Key all here
      </Button>
      <Button disabled={!keyed} onClick={() => setKeys(dropKeys(keys, at))}>
        Take the keys out
      </Button>
      <Button disabled={before === undefined} onClick={() => go(before)}>
        Key before
      </Button>
      <Button disabled={after === undefined} onClick={() => go(after)}>
        Key after
      </Button>
      <FormControlLabel
        control={<Checkbox size="small" checked={autoKey} onChange={(e) => setAutoKey(store, e.target.checked)} />}
        label="key what I change"
      />
    </div>
  );
}

function CopyButtons({ work: { keys, at, here, keyed, setKeys } }: { work: KeyWork }): ReactNode {
  const [copied, setCopied] = useState<number | null>(null);
  const few = keyTimes(keys).length < 2;
  return (
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
      <Button disabled={few} onClick={() => setKeys(scaleKeys(keys, at, 1.25))}>
        Slower after this
      </Button>
      <Button disabled={few} onClick={() => setKeys(scaleKeys(keys, at, 0.8))}>
        Quicker after this
      </Button>
    </div>
  );
}
