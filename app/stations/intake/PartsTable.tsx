import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { ReactNode } from "react";
import { PART_KINDS, triangleCountOf, vertexCountOf } from "~core/model/character";
import { spreadVertices } from "../spreadVertices";
import { useDesk } from "../../session/useDesk";
import { useSession, useSessionStore } from "../../session/session";

/** Every part with its kind, which can be set right, its counts and materials; choosing one frames it. */
export function PartsTable(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const place = useSession((s) => s.place);
  const { addStep } = useDesk();
  if (!loaded) return <p className="muted" style={{ padding: "0 18px" }}>Fetching the character</p>;
  const { character } = loaded;
  return (
    <div className="sheet-body">
      <table className="plain">
        <thead>
          <tr><th>Part</th><th>Kind</th><th style={{ textAlign: "right" }}>Vertices</th><th style={{ textAlign: "right" }}>Triangles</th><th style={{ textAlign: "right" }}>Shapes</th><th>Materials</th></tr>
        </thead>
        <tbody>
          {character.parts.map((part, p) => {
            const show = (): void => store.setState({ camera: null, place: { part: part.name, vertices: spreadVertices(vertexCountOf(part)) } });
            return (
              <tr key={part.name} className={`pick${place?.part === part.name ? " on" : ""}`} tabIndex={0} onClick={show} onKeyDown={(e) => e.key === "Enter" && show()}>
                <td>{part.name}</td>
                <td>
                  <Select variant="standard" disableUnderline value={part.kind} sx={{ fontSize: 12.5, color: "var(--muted)" }} inputProps={{ "aria-label": `Kind of ${part.name}` }} onClick={(e) => e.stopPropagation()} onKeyDown={(e) => e.stopPropagation()}
                    onChange={(e) => void addStep({ op: "part kind", part: part.name, kind: e.target.value })}>
                    {PART_KINDS.map((k) => <MenuItem key={k} value={k}>{k}</MenuItem>)}
                  </Select>
                </td>
                <td className="num">{vertexCountOf(part).toLocaleString("en")}</td>
                <td className="num">{triangleCountOf(part).toLocaleString("en")}</td>
                <td className="num">{character.shapes.filter((s) => s.deltas.some((d) => d.part === p)).length}</td>
                <td className="muted">{[...new Set(part.groups.map((g) => `${character.materials[g.material]!.name} (${character.materials[g.material]!.opacity})`))].join(", ")}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
