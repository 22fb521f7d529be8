import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Character } from "~core/model/character";
import { SHAPE_REGIONS } from "~core/measure/shapeRegion";
import { useSession, useSessionStore } from "../../session/session";
import { setWeight } from "../../session/slices/view";
import { FindField } from "../../ui/FindField";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { WeightBar } from "../../ui/WeightBar";
import { ShapeActions } from "./ShapeActions";
import { drivenBy, SORTS, type ShapeRow } from "./shapeRows";
import { setView } from "../../session/slices/view";
import { poseDriven } from "~core/model/drivenShapes";

const SIDES = ["all", "left", "right", "both"] as const;

/** Every shape by face region, with its weight to drag, type or reset. */
export function ShapeList({ rows }: { rows: readonly ShapeRow[] }): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded!.character);
  const weights = useSession((s) => s.weights);
  const [open, setOpen] = useQueryState<string>("open", "");
  const [side, setSide] = useQueryState<(typeof SIDES)[number]>("side", "all", SIDES);
  const [find, setFind] = useState("");
  const shown = rows
    .filter(
      (r) =>
        (side === "all" || r.side === side) &&
        `${r.shape.name} ${r.shape.label} ${r.region}`.toLowerCase().includes(find.toLowerCase()),
    )
    .sort(SORTS.region);
  const set = Object.values(weights).filter((w) => w !== 0).length;
  return (
    <>
      <div className="sheet-tools p-10-18-8 m-0">
        <FindField label="Find a shape" value={find} onChange={setFind} />
        <Segmented label="Side" options={SIDES} value={side} onChange={setSide} />
        <Button disabled={set === 0} onClick={() => setView(store, { weights: {} })}>
          {set ? `Reset ${set}` : "Reset"}
        </Button>
      </div>
      <div className="sheet-body">
        {SHAPE_REGIONS.map((region) => {
          const own = shown.filter((r) => r.region === region);
          if (own.length === 0) return null;
          return (
            <section key={region} aria-label={region}>
              <div className="group-title">
                {region[0]!.toUpperCase() + region.slice(1)} <span className="mono w-400">{own.length}</span>
              </div>
              {own.map((row) => (
                <div key={row.shape.name} className={`row long-row${open === row.shape.name ? " open" : ""}`}>
                  <div
                    className="row-line py-3 min-h-30"
                    onClick={() => setOpen(open === row.shape.name ? "" : row.shape.name)}>
                    <button
                      type="button"
                      className="plain mono shape-name rigid"

                      aria-pressed={open === row.shape.name}
                      title={row.shape.name}>
                      {row.shape.name}
                    </button>
                    <span
                      className="muted t-12 shape-label rigid"
                      title={[row.shape.label, drivenBy(character, row.shape.name)].filter(Boolean).join(", ")}>
                      {drivenBy(character, row.shape.name) ||
                        (row.shape.label === row.shape.name ? "" : row.shape.label)}
                    </span>
                    {twice(character, row.shape.name, weights[row.shape.name] ?? 0) && (
                      <span
                        className="ink-amber rigid"
                        role="img"
                        aria-label={twice(character, row.shape.name, weights[row.shape.name] ?? 0)}
                        title={twice(character, row.shape.name, weights[row.shape.name] ?? 0)}>
                        ◆
                      </span>
                    )}
                    <WeightBar
                      label={row.shape.name}
                      value={weights[row.shape.name] ?? 0}
                      onChange={(w) => setWeight(store, row.shape.name, w)}
                    />
                  </div>
                  {open === row.shape.name && (
                    <div className="row-body">
                      <ShapeActions row={row} />
                    </div>
                  )}
                </div>
              ))}
            </section>
          );
        })}
        {shown.length === 0 && <p className="muted p-8-18">Nothing matches.</p>}
      </div>
    </>
  );
}

/** Why a weight set here would act on top of something; "" where it would not. */
function twice(character: Character, name: string, weight: number): string {
  const baked = character.baked?.find((b) => b.shape === name && b.weight !== 0);
  if (baked)
    return (
      `The base holds it at ${baked.weight} already: at ${weight || 1} ` +
      `it acts ${((weight || 1) + baked.weight).toFixed(1)} times`
    );
  return weight !== 0 && poseDriven(character).has(name)
    ? "A joint drives it too: where that turns it acts on top of this"
    : "";
}
