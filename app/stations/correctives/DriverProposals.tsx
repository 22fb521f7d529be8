import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useMemo, useState, type ReactNode } from "react";
import { proposeDrivers, type DriverProposal } from "~core/shapes/proposeDrivers";
import { useSession } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";

const setBy = (p: DriverProposal): string =>
  p.driver ? `${p.driver.joint} from ${p.driver.fromDegrees}° to ${p.driver.toDegrees}°` : p.rule.of.join(" × ");

/**
 * Shapes of a file without drivers that look like correctives or combinations: what would set each, to be taken or
 * left.
 */
export function DriverProposals(): ReactNode {
  const character = useSession((s) => s.loaded?.character);
  const { addStep } = useDesk();
  const [open, setOpen] = useState(false);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const found = useMemo(() => (character ? proposeDrivers(character) : []), [character]);
  if (found.length === 0) return null;
  const chosen = found.filter((p) => !left.has(p.shape));
  const take = (): void =>
    void addStep({
      op: "drive shapes",
      items: chosen.map((p) => ({
        name: p.shape,
        driver: p.driver && { ...p.driver, axis: [...p.driver.axis] },
        rule: p.rule && { ...p.rule, of: [...p.rule.of] },
      })),
    });
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
      <div className="line">
        <span className="grow">
          ◆ {counted(found.length, "shapes")} look{found.length === 1 ? "s" : ""} like{" "}
          {found.length === 1 ? "a corrective or combination" : "correctives or combinations"} and{" "}
          {found.length === 1 ? "is" : "are"} set by nothing.
        </span>
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Look"}
        </Button>
        {open && (
          <Button variant="contained" disabled={chosen.length === 0} onClick={take}>
            Let {counted(chosen.length, "shapes")} be set
          </Button>
        )}
      </div>
      {open && (
        <table className="plain t-small">
          <thead>
            <tr>
              <th />
              <th>Shape</th>
              <th>Set by</th>
            </tr>
          </thead>
          <tbody>
            {found.map((p) => (
              <tr key={p.shape}>
                <td>
                  <Checkbox
                    size="small"
                    sx={{ p: 0 }}
                    checked={!left.has(p.shape)}
                    onChange={(_, on) =>
                      setLeft(new Set(on ? [...left].filter((n) => n !== p.shape) : [...left, p.shape]))
                    }
                    slotProps={{ input: { "aria-label": `Let ${p.shape} be set` } }}
                  />
                </td>
                <td className="break-words">
                  <span className="mono">{p.shape}</span>
                  <div className="muted t-12">{p.why}</div>
                </td>
                <td>{setBy(p)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
