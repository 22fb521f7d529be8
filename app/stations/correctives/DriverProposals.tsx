import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useMemo, useState, type ReactNode } from "react";
import { dot } from "~core/math/vec3";
import { loneShapes, type FoundDriver } from "~core/correctives/findDriver";
import type { Step } from "~core/ledger/steps";
import type { Character } from "~core/model/character";
import { rangeWords } from "~core/model/drivenByTurn";
import { proposeDrivers, type DriverProposal } from "~core/shapes/proposeDrivers";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { shareJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { withMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { showMoment } from "../../session/slices/view";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { Progress } from "../../ui/Progress";
import { Refused } from "../../ui/Refused";

const setBy = (p: DriverProposal): string => (p.driver ? rangeWords(p.driver) : p.rule.of.join(" × "));

/** What was found by measuring, as a proposal. */
const measured = (shape: string, { motion, driver, gain, certain }: FoundDriver): Proposed => ({
  shape,
  rule: null,
  certain,
  why:
    `takes away ${Math.round(100 * gain)} % of what is wrong at ${motion.label}` +
    (certain ? "" : "; another motion comes near, so look at it first"),
  driver,
});
type Proposed = DriverProposal & { readonly certain?: boolean };

const rank = (p: Proposed): number => (p.certain === false ? 0 : 1);

/**
 * Shapes of a file without drivers that look like correctives or combinations: what would set each, to be taken or
 * left. Where names say nothing it is found by measuring.
 */
export function DriverProposals(): ReactNode {
  const { addStep } = useDesk();
  const { all, lone, none, measure, work } = useProposals();
  const [open, setOpen] = useState(false);
  const [chosenBy, setChosen] = useState<ReadonlyMap<string, boolean>>(new Map());
  if (all.length === 0 && lone.length === 0) return null;
  const isChosen = (p: Proposed): boolean => chosenBy.get(p.shape) ?? p.certain !== false;
  const chosen = all.filter(isChosen);
  return (
    <div
      style={{
        padding: "6px 18px",
        maxHeight: open ? 420 : undefined,
        overflowY: open ? "auto" : undefined,
        borderBottom: "1px solid var(--line)",
        fontSize: 12.5,
      }}
      role="region"
      aria-label="Shapes that nothing sets">
      {all.length > 0 && (
        <div className="line">
          <span className="grow">{alikeWords(all.length)}</span>
          <Button aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? "Close" : "Look"}
          </Button>
          {open && (
            <Button variant="contained" disabled={chosen.length === 0} onClick={() => void addStep(stepOf(chosen))}>
              Let {counted(chosen.length, "shapes")} be set
            </Button>
          )}
        </div>
      )}
      {lone.length > 0 && none === null && !work.running && (
        <div className="line">
          <span className="grow">
            ◆ {counted(lone.length, "shapes")} move{lone.length === 1 ? "s" : ""} the body, {all.length ? "too, " : ""}
            nothing sets {lone.length === 1 ? "it" : "them"}, and no name says what should.
          </span>
          <Button
            title="Bends every joint near each shape, and finds where the shape takes away most of what is wrong"
            onClick={() => void measure().then((found) => found && setOpen(true))}>
            Find by measuring
          </Button>
        </div>
      )}
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      <Refused why={work.refusal} />
      {none !== null && none > 0 && (
        <p className="muted m-0" role="status">
          {counted(none, "shapes")} do{none === 1 ? "es" : ""} no good at any joint.
        </p>
      )}
      {open && all.length > 0 && (
        <ProposalTable
          all={all}
          isChosen={isChosen}
          onChoose={(shape, on) => setChosen(new Map(chosenBy).set(shape, on))}
        />
      )}
    </div>
  );
}

const alikeWords = (count: number): string =>
  count === 1
    ? "◆ 1 shape looks like a corrective or combination and is set by nothing."
    : `◆ ${counted(count, "shapes")} look like correctives or combinations and are set by nothing.`;

const stepOf = (chosen: readonly Proposed[]): Step => ({
  op: "drive shapes",
  items: chosen.map((p) => ({
    name: p.shape,
    driver: p.driver && { ...p.driver, axis: [...p.driver.axis] },
    rule: p.rule && { ...p.rule, of: [...p.rule.of] },
  })),
});

/** Proposals by names and, once they are measured, by what shapes do; shapes for which neither says anything. */
function useProposals() {
  const loaded = useSession((s) => s.loaded);
  const character = loaded?.character;
  const work = useWork("The drivers could not be found.");
  const [found, setFound] = useState<{ of: Character; list: readonly Proposed[]; none: number } | null>(null);
  const named = useMemo(() => (character ? proposeDrivers(character) : []), [character]);
  const lone = useMemo(() => {
    const taken = new Set(named.map((p) => p.shape));
    return loaded?.humanoid ? loneShapes(loaded.character, loaded.humanoid).filter((s) => !taken.has(s.name)) : [];
  }, [loaded, named]);
  const byMeasure = found && found.of === character ? found : null;
  const measure = async (): Promise<boolean> => {
    if (!loaded) return false;
    const names = lone.map((s) => s.name);
    const answers = await work.during("Trying shapes at every joint near them", (progress, signal) =>
      shareJob<"find drivers", string, FoundDriver | null>(
        loaded,
        "find drivers",
        names,
        (shapes) => ({ shapes: [...shapes] }),
        { progress, signal },
      ),
    );
    if (!answers) return false;
    setFound({
      of: loaded.character,
      list: answers.flatMap((a, i) => (a ? measured(names[i]!, a) : [])),
      none: answers.filter((a) => a === null).length,
    });
    return true;
  };
  return {
    all: [...(byMeasure?.list ?? []), ...named].sort((a, b) => rank(a) - rank(b)),
    lone,
    /** Shapes that were measured and help nowhere; null before. */
    none: byMeasure?.none ?? null,
    measure,
    work,
  };
}

interface ProposalTableProps {
  readonly all: readonly Proposed[];
  readonly isChosen: (p: Proposed) => boolean;
  readonly onChoose: (shape: string, on: boolean) => void;
}
function ProposalTable({ all, isChosen, onChoose }: ProposalTableProps): ReactNode {
  const store = useSessionStore();
  const motions = useSession((s) => s.loaded?.motions ?? NO_MOTIONS);
  const show = ({ shape, driver }: Proposed): void => {
    const motion = motions.find((m) => m.joint === driver?.joint && dot(m.axis, driver.axis) > 0.98);
    if (!motion || !driver) return;
    showMoment(store, {
      pose: withMotion({}, motion, driver.toDegrees),
      weights: { [shape]: 1 },
      joint: motion.joint,
      framing: `joint ${motion.joint}`,
      dressed: false,
    });
  };
  return (
    <table className="plain t-small">
      <thead>
        <tr>
          <th />
          <th>Shape</th>
          <th>Set by</th>
        </tr>
      </thead>
      <tbody>
        {all.map((p) => (
          <tr key={p.shape}>
            <td>
              <Checkbox
                size="small"
                sx={{ p: 0 }}
                checked={isChosen(p)}
                onChange={(_, on) => onChoose(p.shape, on)}
                slotProps={{ input: { "aria-label": `Let ${p.shape} be set` } }}
              />
            </td>
            <td className="break-words">
              <span className="mono">{p.shape}</span>
              <div className="muted t-12">{p.why}</div>
            </td>
            <td>
              {setBy(p)}
              {p.driver && (
                <Button title="Poses the joint there, with the shape at full" onClick={() => show(p)}>
                  Show
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
const NO_MOTIONS: readonly JointMotion[] = [];
