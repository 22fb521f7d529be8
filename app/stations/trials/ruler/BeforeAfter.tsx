import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { compareMoments, type Change, type CompareRow } from "~core/trials/compare";
import type { WatchMoment } from "~core/trials/moments";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { useCharacterPage } from "../../../session/useDesk";

/** Moments that were kept to be compared with: of another version, another character, or without correctives. */
interface Before {
  readonly key: string;
  readonly label: string;
  readonly moments: readonly WatchMoment[];
}
// kept over a change of character and station; a reload forgets it
let kept: Before | null = null;

const COLORS: Readonly<Record<Change, string | undefined>> = {
  new: "var(--brick)",
  worse: "var(--brick)",
  better: "var(--accent)",
  gone: "var(--accent)",
  "as before": undefined,
};
/** Rows that are listed at once. */
const MOST = 40;

/** The moments of a trial against those kept before: what is new, worse, better and gone. */
export function BeforeAfter({
  watchKey: key,
  moments,
}: {
  watchKey: string;
  moments: readonly WatchMoment[];
}): ReactNode {
  const { character, ledger } = useCharacterPage();
  const drivers = useSession((s) => s.drivers);
  const trial = useSession((s) => s.trial?.name ?? "");
  const [before, setBefore] = useState(kept);
  const keep = (next: Before | null): void => {
    kept = next;
    setBefore(next);
  };
  const label = `${character.name}, ${trial}, step ${ledger.head}${drivers ? "" : ", without correctives"}`;
  if (before && before.key !== key)
    return <Table before={before} label={label} moments={moments} onForget={() => keep(null)} />;
  return (
    <div className="p-0-18 line t-small">
      {before ? (
        <>
          <span className="muted take-rest">
            Kept as before: {before.label}. Change something, open another character or take correctives off, and watch.
          </span>
          <Button onClick={() => keep(null)}>Forget it</Button>
        </>
      ) : (
        <Button onClick={() => keep({ key, label, moments })}>Keep these moments as before</Button>
      )}
    </div>
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
    <div className="p-0-18">
      <div className="line t-small">
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
              <th>before</th>
              <th>after</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {told.slice(0, MOST).map((r) => (
              <tr key={`${r.check} ${r.place} ${r.unit}`}>
                <td style={{ color: COLORS[r.change] }}>{r.change}</td>
                <td>
                  <button type="button" className="plain" onClick={() => go(r)}>
                    {r.place}, {r.check}
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
