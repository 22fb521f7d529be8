import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Character } from "~core/model/character";
import { compareMoments, type Change, type CompareRow } from "~core/trials/compare";
import { missingClips } from "~core/trials/momentAt";
import { momentsOf, shortWords, type WatchMoment } from "~core/trials/moments";
import { useWork } from "../../../session/jobs/useWork";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import type { Watched } from "../../../session/slices/trial";
import { setView } from "../../../session/slices/view";
import { useCharacterPage } from "../../../session/useDesk";
import { Progress } from "../../../ui/Progress";
import { BesidePick } from "../../beside";
import { measureTrial } from "./measureTrial";
import { useBesideOnStage } from "./useBesideOnStage";
import { Refused } from "../../../ui/Refused";

/** Moments that this trial's are told against: of another version, another character, or without correctives. */
interface Before {
  readonly label: string;
  /** A word for the column of another character. */
  readonly short?: string;
  readonly moments: readonly WatchMoment[];
}
/** Moments kept by hand: over a change of character and station; a reload forgets them. */
let kept: (Before & { readonly key: string }) | null = null;
/** Moments of what stood beside, by what was played. */
const measured = new WeakMap<Character, Map<string, readonly WatchMoment[]>>();

const COLORS: Readonly<Record<Change, string | undefined>> = {
  new: "var(--brick)",
  worse: "var(--brick)",
  better: "var(--accent)",
  gone: "var(--accent)",
  "as before": undefined,
};
/** Rows that are listed at once. */
const MOST = 40;

/**
 * A trial against itself elsewhere: on another version, another character or without correctives, side by side on the
 * stage and on one clock, and its moments told as new, worse, better and gone.
 */
export function BeforeAfter({
  watched,
  moments,
}: {
  watched: Watched | null;
  moments: readonly WatchMoment[];
}): ReactNode {
  const { character, ledger } = useCharacterPage();
  const pick = useBesideOnStage();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const drivers = useSession((s) => s.drivers);
  const beside = useSession((s) => s.beside);
  const work = useWork("What stands beside could not be watched.");
  const [before, setBefore] = useState(kept);
  const [, measuredNew] = useState(0);
  if (!loaded || !trial) return null;
  const keep = (next: typeof kept): void => {
    kept = next;
    setBefore(next);
  };
  const label = `${character.name}, ${trial.name}, step ${ledger.head}${drivers ? "" : ", without correctives"}`;
  const own = pick.choice === "";
  const there = own ? loaded : beside?.loaded;
  const key = `${own} ${drivers} ${JSON.stringify({ ...trial, name: "" })}`;
  // what is lent to it belongs to the trial, and is in the key with it
  const of = own ? loaded.character : pick.character;
  const known = of && measured.get(of)?.get(key);
  const put = (found: readonly WatchMoment[] | null): void => {
    if (!of) return;
    const all = measured.get(of) ?? new Map<string, readonly WatchMoment[]>();
    if (found) all.set(key, found);
    else all.delete(key);
    measured.set(of, all);
    measuredNew((n) => n + 1);
  };
  const watch = async (): Promise<void> => {
    await work.during("Watching what stands beside", async (tell, signal) => {
      if (there) put(momentsOf(await measureTrial(there, trial, !own && drivers, tell, signal), trial.fps));
    });
  };
  const title = own ? "itself without correctives" : pick.short;
  const missing = beside ? missingClips(beside.loaded.character, trial) : [];
  const against: Before | null = known
    ? { label: title, moments: known, ...(pick.choice.startsWith("cast ") && { short: pick.short }) }
    : before && watched && before.key !== watched.key
      ? before
      : null;
  return (
    <div className="p-0-18 t-small" role="group" aria-label="Before and after">
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <div className="line">
          <Against pick={pick} there={Boolean(there)} known={Boolean(known)} onWatch={() => void watch()} />
          <span className="take-rest" />
          {watched?.whole && !before && (
            <Button
              title="What you change next is told against them"
              onClick={() => keep({ key: watched.key, label, moments })}>
              Keep these moments
            </Button>
          )}
        </div>
      )}
      <Refused why={work.refusal} />
      <BeforeWords
        there={Boolean(there)}
        short={pick.short}
        missing={missing}
        kept={before && !against ? before : null}
        onForget={() => keep(null)}
      />
      {against && !watched?.whole && <p className="muted">Watch every frame here, too: then they are compared.</p>}
      {against && watched?.whole && (
        <Table before={against} label={label} moments={moments} onForget={known ? () => put(null) : () => keep(null)} />
      )}
    </div>
  );
}

interface AgainstProps {
  readonly pick: ReturnType<typeof useBesideOnStage>;
  readonly there: boolean;
  readonly known: boolean;
  readonly onWatch: () => void;
}
/** What the trial is compared with. */
function Against({ pick, there, known, onWatch }: AgainstProps): ReactNode {
  const store = useSessionStore();
  const compare = useSession((s) => s.compare);
  return (
    <>
      <BesidePick
        beside={pick}
        label="What the trial is compared with"
        nothing="itself without correctives"
        wide={168}
      />
      <Button
        disabled={!there}
        title="Both on the stage, on one clock"
        onClick={() => setView(store, { compare: compare === "side by side" ? "now" : "side by side" })}>
        {compare === "side by side" ? "One figure" : "Side by side"}
      </Button>
      <Button disabled={!there} title="Measures every frame there, and tells what differs" onClick={onWatch}>
        {known ? "Compare again" : "Compare"}
      </Button>
    </>
  );
}

interface BeforeWordsProps {
  readonly there: boolean;
  readonly short: string;
  readonly missing: readonly string[];
  readonly kept: Before | null;
  readonly onForget: () => void;
}
/** What is missing beside, and what was kept. */
function BeforeWords({ there, short, missing, kept, onForget }: BeforeWordsProps): ReactNode {
  return (
    <>
      {!there && <p className="muted">Bringing {short} and the clips that it lacks.</p>}
      {missing.length > 0 && (
        <p className="muted">
          {short} has no clip {missing.join(", ")}, and it could not be brought over: nothing plays there then.
        </p>
      )}
      {kept && (
        <div className="line">
          <span className="muted take-rest">Kept: {kept.label}. Change something, and watch.</span>
          <Button onClick={onForget}>Forget it</Button>
        </div>
      )}
    </>
  );
}

function Table({
  before,
  label,
  moments,
  onForget,
}: {
  before: Before;
  label: string;
  moments: readonly WatchMoment[];
  onForget: () => void;
}): ReactNode {
  const store = useSessionStore();
  const { rows, counts } = compareMoments(before.moments, moments);
  const told = rows.filter((r) => r.change !== "as before");
  const go = (r: CompareRow): void => {
    const player = playerOf(store);
    player.pause();
    if (r.at !== null) player.seek(r.at);
  };
  const number = (v: number | null): string => (v === null ? "–" : Number(v.toPrecision(3)).toString());
  return (
    <div>
      <div className="line">
        <span className="take-rest">
          <b className="w-550">{before.label}</b> against <b className="w-550">{label}</b>: {counts.new} new,{" "}
          {counts.worse} worse, {counts.better} better, {counts.gone} gone, {counts["as before"]} as before
        </span>
        <Button onClick={onForget}>Forget it</Button>
      </div>
      {told.length > 0 && (
        <table className="plain t-small" aria-label="Before and after">
          <thead>
            <tr>
              <th>what</th>
              <th>where</th>
              <th>{before.short ?? "before"}</th>
              <th>{before.short ? "here" : "after"}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {told.slice(0, MOST).map((r) => (
              <tr key={`${r.check} ${r.place} ${r.unit}`}>
                <td style={{ color: COLORS[r.change] }}>{r.change}</td>
                <td>
                  <button type="button" className="plain" onClick={() => go(r)}>
                    {shortWords(r)}
                  </button>
                </td>
                <td className="mono">{number(r.before)}</td>
                <td className="mono">{number(r.after)}</td>
                <td className="muted">{r.unit}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
