import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState, type ReactNode } from "react";
import { SHAPE_RULES, type ShapeRule } from "~core/model/character";
import { useSession } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";

const WAYS = ["the hand", "a joint", "other shapes"] as const;
const list = { slotProps: { paper: { sx: { maxHeight: 360 } } } };

/** Puts a driver or a rule on any shape, or takes it off again. */
export function DriveShape({ name, onDone }: { name: string; onDone: () => void }): ReactNode {
  const { addStep } = useDesk();
  const character = useSession((s) => s.loaded!.character);
  const motions = useSession((s) => s.loaded!.motions);
  const driver = character.drivers.find((d) => d.shape === name);
  const rule = character.shapeDrivers.find((d) => d.shape === name);
  const [way, setWay] = useState<(typeof WAYS)[number]>(driver ? "a joint" : rule ? "other shapes" : "a joint");
  const [motionId, setMotion] = useState(motions.find((m) => m.joint === driver?.joint)?.id ?? motions[0]?.id ?? "");
  const motion = motions.find((m) => m.id === motionId);
  const [from, setFrom] = useState(driver?.fromDegrees ?? 30);
  const [to, setTo] = useState(driver?.toDegrees ?? 90);
  const [of, setOf] = useState<readonly string[]>(rule?.of ?? []);
  const [by, setBy] = useState<ShapeRule>(rule?.rule ?? "product");
  const others = character.shapes.filter((s) => s.name !== name).map((s) => s.name);
  const can = {
    "the hand": Boolean(driver ?? rule),
    "a joint": motion !== undefined && from !== to,
    "other shapes": of.length > (by === "in-between" ? 0 : 1),
  }[way];
  const keep = async (): Promise<void> => {
    const done = await addStep({
      op: "drive shapes",
      items: [
        {
          name,
          driver:
            way === "a joint" && motion
              ? {
                  joint: motion.joint,
                  axis: [...motion.axis],
                  fromDegrees: from,
                  toDegrees: to,
                  easing: "smooth",
                  intensity: 1,
                  enabled: true,
                }
              : null,
          rule:
            way === "other shapes"
              ? {
                  of: [...of],
                  rule: by,
                  enabled: true,
                  ...(by === "in-between" ? { span: { from: 0, peak: 0.5, to: 1 } } : {}),
                }
              : null,
        },
      ],
    });
    if (done) onDone();
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
      {way === "a joint" &&
        (motions.length === 0 ? (
          <span className="muted">No joint has a known range: map the joints at the Skeleton station first.</span>
        ) : (
          <div className="line gap-10">
            <Select
              variant="standard"
              disableUnderline
              value={motionId}
              onChange={(e) => setMotion(e.target.value)}
              sx={{ fontSize: 12.5 }}
              inputProps={{ "aria-label": "Direction that drives the shape" }}
              MenuProps={list}>
              {motions.map((m) => (
                <MenuItem key={m.id} value={m.id}>
                  {m.label}
                </MenuItem>
              ))}
            </Select>
            <span>
              from{" "}
              <ScrubField
                label="Drives from"
                value={from}
                min={-180}
                max={180}
                step={1}
                digits={0}
                unit="°"
                start={30}
                onChange={setFrom}
              />
            </span>
            <span>
              to{" "}
              <ScrubField
                label="Drives to"
                value={to}
                min={-180}
                max={180}
                step={1}
                digits={0}
                unit="°"
                start={90}
                onChange={setTo}
              />
            </span>
            {motion && (
              <span className="muted">
                it goes from {motion.min}° to {motion.max}°
              </span>
            )}
          </div>
        ))}
      {way === "other shapes" && (
        <div className="line gap-10">
          <Select
            multiple
            variant="standard"
            disableUnderline
            value={[...of]}
            onChange={(e) => setOf(typeof e.target.value === "string" ? [e.target.value] : e.target.value.slice(0, 4))}
            displayEmpty
            renderValue={(v) => (v.length ? v.join(" and ") : "choose shapes")}
            sx={{ fontSize: 12.5, maxWidth: 240 }}
            inputProps={{ "aria-label": "Shapes that set it" }}
            MenuProps={list}>
            {others.map((n) => (
              <MenuItem key={n} value={n}>
                <span className="mono">{n}</span>
              </MenuItem>
            ))}
          </Select>
          <span>
            by{" "}
            <Select
              variant="standard"
              disableUnderline
              value={by}
              onChange={(e) => setBy(e.target.value as ShapeRule)}
              sx={{ fontSize: 12.5 }}
              inputProps={{ "aria-label": "Rule" }}>
              {SHAPE_RULES.map((r) => (
                <MenuItem key={r} value={r}>
                  {r}
                </MenuItem>
              ))}
            </Select>
          </span>
        </div>
      )}
      <div className="line ml-n8">
        <Button disabled={!can} onClick={() => void keep()}>
          {way === "the hand" ? "Leave it to the hand" : "Let it be set so"}
        </Button>
      </div>
    </div>
  );
}
