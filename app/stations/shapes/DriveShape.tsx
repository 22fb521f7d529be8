import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import type { Step } from "~core/ledger/steps";
import { SHAPE_RULES, type ShapeRule } from "~core/model/character";
import { drivenByTurn } from "~core/model/drivenByTurn";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { useSession } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";

const WAYS = ["the hand", "a joint", "other shapes"] as const;
const list = { slotProps: { paper: { sx: { maxHeight: 360 } } } };

type Way = (typeof WAYS)[number];

/** What is chosen of a driver by a joint, and of a rule over other shapes. */
interface Chosen {
  /** Id of the motion. */
  readonly motion: string;
  readonly from: number;
  readonly to: number;
  readonly of: readonly string[];
  readonly by: ShapeRule;
}

/** Puts a driver or a rule on any shape, or takes it off again. */
export function DriveShape({ name, onDone }: { name: string; onDone: () => void }): ReactNode {
  const { addStep } = useDesk();
  const character = useSession((s) => s.loaded!.character);
  const motions = useSession((s) => s.loaded!.motions);
  const driver = character.drivers.find((d) => d.shape === name);
  const rule = character.shapeDrivers.find((d) => d.shape === name);
  const [way, setWay] = useState<Way>(!driver && rule ? "other shapes" : "a joint");
  const [chosen, setChosen] = useState<Chosen>({
    motion: motions.find((m) => m.joint === driver?.joint)?.id ?? motions[0]?.id ?? "",
    from: driver?.fromDegrees ?? 30,
    to: driver?.toDegrees ?? 90,
    of: rule?.of ?? [],
    by: rule?.rule ?? "product",
  });
  const change = (to: Partial<Chosen>): void => setChosen({ ...chosen, ...to });
  const motion = motions.find((m) => m.id === chosen.motion);
  const can = {
    "the hand": Boolean(driver ?? rule),
    "a joint": motion !== undefined && chosen.from !== chosen.to,
    "other shapes": chosen.of.length > (chosen.by === "in-between" ? 0 : 1),
  }[way];
  const keep = async (): Promise<void> => {
    if (await addStep(driveStep(name, way, chosen, motion))) onDone();
  };
  return (
    <div
      role="group"
      aria-label={`What sets ${name}`}
      style={{ display: "grid", gap: 4, fontSize: 12.5, borderTop: "1px solid var(--line)", paddingTop: 6 }}>
      <div className="line">
        <span>set by</span>
        <Segmented label="What sets the shape" options={WAYS} value={way} onChange={setWay} />
      </div>
      {way === "a joint" && <ByJoint chosen={chosen} motion={motion} onChange={change} />}
      {way === "other shapes" && <ByShapes name={name} chosen={chosen} onChange={change} />}
      <div className="line ml-n8">
        <Button disabled={!can} onClick={() => void keep()}>
          {way === "the hand" ? "Leave it to the hand" : "Let it be set so"}
        </Button>
      </div>
    </div>
  );
}

function driveStep(name: string, way: Way, { from, to, of, by }: Chosen, motion: JointMotion | undefined): Step {
  const driver =
    way === "a joint" && motion
      ? { ...drivenByTurn(motion, from, to), axis: [...motion.axis] as [number, number, number] }
      : null;
  const span = by === "in-between" ? { span: { from: 0, peak: 0.5, to: 1 } } : {};
  const rule = way === "other shapes" ? { of: [...of], rule: by, enabled: true, ...span } : null;
  return { op: "drive shapes", items: [{ name, driver, rule }] };
}

interface ByJointProps {
  readonly chosen: Chosen;
  readonly motion: JointMotion | undefined;
  readonly onChange: (to: Partial<Chosen>) => void;
}
function ByJoint({ chosen, motion, onChange }: ByJointProps): ReactNode {
  const motions = useSession((s) => s.loaded!.motions);
  if (motions.length === 0)
    return <span className="muted">No joint has a known range: map the joints at the Skeleton station first.</span>;
  const angle = (label: string, of: "from" | "to", start: number): ReactNode => (
    <ScrubField
      label={label}
      value={chosen[of]}
      min={-180}
      max={180}
      step={1}
      digits={0}
      unit="°"
      start={start}
      onChange={(degrees) => onChange({ [of]: degrees })}
    />
  );
  return (
    <div className="line gap-10">
      <SmallSelect
        label="Direction that drives the shape"
        value={chosen.motion}
        onChange={(value) => onChange({ motion: value })}>
        {motions.map((m) => (
          <MenuItem key={m.id} value={m.id}>
            {m.label}
          </MenuItem>
        ))}
      </SmallSelect>
      <span>from {angle("Drives from", "from", 30)}</span>
      <span>to {angle("Drives to", "to", 90)}</span>
      {motion && (
        <span className="muted">
          it goes from {motion.min}° to {motion.max}°
        </span>
      )}
    </div>
  );
}

interface ByShapesProps {
  readonly name: string;
  readonly chosen: Chosen;
  readonly onChange: (to: Partial<Chosen>) => void;
}
function ByShapes({ name, chosen, onChange }: ByShapesProps): ReactNode {
  const shapes = useSession((s) => s.loaded!.character.shapes);
  return (
    <div className="line gap-10">
      <Select
        multiple
        variant="standard"
        disableUnderline
        value={[...chosen.of]}
        onChange={({ target: { value } }) => onChange({ of: typeof value === "string" ? [value] : value.slice(0, 4) })}
        displayEmpty
        renderValue={(v) => (v.length ? v.join(" and ") : "choose shapes")}
        sx={{ fontSize: 12.5, maxWidth: 240 }}
        inputProps={{ "aria-label": "Shapes that set it" }}
        MenuProps={list}>
        {shapes
          .filter((s) => s.name !== name)
          .map((s) => (
            <MenuItem key={s.name} value={s.name}>
              <span className="mono">{s.name}</span>
            </MenuItem>
          ))}
      </Select>
      <span>
        by{" "}
        <SmallSelect
          label="Rule"
          value={chosen.by}
          onChange={(value) => onChange({ by: value })}
          options={SHAPE_RULES}
        />
      </span>
    </div>
  );
}
