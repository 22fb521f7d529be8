import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSwitch } from "../../ui/SmallSwitch";
import { SmallSelect } from "../../ui/SmallSelect";
import { useSearchParams } from "react-router";
import { counterpart, sideOfShapeName } from "~core/shapes/shapeSides";
import { mirrorName } from "~core/shapes/mirrorDeltas";
import { SHAPE_RULES, shapeNamed, type Character, type ShapeDriver } from "~core/model/character";
import type { DerivedItem } from "~core/shapes/deriveShapes";
import { lidInBetween } from "~core/shapes/lidInBetween";
import { shapeSteps } from "../../session/shapeSteps";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { ScrubField } from "../../ui/ScrubField";
import { DriveShape } from "./DriveShape";
import type { ShapeRow } from "./shapeRows";
import { setView } from "../../session/slices/view";
import { poseDriven } from "~core/model/drivenShapes";

/** Half width of the seam that a shape is split over, mm; the place to choose another is Make. */
const SEAM_MM = 10;

/** What can be done with one shape, in its row. */
export function ShapeActions({ row }: { row: ShapeRow }): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded!.character);
  const [, setQuery] = useSearchParams();

  const [driving, setDriving] = useState(false);
  const baked = character.baked?.find((b) => b.shape === row.shape.name && b.weight !== 0);
  const { name } = row.shape;
  const driver = character.shapeDrivers.find((d) => d.shape === name);
  const corrective = poseDriven(character).has(name);
  const handSet = useSession((s) => s.weights[name] ?? 0);
  const { told, derive, helper } = useMaking(row, character);
  const sculpt = (): void => {
    // what other shapes set is looked at where they set it most
    setView(store, {
      pose: {},
      weights: driver
        ? Object.fromEntries(driver.of.map((n) => [n, driver.rule === "in-between" ? (driver.span?.peak ?? 0.5) : 1]))
        : { [name]: 1 },
    });
    setQuery(
      (q) =>
        new URLSearchParams([
          ...[...q].filter(([k]) => !["leaf", "make"].includes(k)),
          ["leaf", "make"],
          ["make", "hand"],
        ]),
    );
  };
  if (corrective) return <OfJoint name={name} handSet={handSet} driving={driving} setDriving={setDriving} />;
  return (
    <div className="stack gap-4">
      {driver && <DriverLine driver={driver} />}
      <div className="line ml-n8">
        <Button onClick={sculpt}>Sculpt again</Button>
        <Button aria-expanded={driving} onClick={() => setDriving(!driving)}>
          What sets it
        </Button>
        <More row={row} derive={derive} helper={helper} />
      </div>
      {driving && <DriveShape name={name} onDone={() => setDriving(false)} />}
      {baked && <BakedIn weight={baked.weight} />}
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
    </div>
  );
}

interface Making {
  readonly told: string;
  readonly derive: (items: DerivedItem[]) => Promise<void>;
  readonly helper: () => Promise<void>;
}
/** Shapes made of this one, and what is told of it. */
function useMaking(row: ShapeRow, character: Character): Making {
  const { addStep } = useDesk();
  const [told, setTold] = useState("");
  const { name } = row.shape;
  const derive = async (items: DerivedItem[]): Promise<void> => {
    const taken = items.find((i) => shapeNamed(character, i.name));
    if (taken) return setTold(`${taken.name} is there already.`);
    if (await addStep({ op: "derive shapes", items })) setTold(`${items.map((i) => i.name).join(" and ")} made.`);
  };
  const helper = async (): Promise<void> => {
    const made = lidInBetween(character, row.shape, `${name}_halfway`, `${row.shape.label}, half-way`);
    if (!made) return setTold("Half-way it brings no lid into an eyeball: nothing needs help.");
    if (shapeNamed(character, made.shape.name)) return setTold(`${made.shape.name} is there already.`);
    const [kept] = await shapeSteps(character, [made.shape], false, "measuring lids");
    const { shape: _own, ...rest } = made.driver;
    if (
      kept?.step.op === "add shapes" &&
      (await addStep(
        { ...kept.step, items: kept.step.items.map((i) => ({ ...i, driver: { ...rest, of: [...rest.of] } })) },
        kept.blobs,
      ))
    )
      setTold(`${made.shape.name} made: it acts most at half weight.`);
  };
  return { told, derive, helper };
}

interface OfJointProps {
  readonly name: string;
  readonly handSet: number;
  readonly driving: boolean;
  readonly setDriving: (on: boolean) => void;
}
/** A shape that a joint drives: its work is done at another station. */
function OfJoint({ name, handSet, driving, setDriving }: OfJointProps): ReactNode {
  return (
    <div className="stack gap-4">
      <p className="muted m-0 t-small">
        A joint drives it: it is sculpted, mirrored and switched at the correctives' station.{" "}
        <Button aria-expanded={driving} onClick={() => setDriving(!driving)}>
          What sets it
        </Button>
      </p>
      {driving && <DriveShape name={name} onDone={() => setDriving(false)} />}
      {handSet > 0 && (
        <span className="t-small ink-amber">
          ◆ Set to {handSet} by hand here: where its joint turns it acts on top of that.
        </span>
      )}
    </div>
  );
}

interface MoreProps {
  readonly row: ShapeRow;
  readonly derive: (items: DerivedItem[]) => Promise<void>;
  readonly helper: () => Promise<void>;
}
/** The other side, both sides, a lid's half-way, removing it. */
function More({ row, derive, helper }: MoreProps): ReactNode {
  const character = useSession((s) => s.loaded!.character);
  const { addStep } = useDesk();
  const [sure, setSure] = useState(false);
  const { name } = row.shape;
  const side = sideOfShapeName(name);
  const driver = character.shapeDrivers.find((d) => d.shape === name);
  return (
    <>
      {side && !counterpart(character.shapes, row.shape) && (
        <Button
          onClick={() =>
            void derive([
              { name: mirrorName(name), label: mirrorName(row.shape.label), from: { way: "mirror", of: name } },
            ])
          }>
          Mirror to the other side
        </Button>
      )}
      {!side && !driver && (
        <Button
          onClick={() =>
            void derive(
              (["left", "right"] as const).map((s) => ({
                name: `${name}_${s}`,
                label: `${row.shape.label}, ${s}`,
                from: { way: "side", of: name, side: s, seamMm: SEAM_MM },
              })),
            )
          }>
          Make left and right
        </Button>
      )}
      {!driver && (row.region === "lids" || row.region === "gaze") && (
        <Button onClick={() => void helper()} title="An in-between that keeps the lids off the eyeball half-way">
          Keep lids off half-way
        </Button>
      )}
      {sure ? (
        <>
          <Button color="error" onClick={() => void addStep({ op: "remove shapes", names: [name] })}>
            Remove {name}
          </Button>
          <Button onClick={() => setSure(false)}>Keep it</Button>
        </>
      ) : (
        <Button onClick={() => setSure(true)}>Remove</Button>
      )}
    </>
  );
}

interface BakedInProps {
  readonly weight: number;
}
function BakedIn({ weight }: BakedInProps): ReactNode {
  return (
    <span className="t-small ink-amber">
      ◆ The base holds it at {weight} already: set to 1 here it acts {(1 + weight).toFixed(1)} times. Play it from{" "}
      {-weight} upward, or remove it.
    </span>
  );
}

/** What sets a driven shape's weight: on or off, by which rule, and for an in-between where it is at full. */
function DriverLine({ driver }: { driver: ShapeDriver }): ReactNode {
  const { addStep } = useDesk();
  // what is being dragged, until the ledger has it
  const [draft, setDraft] = useState<{ of: ShapeDriver; peak: number } | null>(null);
  const peak = draft?.of === driver ? draft.peak : (driver.span?.peak ?? 0.5);
  const change = (to: Partial<Omit<ShapeDriver, "shape" | "of">>): void =>
    void addStep({ op: "set shape driver", name: driver.shape, driver: to });
  return (
    <div className="line t-small gap-12">
      <SmallSwitch
        label={
          <>
            with <span className="mono">{driver.of.join(" and ")}</span>
          </>
        }
        checked={driver.enabled}
        onChange={(on) => change({ enabled: on })}
        spoken={`${driver.shape} on`}
      />
      {driver.rule === "in-between" ? (
        <span>
          at full where it stands at{" "}
          <ScrubField
            label={`${driver.shape}: peak`}
            value={peak}
            min={0.05}
            max={0.95}
            step={0.01}
            start={0.5}
            onChange={(x) => setDraft({ of: driver, peak: x })}
            onCommit={(x) =>
              x !== driver.span?.peak &&
              change({ span: { from: driver.span?.from ?? 0, to: driver.span?.to ?? 1, peak: x } })
            }
          />
        </span>
      ) : (
        <span>
          by{" "}
          <SmallSelect
            label={`${driver.shape}: rule`}
            value={driver.rule}
            onChange={(value) => change({ rule: value })}
            options={SHAPE_RULES.filter((r) => r !== "in-between")}
          />{" "}
          of the weights
        </span>
      )}
    </div>
  );
}
