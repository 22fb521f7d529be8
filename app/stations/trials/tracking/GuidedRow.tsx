import Button from "@mui/material/Button";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { extremesOf, withExtreme, withNeutral, type Extreme } from "~core/tracking/captured";
import { seenFrames } from "~core/tracking/take";
import { useSession, useSessionStore } from "../../../session/session";
import { liveFaceOf } from "../../../session/tracking/liveFace";
import { counted } from "../../../ui/counted";
import type { FaceInHand } from "./faceInHand";

/** A face is held so long for its neutral, an extreme is done within so long, seconds. */
const NEUTRAL_SECONDS = 1;
const EXTREME_SECONDS = 2;
/** The seconds left are told so often, ms. */
const TICK = 100;

interface Step {
  readonly key: string;
  readonly says: string;
  readonly seconds: number;
  readonly extreme: Extreme | null;
}

/** Neutral first, then the face's extremes, one after the other: each sets what it shows as rest or as whole. */
export function GuidedRow({ face }: { face: FaceInHand }): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character ?? null);
  const live = useSession((s) => s.tracker.status === "live" || s.tracker.status === "ended");
  const [now, setNow] = useState<{ step: Step; left: number } | null>(null);
  const [done, setDone] = useState<Readonly<Record<string, string>>>({});
  const timer = useRef<number | null>(null);
  useEffect(
    () => () => {
      if (timer.current !== null) window.clearInterval(timer.current);
    },
    [],
  );
  if (!character) return null;
  const steps: Step[] = [
    { key: "neutral", says: "hold a face at rest", seconds: NEUTRAL_SECONDS, extreme: null },
    ...extremesOf(character).map((extreme) => ({
      key: extreme.key,
      says: extreme.says,
      seconds: EXTREME_SECONDS,
      extreme,
    })),
  ];
  const take = (step: Step): void => {
    const said = captured(step);
    setDone((d) => ({ ...d, [step.key]: said }));
    setNow(null);
  };
  const captured = ({ extreme, seconds }: Step): string => {
    const lately = liveFaceOf(store).lately(seconds);
    const seen = lately && seenFrames(lately).length > 0;
    const settings = store.getState().faceSettings;
    if (!lately || !seen || !settings) return "no face was seen";
    if (!extreme) {
      face.setMap(withNeutral(settings.map, lately));
      return "taken off all channels";
    }
    const { map, still, set } = withExtreme(settings.map, lately, extreme);
    if (set.length) face.setMap(map);
    if (set.length === 0) return still.length ? `${still.join(", ")} hardly moved: gains are as before` : "no channel";
    const told = `${counted(set.length, "gains")} set`;
    return still.length ? `${told}; ${still.join(", ")} hardly moved` : told;
  };
  const begin = (step: Step): void => {
    if (timer.current !== null) window.clearInterval(timer.current);
    let left = step.seconds;
    setNow({ step, left });
    timer.current = window.setInterval(() => {
      left -= TICK / 1000;
      if (left > 1e-6) return setNow({ step, left });
      window.clearInterval(timer.current!);
      timer.current = null;
      take(step);
    }, TICK);
  };
  const next = steps.find((s) => !(s.key in done));
  return (
    <div className="p-4-18-12" role="group" aria-label="Neutral and extremes">
      <h2 className="group-title bare-title">Neutral and extremes</h2>
      <div className="guided">
        {steps.map((s) => (
          <Button
            key={s.key}
            size="small"
            disabled={!live || now !== null}
            variant={s === next ? "outlined" : "text"}
            title={done[s.key] ?? s.says}
            onClick={() => begin(s)}>
            {s.key in done ? "✓ " : ""}
            {s.key}
          </Button>
        ))}
      </div>
      <div className="t-small muted" role="status">
        {now
          ? `${now.step.says}: ${now.left.toFixed(1)} s`
          : lastSaid(steps, done, next) ||
            "Hold a face at rest and press neutral; then do each movement as far as it goes."}
      </div>
    </div>
  );
}

function lastSaid(steps: readonly Step[], done: Readonly<Record<string, string>>, next: Step | undefined): string {
  const last = [...Object.keys(done)].pop();
  if (last === undefined) return "";
  const then = next ? ` Next: ${next.says}.` : "";
  return `${steps.find((s) => s.key === last)?.key}: ${done[last]}.${then}`;
}
