import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { ReactNode } from "react";
import { PART_KINDS, triangleCountOf, vertexCountOf, type Part } from "~core/model/character";
import { spreadVertices } from "../spreadVertices";
import { useDesk } from "../../session/useDesk";
import { useSession, useSessionStore } from "../../session/session";
import { counted } from "../../ui/counted";
import { useQueryState } from "../../ui/useQueryState";
import { PartRepairs } from "./PartRepairs";
import { WholeRepairs } from "./WholeRepairs";

/** Name under which the row of the whole character opens. */
const WHOLE = "\u0000whole";

/**
 * Every part with its kind, which can be set right, its counts and materials; choosing one frames it and opens its
 * repairs. First the repairs of the whole.
 */
export function PartsTable(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const { addStep } = useDesk();
  const [open, setOpen] = useQueryState<string>("open", "");
  if (!loaded)
    return (
      <p className="muted" style={{ padding: "0 18px" }}>
        Fetching the character
      </p>
    );
  const { character } = loaded;
  const choose = (part: Part): void => {
    setOpen(open === part.name ? "" : part.name);
    store.setState({ camera: null, place: { part: part.name, vertices: spreadVertices(vertexCountOf(part)) } });
  };
  const whole = open === WHOLE;
  return (
    <div className="sheet-body">
      <div className={`row${whole ? " open" : ""}`}>
        <button
          type="button"
          className="plain row-line"
          aria-expanded={whole}
          onClick={() => setOpen(whole ? "" : WHOLE)}>
          <b className="grow">The whole character</b>
          <span className="muted nowrap">
            {counted(character.parts.length, "parts")}, {counted(character.materials.length, "materials")}
          </span>
          <span className="mono nowrap" style={{ width: 130, textAlign: "right" }}>
            {character.parts.reduce((n, p) => n + triangleCountOf(p), 0).toLocaleString("en")} triangles
          </span>
        </button>
        {whole && <WholeRepairs key={loaded.state} character={character} />}
      </div>
      {character.parts.map((part, p) => (
        <div key={part.name} className={`row${open === part.name ? " open" : ""}`}>
          <div className="row-line" style={{ cursor: "default" }}>
            <button
              type="button"
              className="plain"
              aria-expanded={open === part.name}
              style={{
                flex: 1,
                minWidth: 0,
                cursor: "pointer",
                textAlign: "left",
                overflow: "hidden",
                textOverflow: "ellipsis",
                whiteSpace: "nowrap",
              }}
              onClick={() => choose(part)}>
              {part.name}{" "}
              <span className="muted" style={{ fontSize: 12 }}>
                {[
                  ...new Set(
                    part.groups.map(
                      (g) => `${character.materials[g.material]!.name} (${character.materials[g.material]!.opacity})`,
                    ),
                  ),
                ].join(", ")}
              </span>
            </button>
            <Select
              variant="standard"
              disableUnderline
              value={part.kind}
              sx={{ fontSize: 12.5, color: "var(--muted)", width: 88 }}
              inputProps={{ "aria-label": `Kind of ${part.name}` }}
              onChange={(e) => void addStep({ op: "part kind", part: part.name, kind: e.target.value })}>
              {PART_KINDS.map((k) => (
                <MenuItem key={k} value={k}>
                  {k}
                </MenuItem>
              ))}
            </Select>
            <span className="muted nowrap" style={{ width: 66, textAlign: "right", fontSize: 12 }}>
              {counted(character.shapes.filter((s) => s.deltas.some((d) => d.part === p)).length, "shapes")}
            </span>
            <span className="mono nowrap" style={{ width: 116, textAlign: "right" }}>
              {triangleCountOf(part).toLocaleString("en")} triangles
            </span>
          </div>
          {open === part.name && <PartRepairs key={`${part.name} ${loaded.state}`} part={part} />}
        </div>
      ))}
    </div>
  );
}
