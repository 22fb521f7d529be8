import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { ReactNode } from "react";
import { PART_KINDS, triangleCountOf, vertexCountOf, type Part } from "~core/model/character";
import { imageCount } from "~core/model/materialLook";
import { spreadVertices } from "../spreadVertices";
import { useDesk } from "../../session/useDesk";
import { useSession, useSessionStore } from "../../session/session";
import { counted } from "../../ui/counted";
import { useQueryState } from "../../ui/useQueryState";
import { Materials } from "./Materials";
import { MATERIALS, WHOLE } from "./partRows";
import { PartRepairs } from "./PartRepairs";
import { Textures } from "./Textures";
import { WholeRepairs } from "./WholeRepairs";
import { showPlace } from "../../session/slices/selection";

/**
 * Every part with its kind, which can be set right, its counts and materials; choosing one frames it and opens its
 * repairs. First the repairs of the whole.
 */
export function PartsTable(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const { addStep } = useDesk();
  const [open, setOpen] = useQueryState<string>("open", "");
  if (!loaded) return <p className="muted p-0-18">Fetching the character</p>;
  const { character } = loaded;
  const choose = (part: Part): void => {
    setOpen(open === part.name ? "" : part.name);
    showPlace(store, { part: part.name, vertices: spreadVertices(vertexCountOf(part)) });
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
          <span className="muted nowrap">{counted(character.parts.length, "parts")}</span>
          <span className="mono nowrap wide-130 to-right">
            {character.parts.reduce((n, p) => n + triangleCountOf(p), 0).toLocaleString("en")} triangles
          </span>
        </button>
        {whole && <WholeRepairs key={loaded.state} character={character} />}
      </div>
      <div className={`row${open === MATERIALS ? " open" : ""}`}>
        <button
          type="button"
          className="plain row-line"
          aria-expanded={open === MATERIALS}
          onClick={() => setOpen(open === MATERIALS ? "" : MATERIALS)}>
          <b className="grow">Materials and textures</b>
          <span className="muted nowrap">{counted(character.materials.length, "materials")}</span>
          <span className="mono nowrap wide-130 to-right">{counted(imageCount(character.materials), "images")}</span>
        </button>
        {open === MATERIALS && (
          <div className="p-4-18-12 stack gap-8">
            <Textures character={character} />
            <Materials character={character} />
          </div>
        )}
      </div>
      {character.parts.map((part, p) => (
        <div key={part.name} className={`row${open === part.name ? " open" : ""}`}>
          <div className="row-line cursor-default">
            <button
              type="button"
              className="plain take-rest min-w-0 cursor-pointer to-left over-hidden ellipsis nowrap"
              aria-expanded={open === part.name}
              onClick={() => choose(part)}>
              {part.name}{" "}
              <span className="muted t-12">
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
            <span className="muted nowrap wide-66 to-right t-12">
              {counted(character.shapes.filter((s) => s.deltas.some((d) => d.part === p)).length, "shapes")}
            </span>
            <span className="mono nowrap wide-130 to-right">
              {triangleCountOf(part).toLocaleString("en")} triangles
            </span>
          </div>
          {open === part.name && <PartRepairs key={`${part.name} ${loaded.state}`} part={part} />}
        </div>
      ))}
    </div>
  );
}
