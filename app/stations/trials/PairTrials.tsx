import Button from "@mui/material/Button";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import type { PairRow, ShapePair } from "~core/checks/pairs/readPairs";
import { useJob } from "../../session/jobs/useJob";
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
import { showMoment } from "../../session/slices/view";

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
  const [find, setFind] = useState("");
  const [told, setTold] = useState("");
  const work = useJob("The pairs could not be read.");
  const busy = work.running;
  const character = loaded?.character;
  const { run, missing } = useMemo(
    () =>
      character
        ? { run: knownRun(character), missing: planPairs(character).missing.length, read }
        : { run: null, missing: 0 },
    [character, read],
  );
  useEffect(() => {
    if (character) void recallReadings(character).then((any) => any && setRead((n) => n + 1));
  }, [character]);
  const owner = useCharacterPage().character.name;
  const start = async (): Promise<void> => {
    setTold("");
    await work.during("Reading every pair", (progress, signal) =>
      readMissing(loaded!, "realtime", { progress, signal }),
    );
    setRead((n) => n + 1);
  };
  const answer = async (pairs: readonly ShapePair[]): Promise<void> => {
    setTold("");
    const items = await work.run("Making combinations", "answer pairs", { pairs: [...pairs], profile: "realtime" });
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
    showMoment(store, { weights: { [a]: 1, [b]: 1 }, framing: "face", reading: "skin" });
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
          <Progress {...busy} onCancel={work.cancel} />
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
        {(work.refusal || told) && (
          <div
            className={work.refusal ? "refusal" : "muted"}
            role="status"
            style={{ margin: "10px 18px", fontSize: 12.5 }}>
            {work.refusal || told}
          </div>
        )}
        {!run && !busy && !told && !work.refusal && (
          <p className="p-8-18">
            Two shapes that are well made alone may cross lips, bring an eye through its lid or fold the skin together.
            Every pair is read at full and counts where it goes beyond its limit and beyond what either does alone.
          </p>
        )}
        {run && <PairMatrix run={run} onPick={show} name={owner} />}
        {run && shown.length === 0 && (
          <p className="muted p-8-18">
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
                <span className="grow mono nowrap over-hidden ellipsis">
                  {r.a} + {r.b}
                </span>
                <span className="muted nowrap">{m.name}</span>
                <span className="mono muted nowrap wide-84 to-right">
                  {r.alone > 0 ? `alone ${m.text(r.alone).replace(/ .*/, "")}` : ""}
                </span>
                <span className="wide-142 rigid to-right">
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
                  <span className="muted t-small">
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
