import Button from "@mui/material/Button";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { PROFILES } from "~core/checks/profile";
import type { PairRow, PairRun } from "~core/checks/pairs/pairFindings";
import type { FaceMeasure } from "~core/measure/faceGauge";
import { longRun, wasCancelled, type LongRun } from "../../session/measureClient";
import { useSession, useSessionStore } from "../../session/session";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { PairMatrix } from "./PairMatrix";

/** Kept for the state it was read in, so that leaving the leaf loses nothing. */
const known = new Map<string, PairRun>();

const { limits } = PROFILES.realtime;
const MEASURES: Readonly<Record<FaceMeasure, { readonly name: string; readonly limit: number; readonly text: (v: number) => string }>> = {
  lipCross: { name: "lips cross", limit: limits["face.lip-cross"] ?? 1, text: (v) => `${v.toFixed(2)} mm` },
  eyeThroughLid: { name: "eye through lid", limit: limits["face.eye-through-lid"] ?? 0.1, text: (v) => `${v.toFixed(2)} mm` },
  stretch: { name: "stretch", limit: limits["pair.stretch"] ?? 3, text: (v) => `${v.toFixed(2)} ×` },
  flips: { name: "turned faces", limit: 0, text: (v) => String(v) },
};

/** Every pair of face shapes at full: a matrix of the worst excess, and the pairs worst first; choosing one shows it on the stage. */
export function PairTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const weights = useSession((s) => s.weights);
  const [held, setHeld] = useState<{ state: string; run: PairRun } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [find, setFind] = useState("");
  const [failed, setFailed] = useState("");
  const work = useRef<LongRun<PairRun> | null>(null);
  const state = loaded?.state ?? "";
  const run = (held?.state === state ? held.run : known.get(state)) ?? null;
  useEffect(() => () => work.current?.cancel(), []);
  const start = async (): Promise<void> => {
    if (!loaded) return;
    setShare(0);
    setFailed("");
    try {
      work.current = longRun(loaded, (api, progress, token) => api.pairs(PROFILES.realtime, progress, token), setShare);
      const found = await work.current.result;
      known.set(loaded.state, found);
      setHeld({ state: loaded.state, run: found });
    } catch (error) {
      if (!wasCancelled(error)) setFailed("The pairs could not be read.");
    } finally {
      setShare(null);
    }
  };
  const show = (a: string, b: string): void => store.setState({ pose: {}, weights: { [a]: 1, [b]: 1 }, framing: "face", camera: null, place: null, reading: "skin" });
  const shown = run?.rows.filter((r) => `${r.a} ${r.b} ${MEASURES[r.measure].name}`.toLowerCase().includes(find.toLowerCase())) ?? [];
  const on = (r: PairRow): boolean => weights[r.a] === 1 && weights[r.b] === 1 && Object.keys(weights).length === 2;
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {share !== null ? <Progress title="Reading every pair" share={share} onCancel={() => work.current?.cancel()} /> : (
          <>
            <FindField label="Find a shape" value={find} onChange={setFind} />
            <span className="muted nowrap">{run ? `${run.pairCount.toLocaleString("en")} pairs, ${new Set(run.rows.map((r) => `${r.a} ${r.b}`)).size} over a limit` : ""}</span>
            <Button variant={run ? "text" : "contained"} disabled={!loaded} onClick={() => void start()}>{run ? "Read again" : "Read every pair"}</Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {failed && <div className="refusal" role="alert" style={{ margin: "10px 18px" }}>{failed}</div>}
        {!run && share === null && !failed && <p style={{ padding: "8px 18px" }}>Two shapes that are well made alone may cross lips, bring an eye through its lid or fold the skin together. Every pair is read at full and counts where it goes beyond its limit and beyond what either does alone.</p>}
        {run && <PairMatrix run={run} onPick={show} />}
        {run && shown.length === 0 && <p className="muted" style={{ padding: "8px 18px" }}>{run.rows.length ? "Nothing matches." : "No pair goes beyond a limit."}</p>}
        {shown.slice(0, 200).map((r) => {
          const m = MEASURES[r.measure];
          return (
            <div key={`${r.a} ${r.b} ${r.measure}`} className={`row${on(r) ? " open" : ""}`}>
              <button type="button" className="plain row-line" aria-pressed={on(r)} onClick={() => show(r.a, r.b)}>
                <span className="grow mono" style={{ whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}>{r.a} + {r.b}</span>
                <span className="muted nowrap">{m.name}</span>
                <span className="mono muted nowrap" style={{ width: 84, textAlign: "right" }}>{r.alone > 0 ? `alone ${m.text(r.alone).replace(/ .*/, "")}` : ""}</span>
                <span style={{ width: 142, flex: "none", textAlign: "right" }}><LimitBar value={r.value} limit={m.limit} text={m.text(r.value)} verdict={r.measure === "stretch" ? "warn" : "error"} width={46} /></span>
              </button>
            </div>
          );
        })}
      </div>
    </div>
  );
}
