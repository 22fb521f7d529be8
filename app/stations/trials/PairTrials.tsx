import Button from "@mui/material/Button";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { PROFILES } from "~core/checks/profile";
import type { PairRow, ShapePair } from "~core/checks/pairs/readPairs";
import { longRun, wasCancelled, type LongRun } from "../../session/measureClient";
import { knownRun, planPairs, readMissing, recallReadings } from "../../session/pairReadings";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { FACE_MEASURE_WORDS } from "./faceMeasures";
import { PairMatrix } from "./PairMatrix";

/**
 * Every pair of face shapes at full: a matrix of the worst excess, and the pairs worst first; choosing one shows it on
 * the stage, and a combination can answer it.
 */
export function PairTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const weights = useSession((s) => s.weights);
  const { addStep } = useDesk();
  const [read, setRead] = useState(0);
  const [busy, setBusy] = useState<{ title: string; share: number } | null>(null);
  const [find, setFind] = useState("");
  const [told, setTold] = useState("");
  const work = useRef<LongRun<unknown> | null>(null);
  const character = loaded?.character;
  const { run, missing } = useMemo(
    () =>
      character
        ? { run: knownRun(character), missing: planPairs(character).missing.length, read }
        : { run: null, missing: 0 },
    [character, read],
  );
  useEffect(() => () => work.current?.cancel(), []);
  useEffect(() => {
    if (character) void recallReadings(character).then((any) => any && setRead((n) => n + 1));
  }, [character]);
  const owner = useCharacterPage().character.name;
  const during = async <T,>(
    title: string,
    begin: (progress: (share: number) => void) => LongRun<T>,
  ): Promise<T | null> => {
    setBusy({ title, share: 0 });
    setTold("");
    try {
      const started = begin((share) => setBusy({ title, share }));
      work.current = started;
      return await started.result;
    } catch (error) {
      if (!wasCancelled(error)) setTold("The pairs could not be read.");
      return null;
    } finally {
      setBusy(null);
      setRead((n) => n + 1);
    }
  };
  const start = (): Promise<unknown> =>
    during("Reading every pair", (progress) => readMissing(loaded!, PROFILES.realtime, progress));
  const answer = async (pairs: readonly ShapePair[]): Promise<void> => {
    const items = await during("Making combinations", (progress) =>
      longRun(loaded!, (api, tell, token) => api.answers(pairs, PROFILES.realtime, tell, token), progress),
    );
    if (!items) return;
    if (items.length === 0)
      setTold(
        "No combination was made: these pairs have one already, or neither " +
          "shape giving way would help. Sculpt the pair at the shapes' station.",
      );
    else if (await addStep({ op: "derive shapes", items }))
      setTold(
        `${counted(items.length, "combinations")} made: ${items
          .slice(0, 3)
          .map((i) => i.label)
          .join("; ")}${items.length > 3 ? " and more" : ""}. Read again to see what is left.`,
      );
  };
  const show = (a: string, b: string): void =>
    store.setState({
      pose: {},
      weights: { [a]: 1, [b]: 1 },
      framing: "face",
      camera: null,
      place: null,
      reading: "skin",
    });
  const shown =
    run?.rows.filter((r) =>
      `${r.a} ${r.b} ${FACE_MEASURE_WORDS[r.measure].name}`.toLowerCase().includes(find.toLowerCase()),
    ) ?? [];
  const on = (r: PairRow): boolean => weights[r.a] === 1 && weights[r.b] === 1 && Object.keys(weights).length === 2;
  const over = pairsOf(run?.rows ?? []);
  const toRead = !run ? "Read every pair" : missing > 0 ? `Read ${counted(missing, "changed pairs")}` : "";
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {busy ? (
          <Progress title={busy.title} share={busy.share} onCancel={() => work.current?.cancel()} />
        ) : (
          <>
            <FindField label="Find a shape" value={find} onChange={setFind} />
            <span className="muted nowrap">
              {run
                ? missing
                  ? `${missing.toLocaleString("en")} of ${run.pairCount.toLocaleString("en")} pairs unread`
                  : `${run.pairCount.toLocaleString("en")} pairs, ${over.length} over a limit`
                : ""}
            </span>
            {toRead && (
              <Button variant="contained" disabled={!loaded} onClick={() => void start()}>
                {toRead}
              </Button>
            )}
            {run && missing === 0 && over.length > 0 && (
              <Button
                variant="contained"
                onClick={() => void answer(over)}
                title="One shape of each pair gives way by as little as brings the pair within its limits">
                Answer {counted(over.length, "pairs")}
              </Button>
            )}
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {told && (
          <div
            className={told.startsWith("The pairs") ? "refusal" : "muted"}
            role="status"
            style={{ margin: "10px 18px", fontSize: 12.5 }}>
            {told}
          </div>
        )}
        {!run && !busy && !told && (
          <p style={{ padding: "8px 18px" }}>
            Two shapes that are well made alone may cross lips, bring an eye through its lid or fold the skin together.
            Every pair is read at full and counts where it goes beyond its limit and beyond what either does alone.
          </p>
        )}
        {run && <PairMatrix run={run} onPick={show} name={owner} />}
        {run && shown.length === 0 && (
          <p className="muted" style={{ padding: "8px 18px" }}>
            {run.rows.length
              ? "Nothing matches."
              : missing
                ? "No pair that was read goes beyond a limit."
                : "No pair goes beyond a limit."}
          </p>
        )}
        {shown.slice(0, 200).map((r) => {
          const m = FACE_MEASURE_WORDS[r.measure];
          return (
            <div key={`${r.a} ${r.b} ${r.measure}`} className={`row${on(r) ? " open" : ""}`}>
              <button type="button" className="plain row-line" aria-pressed={on(r)} onClick={() => show(r.a, r.b)}>
                <span
                  className="grow mono"
                  style={{ whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}>
                  {r.a} + {r.b}
                </span>
                <span className="muted nowrap">{m.name}</span>
                <span className="mono muted nowrap" style={{ width: 84, textAlign: "right" }}>
                  {r.alone > 0 ? `alone ${m.text(r.alone).replace(/ .*/, "")}` : ""}
                </span>
                <span style={{ width: 142, flex: "none", textAlign: "right" }}>
                  <LimitBar
                    value={r.value}
                    limit={m.limit}
                    text={m.text(r.value)}
                    verdict={r.measure === "stretch" ? "warn" : "error"}
                    width={46}
                  />
                </span>
              </button>
              {on(r) && (
                <div className="row-body line">
                  <Button disabled={busy !== null} onClick={() => void answer([[r.a, r.b]])}>
                    Make a combination
                  </Button>
                  <span className="muted" style={{ fontSize: 12.5 }}>
                    One of the two gives way by as little as will do, only where both act.
                  </span>
                </div>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** Each pair once, in the order of its worst row. */
function pairsOf(rows: readonly PairRow[]): ShapePair[] {
  const seen = new Map<string, ShapePair>();
  for (const r of rows) seen.set(`${r.a} ${r.b}`, seen.get(`${r.a} ${r.b}`) ?? [r.a, r.b]);
  return [...seen.values()];
}
