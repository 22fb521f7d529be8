import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useEffect, useState, type ReactNode } from "react";
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

/** A set of correctives with its drivers carried over from another member of the cast, and swept. */
export function CarryCorrectives({ sweeps, onLeft }: { sweeps: Sweeps; onLeft: () => void }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const page = useCharacterPage();
  const { addSteps } = useDesk();
  const sweepAfter = useSweepAfter(sweeps);
  const work = useJob("The correctives could not be carried over.");
  const [open, setOpen] = useState(false);
  const [cast, setCast] = useState<readonly CastEntry[] | null>(null);
  const [id, setId] = useState("");
  const [source, setSource] = useState<OtherCharacter | null>(null);
  const [carried, setCarried] = useState<{ from: string; made: CarriedCorrectives } | null>(null);
  const [told, setTold] = useState("");
  const own = page.character.id;
  useEffect(() => {
    if (!open || cast) return;
    fetchCast().then(
      (all) => setCast(all.filter((c) => c.id !== own)),
      (e: unknown) => setTold(e instanceof Refusal ? e.message : "The cast could not be read."),
    );
  }, [open, cast, own]);
  if (!loaded?.character.skeleton) return null;
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
  const there = source ? [...poseDriven(source.character)] : [];
  const here = poseDriven(loaded.character).size;
  const carry = async (replaced: boolean): Promise<void> => {
    if (!source) return;
    setTold("");
    const made = await work.run(`Carrying ${counted(there.length, "correctives")} over`, "carry correctives", {
      from: source.ref,
      shapes: there,
    });
    if (!made) return;
    const steps = await carrySteps(loaded.character, made, replaced);
    const touched = sweepAfter();
    if (steps.length === 0) return setTold("None of them moves anything that this character has.");
    if (!(await addSteps(steps))) return;
    setCarried({ from: source.character.name, made });
    touched(loaded.motions);
  };
  const swept = page.trials.filter((t) => t.method === method);
  const over = (which: "with" | "without"): number =>
    swept.filter((t) => (worstRow(t.rows, which)?.excess.times ?? 0) > 1).length;
  const count = carried
    ? carried.made.driven.length +
      carried.made.read.length +
      carried.made.sampled.reduce((n, s) => n + s.shapes.length, 0)
    : 0;
  return (
    <section className={`row${open ? " open" : ""}`} aria-label="From another character">
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="grow">From another character</span>
        <span className="muted">{carried ? `${count} from ${carried.from}` : "correctives with what drives them"}</span>
      </button>
      {open && (
        <div className="row-body stack gap-8">
          <div className="line t-small">
            <Select
              variant="standard"
              disableUnderline
              displayEmpty
              disabled={!cast?.length || work.running !== null}
              value={id}
              onChange={(e) => void choose(e.target.value)}
              sx={{ fontSize: 13 }}
              inputProps={{ "aria-label": "Character whose correctives are carried over" }}>
              <MenuItem value="" disabled>
                Choose who from
              </MenuItem>
              {(cast ?? []).map((c) => (
                <MenuItem key={c.id} value={c.id}>
                  {c.name}
                  <span className="muted ml-8 t-12">{c.role}</span>
                </MenuItem>
              ))}
            </Select>
          </div>
          {source && !work.running && (
            <div className="line t-small">
              <Button variant="contained" disabled={there.length === 0} onClick={() => void carry(here > 0)}>
                {there.length
                  ? `Carry ${counted(there.length, "correctives")} over${here ? `, in place of ${here}` : ""}`
                  : `${source.character.name} has none`}
              </Button>
              {here > 0 && there.length > 0 && (
                <Button
                  title="Two correctives of one motion add up: for joints that have none here"
                  onClick={() => void carry(false)}>
                  Beside those here
                </Button>
              )}
            </div>
          )}
          {id && !source && !told && <span className="muted">Fetching the character</span>}
          {work.running && <Progress {...work.running} onCancel={work.cancel} />}
          {(told || work.refusal) && (
            <p role="status" className="muted t-small m-0">
              {told || work.refusal}
            </p>
          )}
          {carried && (
            <>
              <p role="status" className="m-0 t-small">
                {counted(count, "correctives")} made from {carried.from}&apos;s. {carried.made.how}{" "}
                {!sweeps.running && swept.length === loaded.motions.length && (
                  <>
                    Of {swept.length} motions {over("without")} are over a limit without them, {over("with")} with them.
                  </>
                )}
              </p>
              {carried.made.leftOut.length > 0 && (
                <ul className="m-0 pl-18 t-small">
                  {byReason(carried.made.leftOut).map(([why, all]) => (
                    <li key={why} title={all.join(", ")}>
                      {all.length === 1 ? <span className="mono">{all[0]}</span> : counted(all.length, "shapes")} left
                      out. {why}
                    </li>
                  ))}
                </ul>
              )}
              {!sweeps.running && over("with") > 0 && (
                <div className="line">
                  <Button onClick={onLeft}>Show the {over("with")} that are left</Button>
                </div>
              )}
            </>
          )}
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
