import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MenuItem from "@mui/material/MenuItem";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { MAP_SLOTS, type Character, type Material } from "~core/model/character";
import { OPACITY_WORDS } from "~core/model/materialLook";
import type { Step } from "~core/ledger/steps";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { ScrubField } from "../../ui/ScrubField";
import { Working } from "../Working";

type Change = Omit<Extract<Step, { op: "set materials" }>["settings"][number], "material">;

const SIDES = { front: "front faces", both: "both sides" } as const;
const SHORT = { "base colour": "colour", "metallic roughness": "rough/metal" } as Readonly<Record<string, string>>;

/**
 * How every material is drawn: its maps, opacity and sides. A change of one that is chosen is a change of all that are
 * chosen, as one step.
 */
export function Materials({ character }: { character: Character }): ReactNode {
  const { addStep } = useDesk();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const send = async (step: Step): Promise<void> => {
    setBusy(true);
    await addStep(step);
    setBusy(false);
  };
  const change = (name: string, by: Change): Promise<void> => {
    const names = chosen.has(name) ? character.materials.filter((m) => chosen.has(m.name)).map((m) => m.name) : [name];
    return send({ op: "set materials", settings: names.map((material) => ({ material, ...by })) });
  };
  const all = chosen.size === character.materials.length;
  return (
    <>
      <table className="plain t-small materials" aria-label="Materials">
        <thead>
          <tr>
            <th>
              <Checkbox
                size="small"
                checked={all}
                indeterminate={!all && chosen.size > 0}
                slotProps={{ input: { "aria-label": "Choose every material" } }}
                onChange={() => setChosen(new Set(all ? [] : character.materials.map((m) => m.name)))}
              />
            </th>
            <th>{chosen.size > 1 ? `${chosen.size} chosen: a change is for all of them` : "Material"}</th>
            <th>Opacity</th>
            <th>Drawn</th>
          </tr>
        </thead>
        <tbody>
          {character.materials.map((m, i) => (
            <tr key={`${i} ${m.name}`} className={chosen.has(m.name) ? "on" : undefined}>
              <td>
                <Checkbox
                  size="small"
                  checked={chosen.has(m.name)}
                  slotProps={{ input: { "aria-label": `Choose ${m.name}` } }}
                  onChange={() => {
                    const next = new Set(chosen);
                    if (!next.delete(m.name)) next.add(m.name);
                    setChosen(next);
                  }}
                />
              </td>
              <td>
                {m.name} <span className="muted">{usersOf(character, i)}</span>
                <Maps material={m} onDrop={(slot) => void send({ op: "drop map", material: m.name, slot })} />
              </td>
              <OpacityCell material={m} busy={busy} change={(by) => void change(m.name, by)} />
              <td>
                <SmallSelect
                  label={`Sides of ${m.name} that are drawn`}
                  value={m.doubleSided ? "both" : "front"}
                  disabled={busy}
                  onChange={(value) => void change(m.name, { doubleSided: value === "both" })}>
                  {Object.entries(SIDES).map(([value, words]) => (
                    <MenuItem key={value} value={value}>
                      {words}
                    </MenuItem>
                  ))}
                </SmallSelect>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Working on={busy} />
    </>
  );
}

interface OpacityCellProps {
  readonly material: Material;
  readonly busy: boolean;
  readonly change: (by: Change) => void;
}
function OpacityCell({ material, busy, change }: OpacityCellProps): ReactNode {
  return (
    <td className="nowrap">
      <SmallSelect
        label={`Opacity of ${material.name}`}
        value={material.opacity}
        disabled={busy}
        onChange={(value) => change({ opacity: value })}>
        {Object.entries(OPACITY_WORDS).map(([value, words]) => (
          <MenuItem key={value} value={value}>
            {words}
          </MenuItem>
        ))}
      </SmallSelect>
      {material.opacity === "mask" && (
        <>
          {" at "}
          <CutOff key={material.alphaCutoff} material={material} onCommit={(alphaCutoff) => change({ alphaCutoff })} />
        </>
      )}
    </td>
  );
}

/** Parts that a material is on. */
function usersOf({ parts }: Character, material: number): string {
  const names = parts.filter((p) => p.groups.some((g) => g.material === material)).map((p) => p.name);
  return names.length === 0
    ? "on no part"
    : names.length > 2
      ? `on ${counted(names.length, "parts")}`
      : `on ${names.join(", ")}`;
}

function CutOff({ material, onCommit }: { material: Material; onCommit: (value: number) => void }): ReactNode {
  const [value, setValue] = useState(material.alphaCutoff);
  return (
    <ScrubField
      label={`Cut-off of ${material.name}`}
      value={value}
      min={0}
      max={1}
      step={0.01}
      start={0.5}
      onChange={setValue}
      onCommit={onCommit}
    />
  );
}

/** The maps of a material; each can be left out. */
function Maps({
  material,
  onDrop,
}: {
  material: Material;
  onDrop: (slot: "base colour" | (typeof MAP_SLOTS)[number]) => void;
}): ReactNode {
  const slots = [
    ...(material.texture ? (["base colour"] as const) : []),
    ...MAP_SLOTS.filter((slot) => material.maps?.some((m) => m.slot === slot)),
  ];
  if (!slots.length) return null;
  return (
    <div className="line gap-4">
      {slots.map((slot) => (
        <span key={slot} className="map-chip">
          {SHORT[slot] ?? slot}
          <Button
            aria-label={`Leave out the ${slot} map of ${material.name}`}
            title="Leave this map out"
            onClick={() => onDrop(slot)}
            sx={{ minWidth: 0, p: "0 3px", lineHeight: 1 }}>
            ×
          </Button>
        </span>
      ))}
    </div>
  );
}
