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
  const [find, setFind] = useState("");
  const { run, missing, work, told, start, answer } = usePairs();
  const owner = useCharacterPage().character.name;
  const busy = work.running;
  const shown =
    run?.rows.filter((r) =>
      `${r.a} ${r.b} ${FACE_MEASURE_WORDS[r.measure].name}`.toLowerCase().includes(find.toLowerCase()),
    ) ?? [];
  const show = (a: string, b: string): void =>
    showMoment(store, { weights: { [a]: 1, [b]: 1 }, framing: "face", reading: "skin" });
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {busy ? (
          <Progress {...busy} onCancel={work.cancel} />
        ) : (
          <>
            <FindField label="Find a shape" value={find} onChange={setFind} />
            <PairButtons run={run} missing={missing} onStart={() => void start()} onAnswer={(p) => void answer(p)} />
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
        {run && shown.length === 0 && <p className="muted p-8-18">{noneWords(run, missing)}</p>}
        {shown.slice(0, MOST_SHOWN).map((r) => (
          <PairLine
            key={`${r.a} ${r.b} ${r.measure}`}
            row={r}
            busy={busy !== null}
            onShow={() => show(r.a, r.b)}
            onAnswer={() => void answer([[r.a, r.b]])}
          />
        ))}
      </div>
    </div>
  );
}

const MOST_SHOWN = 200;
type PairRun = NonNullable<ReturnType<typeof knownRun>>;

function noneWords({ rows }: PairRun, missing: number): string {
  if (rows.length) return "Nothing matches.";
  return missing ? "No pair that was read goes beyond a limit." : "No pair goes beyond a limit.";
}

/** What was read of the character's pairs, and reading and answering them. */
function usePairs() {
  const loaded = useSession((s) => s.loaded);
  const character = loaded?.character;
  const { addStep } = useDesk();
  const [read, setRead] = useState(0);
  const [told, setTold] = useState("");
  const work = useJob("The pairs could not be read.");
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
  const start = async (): Promise<void> => {
    if (!loaded) return;
    setTold("");
    await work.during("Reading every pair", (progress, signal) =>
      readMissing(loaded, "realtime", { progress, signal }),
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
    else if (await addStep({ op: "derive shapes", items })) setTold(madeWords(items.map((i) => i.label)));
  };
  return { run, missing, work, told, start, answer };
}

const madeWords = (labels: readonly string[]): string =>
  `${counted(labels.length, "combinations")} made: ${labels.slice(0, 3).join("; ")}` +
  `${labels.length > 3 ? " and more" : ""}. Read again to see what is left.`;

interface PairButtonsProps {
  readonly run: PairRun | null;
  /** Pairs that are not read. */
  readonly missing: number;
  readonly onStart: () => void;
  readonly onAnswer: (pairs: readonly ShapePair[]) => void;
}
function PairButtons({ run, missing, onStart, onAnswer }: PairButtonsProps): ReactNode {
  const hasLoaded = useSession((s) => s.loaded !== null);
  const over = pairsOf(run?.rows ?? []);
  const begin = (
    <Button variant="contained" disabled={!hasLoaded} onClick={onStart}>
      {run ? `Read ${counted(missing, "changed pairs")}` : "Read every pair"}
    </Button>
  );
  if (!run) return begin;
  const all = run.pairCount.toLocaleString("en");
  return (
    <>
      <span className="muted nowrap">
        {missing
          ? `${missing.toLocaleString("en")} of ${all} pairs unread`
          : `${all} pairs, ${over.length} over a limit`}
      </span>
      {missing > 0 && begin}
      {missing === 0 && over.length > 0 && (
        <Button
          variant="contained"
          onClick={() => onAnswer(over)}
          title="One shape of each pair gives way by as little as brings the pair within its limits">
          Answer {counted(over.length, "pairs")}
        </Button>
      )}
    </>
  );
}

interface PairLineProps {
  readonly row: PairRow;
  readonly busy: boolean;
  readonly onShow: () => void;
  readonly onAnswer: () => void;
}

/** A pair with one reading over its limit; open while it is on the stage. */
function PairLine({ row: r, busy, onShow, onAnswer }: PairLineProps): ReactNode {
  const isOn = useSession(
    ({ weights }) => weights[r.a] === 1 && weights[r.b] === 1 && Object.keys(weights).length === 2,
  );
  const m = FACE_MEASURE_WORDS[r.measure];
  return (
    <div className={`row${isOn ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-pressed={isOn} onClick={onShow}>
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
      {isOn && (
        <div className="row-body line">
          <Button disabled={busy} onClick={onAnswer}>
            Make a combination
          </Button>
          <span className="muted t-small">One of the two gives way by as little as will do, only where both act.</span>
        </div>
      )}
    </div>
  );
}

/** Each pair once, in the order of its worst row. */
function pairsOf(rows: readonly PairRow[]): ShapePair[] {
  const seen = new Map<string, ShapePair>();
  for (const r of rows) seen.set(`${r.a} ${r.b}`, seen.get(`${r.a} ${r.b}`) ?? [r.a, r.b]);
  return [...seen.values()];
}
