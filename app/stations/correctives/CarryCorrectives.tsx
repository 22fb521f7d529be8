import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { poseDriven } from "~core/model/drivenShapes";
import type { CarriedCorrectives } from "~core/transfer/carryCorrectives";
import { carrySteps } from "../../session/carrySteps";
import { useJob } from "../../session/jobs/useJob";
import { Refusal } from "../../session/ledgerClient";
import { worstRow } from "../../session/motionScore";
import { fetchCast, fetchCharacter, type CastEntry, type OtherCharacter } from "../../session/otherCharacter";
import { useSession } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { useSweepAfter } from "../../session/useSweepAfter";
import type { Sweeps } from "../../session/useSweeps";
import { counted } from "../../ui/counted";
import { Progress } from "../../ui/Progress";

/** Names of what was left out, by reason. */
function byReason(leftOut: CarriedCorrectives["leftOut"]): [why: string, names: string[]][] {
  const out = new Map<string, string[]>();
  for (const { name, why } of leftOut) out.set(why, [...(out.get(why) ?? []), name]);
  return [...out];
}

/** What was carried, and whose it is. */
interface Carried {
  readonly from: string;
  readonly made: CarriedCorrectives;
}
const countOf = ({ made }: Carried): number =>
  made.driven.length + made.read.length + made.sampled.reduce((n, s) => n + s.shapes.length, 0);

interface CarryProps {
  readonly sweeps: Sweeps;
  /** Shows the motions that are still over a limit. */
  readonly onLeft: () => void;
}

/** A set of correctives with its drivers carried over from another member of the cast, and swept. */
export function CarryCorrectives({ sweeps, onLeft }: CarryProps): ReactNode {
  const hasSkeleton = useSession((s) => Boolean(s.loaded?.character.skeleton));
  const [open, setOpen] = useState(false);
  const { carried, work, told, source, id, choose, carry } = useCarry(sweeps);
  const cast = useOthers(open);
  if (!hasSkeleton) return null;
  const says = told || work.refusal || cast.told;
  return (
    <section className={`row${open ? " open" : ""}`} aria-label="From another character">
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="grow">From another character</span>
        <span className="muted">
          {carried ? `${countOf(carried)} from ${carried.from}` : "correctives with what drives them"}
        </span>
      </button>
      {open && (
        <div className="row-body stack gap-8">
          <div className="line t-small">
            <SmallSelect
              label="Character whose correctives are carried over"
              value={id}
              disabled={!cast.others.length || work.running !== null}
              onChange={(value) => void choose(value)}
              size={13}>
              <MenuItem value="" disabled>
                Choose who from
              </MenuItem>
              {cast.others.map((c) => (
                <MenuItem key={c.id} value={c.id}>
                  {c.name}
                  <span className="muted ml-8 t-12">{c.role}</span>
                </MenuItem>
              ))}
            </SmallSelect>
          </div>
          {source && !work.running && <CarryButtons source={source} onCarry={(replaced) => void carry(replaced)} />}
          {id && !source && !says && <span className="muted">Fetching the character</span>}
          {work.running && <Progress {...work.running} onCancel={work.cancel} />}
          {says && (
            <p role="status" className="muted t-small m-0">
              {says}
            </p>
          )}
          {carried && <CarriedWords carried={carried} isSweeping={sweeps.running !== null} onLeft={onLeft} />}
          {!carried && !work.running && (
            <span className="muted t-small">
              Movement goes by the surface, limb for limb; angles are counted from this figure&apos;s rest, and every
              motion is swept with and without them.
            </span>
          )}
        </div>
      )}
    </section>
  );
}

/** The other members of the cast, once they are asked for. */
function useOthers(wanted: boolean): { readonly others: readonly CastEntry[]; readonly told: string } {
  const own = useCharacterPage().character.id;
  const [cast, setCast] = useState<readonly CastEntry[] | null>(null);
  const [told, setTold] = useState("");
  useEffect(() => {
    if (!wanted || cast) return;
    fetchCast().then(
      (all) => setCast(all.filter((c) => c.id !== own)),
      (e: unknown) => setTold(e instanceof Refusal ? e.message : "The cast could not be read."),
    );
  }, [wanted, cast, own]);
  return { others: cast ?? [], told };
}

/** Whose correctives are carried, and carrying them. */
function useCarry(sweeps: Sweeps) {
  const loaded = useSession((s) => s.loaded);
  const { addSteps } = useDesk();
  const sweepAfter = useSweepAfter(sweeps);
  const work = useJob("The correctives could not be carried over.");
  const [id, setId] = useState("");
  const [source, setSource] = useState<OtherCharacter | null>(null);
  const [carried, setCarried] = useState<Carried | null>(null);
  const [told, setTold] = useState("");
  const choose = async (chosen: string): Promise<void> => {
    setId(chosen);
    setSource(null);
    setCarried(null);
    setTold("");
    try {
      setSource(await fetchCharacter(chosen));
    } catch (e) {
      setTold(e instanceof Error ? e.message : "The character could not be fetched.");
    }
  };
  const carry = async (replaced: boolean): Promise<void> => {
    if (!source || !loaded) return;
    setTold("");
    const shapes = [...poseDriven(source.character)];
    const title = `Carrying ${counted(shapes.length, "correctives")} over`;
    const made = await work.run(title, "carry correctives", { from: source.ref, shapes });
    if (!made) return;
    const steps = await carrySteps(loaded.character, made, replaced);
    const touched = sweepAfter();
    if (steps.length === 0) return setTold("None of them moves anything that this character has.");
    if (!(await addSteps(steps))) return;
    setCarried({ from: source.character.name, made });
    touched(loaded.motions);
  };
  return { carried, work, told, source, id, choose, carry };
}

interface CarryButtonsProps {
  readonly source: OtherCharacter;
  /** @param replaced whether those here give way. */
  readonly onCarry: (replaced: boolean) => void;
}
function CarryButtons({ source, onCarry }: CarryButtonsProps): ReactNode {
  const here = useSession((s) => (s.loaded ? poseDriven(s.loaded.character).size : 0));
  const there = poseDriven(source.character).size;
  const place = here ? `, in place of ${here}` : "";
  return (
    <div className="line t-small">
      <Button variant="contained" disabled={there === 0} onClick={() => onCarry(here > 0)}>
        {there ? `Carry ${counted(there, "correctives")} over${place}` : `${source.character.name} has none`}
      </Button>
      {here > 0 && there > 0 && (
        <Button
          title="Two correctives of one motion add up: for joints that have none here"
          onClick={() => onCarry(false)}>
          Beside those here
        </Button>
      )}
    </div>
  );
}

interface CarriedWordsProps {
  readonly carried: Carried;
  readonly isSweeping: boolean;
  readonly onLeft: () => void;
}

/** What came over, what did not, and what the sweeps say of it. */
function CarriedWords({ carried, isSweeping, onLeft }: CarriedWordsProps): ReactNode {
  const method = useSession((s) => s.method);
  const motions = useSession((s) => s.loaded?.motions.length ?? 0);
  const swept = useCharacterPage().trials.filter((t) => t.method === method);
  const over = (which: "with" | "without"): number =>
    swept.filter((t) => (worstRow(t.rows, which)?.excess.times ?? 0) > 1).length;
  const { how, leftOut } = carried.made;
  return (
    <>
      <p role="status" className="m-0 t-small">
        {counted(countOf(carried), "correctives")} made from {carried.from}&apos;s. {how}{" "}
        {!isSweeping && swept.length === motions && (
          <>
            Of {swept.length} motions {over("without")} are over a limit without them, {over("with")} with them.
          </>
        )}
      </p>
      {leftOut.length > 0 && (
        <ul className="m-0 pl-18 t-small">
          {byReason(leftOut).map(([why, all]) => (
            <li key={why} title={all.join(", ")}>
              {all.length === 1 ? <span className="mono">{all[0]}</span> : counted(all.length, "shapes")} left out.{" "}
              {why}
            </li>
          ))}
        </ul>
      )}
      {!isSweeping && over("with") > 0 && (
        <div className="line">
          <Button onClick={onLeft}>Show the {over("with")} that are left</Button>
        </div>
      )}
    </>
  );
}
