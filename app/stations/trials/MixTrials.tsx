import Button from "@mui/material/Button";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { PROFILES } from "~core/checks/profile";
import type { BadMix, MixSearch } from "~core/checks/pairs/searchMixes";
import { longRun, wasCancelled, type LongRun } from "../../session/measureClient";
import { useSession, useSessionStore } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { ScrubField } from "../../ui/ScrubField";
import { SheetHead } from "../../ui/SheetHead";
import { counted } from "../../ui/counted";
import { FACE_MEASURE_WORDS } from "./faceMeasures";

const COUNTS = { min: 100, max: 5000, start: 600 } as const;
/** Kept for the state it was made in, so that leaving the leaf loses nothing. */
const known = new Map<string, MixSearch>();

/** Mixes found by chance inside 0..1, worst first: what goes wrong between the corners that pairs at full show. */
export function MixTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const weights = useSession((s) => s.weights);
  const [seed, setSeed] = useState(1);
  const [count, setCount] = useState<number>(COUNTS.start);
  const [share, setShare] = useState<number | null>(null);
  const [, setRuns] = useState(0);
  const [failed, setFailed] = useState("");
  const work = useRef<LongRun<MixSearch> | null>(null);
  useEffect(() => () => work.current?.cancel(), []);
  const found = loaded ? known.get(loaded.state) : undefined;
  const search = async (): Promise<void> => {
    if (!loaded) return;
    setShare(0);
    setFailed("");
    try {
      work.current = longRun(
        loaded,
        (api, tell, token) => api.searchMixes(seed, count, PROFILES.realtime, tell, token),
        setShare,
      );
      known.set(loaded.state, await work.current.result);
    } catch (error) {
      if (!wasCancelled(error)) setFailed("The mixes could not be read.");
    } finally {
      setShare(null);
      setRuns((n) => n + 1);
    }
  };
  const on = (m: BadMix): boolean =>
    Object.keys(weights).length === Object.keys(m.weights).length &&
    Object.entries(m.weights).every(([n, w]) => weights[n] === w);
  const show = (m: BadMix): void =>
    store.setState({ pose: {}, weights: m.weights, framing: "face", camera: null, place: null, reading: "skin" });
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {share !== null ? (
          <Progress title={`Trying ${counted(count, "mixes")}`} share={share} onCancel={() => work.current?.cancel()} />
        ) : (
          <>
            <span className="grow nowrap" style={{ fontSize: 12.5 }}>
              <ScrubField
                label="Number of mixes"
                value={count}
                min={COUNTS.min}
                max={COUNTS.max}
                step={10}
                digits={0}
                start={COUNTS.start}
                onChange={setCount}
              />{" "}
              mixes, seed{" "}
              <ScrubField
                label="Seed"
                value={seed}
                min={1}
                max={9999}
                step={0.1}
                digits={0}
                start={1}
                onChange={setSeed}
              />
            </span>
            <span className="muted nowrap">
              {found
                ? `${found.bad.length} of ${found.tried.toLocaleString("en")} over a limit, seed ${found.seed}`
                : ""}
            </span>
            <Button variant={found ? "text" : "contained"} disabled={!loaded} onClick={() => void search()}>
              {found ? "Search again" : "Search mixes"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {failed && (
          <div className="refusal" role="alert" style={{ margin: "10px 18px" }}>
            {failed}
          </div>
        )}
        {!found && share === null && !failed && (
          <p style={{ padding: "8px 18px" }}>
            A face is seldom played at full. Two to four shapes that move skin in common are mixed at random weights; a
            mix that goes beyond a limit is pushed on to where it is worst. The same seed gives the same mixes.
          </p>
        )}
        {found?.bad.length === 0 && (
          <p className="muted" style={{ padding: "8px 18px" }}>
            No mix goes beyond a limit. Another seed tries others.
          </p>
        )}
        {found?.bad.slice(0, 200).map((m) => {
          const w = FACE_MEASURE_WORDS[m.measure];
          const words = Object.entries(m.weights)
            .map(([n, x]) => `${n} ${x}`)
            .join(" + ");
          return (
            <div key={words} className={`row${on(m) ? " open" : ""}`}>
              <button type="button" className="plain row-line" aria-pressed={on(m)} onClick={() => show(m)}>
                <span className="grow mono" style={{ whiteSpace: "normal", fontSize: 12 }}>
                  {words}
                </span>
                <span className="muted nowrap">{w.name}</span>
                <span style={{ width: 142, flex: "none", textAlign: "right" }}>
                  <LimitBar
                    value={m.value}
                    limit={w.limit}
                    text={w.text(m.value)}
                    verdict={m.measure === "stretch" ? "warn" : "error"}
                    width={46}
                  />
                </span>
              </button>
            </div>
          );
        })}
      </div>
    </div>
  );
}
