import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { triangleCountOf, type Character } from "~core/model/character";
import { likelyUnit, statureOf } from "~core/measure/stature";
import { textureSide } from "~core/edits/textures/shrinkTextures";
import { AXES, type Axis } from "~core/model/axes";
import { ScrubField } from "../../ui/ScrubField";
import { RepairTool } from "../RepairTool";

/** Repairs of the whole character: size and stance, materials, number of triangles. */
export function WholeRepairs({ character }: { character: Character }): ReactNode {
  const slip = likelyUnit(statureOf(character));
  const [factor, setFactor] = useState(slip ? Number((1 / slip.factor).toPrecision(4)) : 1);
  const [up, setUp] = useState<Axis>("+Y");
  const [front, setFront] = useState<Axis>("+Z");
  const triangles = character.parts.reduce((n, p) => n + triangleCountOf(p), 0);
  const [budget, setBudget] = useState(Math.min(40_000, Math.max(100, Math.round(triangles / 2))));
  const side = Math.max(0, ...character.materials.map(textureSide));
  const [longest, setLongest] = useState(Math.min(2048, Math.max(16, Math.round(side / 2))));
  const pick = (label: string, value: Axis, set: (a: Axis) => void): ReactNode => (
    <SmallSelect label={label} value={value} onChange={set} options={AXES} />
  );
  const asIs = factor === 1 && up === "+Y" && front === "+Z";
  return (
    <div className="p-4-18-12 stack gap-8">
      <RepairTool
        title="Scale and turn"
        button="Stand it up"
        repair={asIs ? null : { what: "stand", factor, up, front }}>
        <span>
          by{" "}
          <ScrubField
            label="Scale by"
            value={factor}
            min={0.0001}
            max={10000}
            step={0.01}
            digits={4}
            start={1}
            onChange={setFactor}
          />
        </span>
        <span>up is</span>
        {pick("Axis that points up", up, setUp)}
        <span>front is</span>
        {pick("Axis that points to the front", front, setFront)}
      </RepairTool>
      <RepairTool title="Ground" button="Ground it" repair={{ what: "ground" }}>
        <span className="muted">the lowest point to height 0</span>
      </RepairTool>
      <RepairTool title="Materials" button="One a use" repair={{ what: "materials" }}>
        <span className="muted">shared ones apart, like ones joined</span>
      </RepairTool>
      {side > 0 && (
        <RepairTool title="Textures" button="Shrink" repair={longest < side ? { what: "textures", longest } : null}>
          <span>
            to{" "}
            <ScrubField
              label="Longer side of textures"
              value={longest}
              min={16}
              max={16384}
              step={256}
              digits={0}
              start={2048}
              onChange={setLongest}
            />{" "}
            pixels on the longer side; the largest has {side.toLocaleString("en")}
          </span>
        </RepairTool>
      )}
      <RepairTool
        title="Fewer triangles"
        button="Reduce"
        repair={budget < triangles ? { what: "reduce", triangles: budget } : null}>
        <span>
          to{" "}
          <ScrubField
            label="Triangles at most"
            value={budget}
            min={100}
            max={Math.max(100, triangles)}
            step={100}
            digits={0}
            start={40_000}
            onChange={setBudget}
          />{" "}
          of {triangles.toLocaleString("en")}; lids and what shapes move stay
        </span>
      </RepairTool>
    </div>
  );
}
