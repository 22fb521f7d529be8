import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { evaluate } from "~core/evaluate/evaluate";
import { turnOf } from "~core/evaluate/turns";
import { twistDegrees } from "~core/math/quat";
import { jointIndexOf } from "~core/model/character";
import { momentAt } from "~core/trials/momentAt";
import { shortWords, type WatchMoment } from "~core/trials/moments";
import { NO_FITTING } from "~core/model/fitting";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { carriedTo, withFrames } from "~core/trials/carryKeys";
import { withKey } from "~core/trials/keys";
import { linesOf } from "~core/trials/spokenLines";
import { LANES } from "~core/trials/lanes";
import { endOf, type Keys } from "~core/trials/trial";
import { changePiece, selectPiece } from "../../../session/slices/trial";
import { MomentPicture } from "./MomentPicture";
import { playerOf } from "../../../session/playback";
import { poseMotion } from "../../../session/posing";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { lookAt, setView } from "../../../session/slices/view";
import { useDesk } from "../../../session/useDesk";
import { useGoToStation } from "../../../session/useGoToStation";
import { LimitBar } from "../../../ui/LimitBar";
import { ALL_CLIPS } from "./useTrialOnRuler";
import { useQueryState } from "../../../ui/useQueryState";

/** The row of a moment is known by this: what, where, and a time within it, as moments grow while frames come in. */
export const momentKey = (m: WatchMoment): string => `${m.check} ${m.unit} ${m.place}@${m.worstAt.toFixed(3)}`;
const isOpen = (m: WatchMoment, key: string): boolean => {
  const cut = key.lastIndexOf("@");
  const at = Number(key.slice(cut + 1));
  return key.slice(0, cut) === `${m.check} ${m.unit} ${m.place}` && at >= m.from - 1e-3 && at <= m.to + 1e-3;
};

const SIGNS = { error: ["▲", "var(--brick)"], warn: ["◆", "var(--amber)"], note: ["○", "var(--muted)"] } as const;
/** Rows that are listed at once; the rest on request. */
const AT_ONCE = 12;

/** Stretches of frames in which something is beyond a limit, worst first; a row leads there and to what to do. */
export function MomentList({ moments }: { moments: readonly WatchMoment[] }): ReactNode {
  const [open, setOpen] = useQueryState<string>("moment", "");
  const [most, setMost] = useState(AT_ONCE);
  return (
    <>
      {moments.slice(0, most).map((m) => (
        <MomentRow
          key={`${m.check} ${m.unit} ${m.place} ${m.from}`}
          moment={m}
          open={isOpen(m, open)}
          onOpen={() => setOpen(isOpen(m, open) ? "" : momentKey(m))}
        />
      ))}
      {moments.length > most && (
        <div className="p-8-18">
          <Button onClick={() => setMost(most + 200)}>Show {moments.length - most} more</Button>
        </div>
      )}
    </>
  );
}

function MomentRow({ moment: m, open, onOpen }: { moment: WatchMoment; open: boolean; onOpen: () => void }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const show = (): void => {
    const player = playerOf(store);
    player.pause();
    player.seek(m.worstAt);
    lookAt(store, lookOf(m));
    if (!open) onOpen();
  };
  const [sign, color] = SIGNS[m.severity];
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => (open ? onOpen() : show())}>
        <span style={{ color }} aria-hidden>
          {sign}
        </span>
        <span className="grow nowrap over-hidden ellipsis" title={m.message}>
          {shortWords(m)}
        </span>
        <span className="mono muted nowrap">
          {m.from.toFixed(1)}–{m.to.toFixed(1)} s
        </span>
        <span className="wide-132 rigid to-right">
          <LimitBar
            value={m.times}
            limit={1}
            text={valueWords(m)}
            verdict={m.severity === "error" ? "error" : m.severity === "warn" ? "warn" : "fine"}
            width={46}
          />
        </span>
      </button>
      {open && (
        <div className="row-body line align-flex-start">
          {loaded && trial && (
            <MomentPicture
              loaded={loaded}
              name={`${JSON.stringify(trial.lanes)} ${momentKey(m)}`}
              moment={() => momentAt(loaded.character, trial, m.worstAt)}
              framing={lookOf(m).framing ?? "whole"}
              words={m.message}
            />
          )}
          <div className="take-rest t-small">
            <div className="mb-4">{m.message}</div>
            <div className="muted mb-4">
              Worst at {m.worstAt.toFixed(2)} s, limit {m.limit} {m.unit}.
            </div>
            <WhatToDo moment={m} onShow={show} />
          </div>
        </div>
      )}
    </div>
  );
}

const valueWords = ({ value, unit }: WatchMoment): string => {
  if (unit === "faces") return `${value} faces`;
  if (unit === "ratio") return `×${value.toFixed(2)}`;
  if (unit === "deg") return `${Math.round(value)}°`;
  if (unit === "%") return `${Math.round(value)} %`;
  return `${unit === "mm" ? value.toFixed(1) : value.toFixed(2)} ${unit}`;
};

/** What the stage looks at. */
const lookOf = (m: WatchMoment): Parameters<typeof lookAt>[1] =>
  m.joint ? { joint: m.joint, framing: `joint ${m.joint}` } : { framing: framingOf(m.check) };
const framingOf = (check: string): string => {
  if (check.startsWith("speech.")) return "mouth";
  return check.startsWith("clip.") ? "whole" : "face";
};

/** The motion of a joint that is turned furthest at a moment, with its angle. */
function motionAt(loaded: Loaded, joint: string, moment: Parameters<typeof evaluate>[1]): [JointMotion, number] | null {
  const { character, motions } = loaded;
  if (!character.skeleton) return null;
  const { turns } = evaluate(character, moment);
  const index = jointIndexOf(character.skeleton, joint);
  const angles = motions
    .filter((m) => m.joint === joint && index >= 0)
    .map((m): [JointMotion, number] => [m, Math.round(twistDegrees(turnOf(turns, index), m.axis))]);
  return angles.length ? angles.reduce((a, b) => (Math.abs(b[1]) > Math.abs(a[1]) ? b : a)) : null;
}

function WhatToDo({ moment: m, onShow }: { moment: WatchMoment; onShow: () => void }): ReactNode {
  const store = useSessionStore();
  const go = useGoToStation();
  const { addStep } = useDesk();
  const [, setLeaf] = useQueryState<string>("leaf", "motion");
  const [trialId] = useQueryState<string>("trial", ALL_CLIPS);
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  if (!loaded || !trial) return null;
  const playing = LANES.flatMap((l) => trial.lanes[l]).find(
    (p) => p.kind === "clip" && p.on && m.worstAt >= p.start && m.worstAt <= p.start + (p.to - p.from) / p.speed,
  );
  const clip = playing?.kind === "clip" ? loaded.character.clips.find((c) => c.name === playing.clip) : undefined;
  const correct = (): void => {
    const found = m.joint && motionAt(loaded, m.joint, momentAt(loaded.character, trial, m.worstAt));
    if (!found) return;
    setView(store, { pose: {}, weights: {} });
    poseMotion(store, found[0], found[1]);
    // where the way back leads: this trial, at this time, measured anew
    const here = new URLSearchParams({ leaf: "clips", trial: trialId, t: m.worstAt.toFixed(3), again: "yes" });
    go("correctives", found[0].id, { back: here.toString(), of: `${trial.name} at ${m.worstAt.toFixed(2)} s` });
  };
  const fit = (change: Partial<typeof NO_FITTING>): void => {
    if (!clip) return;
    const fitting = { ...(clip.fit?.fitting ?? NO_FITTING), ...change };
    void addStep({ op: "fit clip", clip: clip.name, fitting });
  };
  const keysHere = (p: { readonly keys: Keys }): Keys => carriedTo(loaded.character, p.keys);
  // shapes of the moment that keys of one's own play: each can be keyed out of it
  const keyed = (m.shape?.split(" with ") ?? []).flatMap((name) => {
    const piece = LANES.flatMap((l) => trial.lanes[l]).find(
      (p) => p.kind === "keys" && p.on && keysHere(p).shapes[name],
    );
    return piece?.kind === "keys" ? [{ name, piece }] : [];
  });
  const giveWay = (name: string, piece: (typeof keyed)[number]["piece"]): void => {
    const own = (t: number): number => piece.from + (t - piece.start) * piece.speed;
    const keys = keysHere(piece);
    const curve = withKey(keys.shapes[name], own(m.worstAt), [0]);
    const next = { ...keys, shapes: { ...keys.shapes, [name]: curve } };
    changePiece(store, piece.id, { keys: withFrames(loaded.character, next) });
  };
  const spokenHere = linesOf(trial).find((p) => m.worstAt >= p.start - 0.02 && m.worstAt <= endOf(p) + 0.02);
  const openLine = (): void => {
    selectPiece(store, spokenHere?.id ?? null);
    setLeaf("lines");
  };
  const held = clip?.fit?.fitting.hold ?? false;
  return (
    <div className="line">
      <Button variant="outlined" onClick={onShow}>
        Look there
      </Button>
      {m.check.startsWith("pose.") && m.check !== "pose.range" && m.joint && (
        <Button variant="contained" onClick={correct}>
          Correct this pose
        </Button>
      )}
      {m.check === "clip.foot-slide" && clip && !held && (
        <Button variant="contained" onClick={() => fit({ hold: true, ground: true })}>
          Hold this foot
        </Button>
      )}
      {m.check === "clip.under-ground" && clip && !clip.fit?.fitting.ground && (
        <Button variant="contained" onClick={() => fit({ ground: true })}>
          Bring soles to the floor
        </Button>
      )}
      {m.check.startsWith("speech.") && spokenHere && (
        <Button variant="contained" onClick={openLine}>
          Open the line
        </Button>
      )}
      {keyed.map(({ name, piece }) => (
        <Button key={name} variant="outlined" onClick={() => giveWay(name, piece)}>
          Let {name} give way
        </Button>
      ))}
      {(m.check.startsWith("face.") || m.check.startsWith("pair.")) && (
        <Button variant="contained" onClick={() => setLeaf("pairs")}>
          Answer this pair
        </Button>
      )}
    </div>
  );
}
