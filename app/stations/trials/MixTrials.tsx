import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { BadMix, MixSearch } from "~core/checks/pairs/searchMixes";
import { useJob } from "../../session/jobs/useJob";
import { useSession, useSessionStore } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { ScrubField } from "../../ui/ScrubField";
import { SheetHead } from "../../ui/SheetHead";
import { counted } from "../../ui/counted";
import { FACE_MEASURE_WORDS } from "./faceMeasures";
import { showMoment } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

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
  const work = useJob("The mixes could not be read.");
  const found = loaded ? known.get(loaded.state) : undefined;
  const search = async (): Promise<void> => {
    if (!loaded) return;
    const found = await work.run(`Trying ${counted(count, "mixes")}`, "search mixes", {
      seed,
      count,
      profile: "realtime",
    });
    if (found) known.set(loaded.state, found);
  };
  const on = (m: BadMix): boolean =>
    Object.keys(weights).length === Object.keys(m.weights).length &&
    Object.entries(m.weights).every(([n, w]) => weights[n] === w);
  const show = (m: BadMix): void => showMoment(store, { weights: m.weights, framing: "face", reading: "skin" });
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <SearchFields count={count} setCount={setCount} seed={seed} setSeed={setSeed} />
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
        <Refused why={work.refusal} place="m-10-18" />
        {!found && !work.running && !work.refusal && (
          <p className="p-8-18">
            A face is seldom played at full. Two to four shapes that move skin in common are mixed at random weights; a
            mix that goes beyond a limit is pushed on to where it is worst. The same seed gives the same mixes.
          </p>
        )}
        {found?.bad.length === 0 && (
          <p className="muted p-8-18">No mix goes beyond a limit. Another seed tries others.</p>
        )}
        {found?.bad.slice(0, 200).map((m) => {
          const words = Object.entries(m.weights)
            .map(([n, x]) => `${n} ${x}`)
            .join(" + ");
          return <MixLine key={words} mix={m} words={words} on={on(m)} onShow={() => show(m)} />;
        })}
      </div>
    </div>
  );
}

interface SearchFieldsProps {
  readonly count: number;
  readonly setCount: (count: number) => void;
  readonly seed: number;
  readonly setSeed: (seed: number) => void;
}
function SearchFields({ count, setCount, seed, setSeed }: SearchFieldsProps): ReactNode {
  return (
    <span className="grow nowrap t-small">
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
      <ScrubField label="Seed" value={seed} min={1} max={9999} step={0.1} digits={0} start={1} onChange={setSeed} />
    </span>
  );
}

interface MixLineProps {
  readonly mix: BadMix;
  readonly words: string;
  readonly on: boolean;
  readonly onShow: () => void;
}
function MixLine({ mix, words, on, onShow }: MixLineProps): ReactNode {
  const w = FACE_MEASURE_WORDS[mix.measure];
  return (
    <div className={`row${on ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-pressed={on} onClick={onShow}>
        <span className="grow mono pre-normal t-12">{words}</span>
        <span className="muted nowrap">{w.name}</span>
        <span className="wide-142 rigid to-right">
          <LimitBar
            value={mix.value}
            limit={w.limit}
            text={w.text(mix.value)}
            verdict={mix.measure === "stretch" ? "warn" : "error"}
            width={46}
          />
        </span>
      </button>
    </div>
  );
}
