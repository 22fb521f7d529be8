import { useState, type ReactNode } from "react";
import { hingeBends, type HingedLimb } from "~core/skeleton/hinges";
import { humanoidMap } from "~core/skeleton/humanoidMap";
import type { Character } from "~core/model/character";
import { ScrubField } from "../../ui/ScrubField";
import { RepairTool } from "../RepairTool";

const LIMBS: readonly HingedLimb[] = ["elbows", "knees"];

/**
 * The small bend of the skeleton's own elbows and knees at rest: which way they give is then never in doubt. The mesh
 * stays.
 */
export function HingeBend({ character }: { character: Character }): ReactNode {
  const [degrees, setDegrees] = useState<Record<HingedLimb, number>>({ elbows: 4, knees: 4 });
  const map = humanoidMap(character.skeleton!, character.jointMap);
  return LIMBS.map((limb) => {
    const now = hingeBends(character, map, limb);
    return (
      <RepairTool
        key={limb}
        title={limb === "elbows" ? "Elbow joints" : "Knee joints"}
        button={`Set ${limb}`}
        repair={now ? { what: "hinges", limb, degrees: degrees[limb] } : null}>
        <span>
          to{" "}
          <ScrubField
            label={`Bend of the ${limb}`}
            value={degrees[limb]}
            min={0}
            max={30}
            step={0.5}
            digits={1}
            unit="°"
            start={4}
            onChange={(d) => setDegrees({ ...degrees, [limb]: d })}
          />
        </span>
        <span className="muted">
          {now ? `now ${now.left.toFixed(1)}° left, ${now.right.toFixed(1)}° right; the mesh stays` : "not mapped"}
        </span>
      </RepairTool>
    );
  });
}
