import type { ReactNode } from "react";
import { useQueryState } from "../../../ui/useQueryState";
import { ByHand } from "./ByHand";
import { Followers } from "./Followers";
import { FromCharacter } from "./FromCharacter";
import { FromFiles } from "./FromFiles";
import { FromShapes } from "./FromShapes";
import { IntoBase } from "./IntoBase";
import { OntoScan } from "./OntoScan";
import { Trims } from "./Trims";

const WAYS = {
  hand: { title: "By hand", says: "sculpt over what stands on the stage", body: ByHand },
  shapes: { title: "From shapes", says: "mirror, left and right, mix, take a part out", body: FromShapes },
  files: { title: "From files", says: "target meshes as OBJ, PLY or GLB", body: FromFiles },
  character: { title: "From another character", says: "bring their shapes over to this face", body: FromCharacter },
  scan: { title: "Onto a scan", says: "lay the skin on a scanned or sculpted head", body: OntoScan },
  follow: { title: "Followers", says: "let a part go with the skin under every shape", body: Followers },
  trims: { title: "Trims", says: "lip seam, teeth, tongue and eyes, under every shape", body: Trims },
  base: { title: "Into the base", says: "the mix on the stage becomes the figure at rest", body: IntoBase },
} as const;
type Way = keyof typeof WAYS;

/** The ways to a new shape; one is open at a time. */
export function MakeLeaf(): ReactNode {
  const [open, setOpen] = useQueryState<Way | "">("make", "hand");
  return (
    <div className="sheet-body">
      {(Object.keys(WAYS) as Way[]).map((way) => {
        const Body = WAYS[way].body;
        return (
          <section key={way} className={`row${open === way ? " open" : ""}`} aria-label={WAYS[way].title}>
            <button
              type="button"
              className="plain row-line"
              aria-expanded={open === way}
              onClick={() => setOpen(open === way ? "" : way)}>
              <b className="wide-168 rigid">{WAYS[way].title}</b>
              <span className="muted grow">{WAYS[way].says}</span>
            </button>
            {open === way && (
              <div className="row-body">
                <Body />
              </div>
            )}
          </section>
        );
      })}
    </div>
  );
}
