import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import type { Character, Part } from "~core/model/character";
import { useSession } from "../../../session/session";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { ScrubField } from "../../../ui/ScrubField";

/** How far each kind of part usually lies from the skin it goes with, mm. */
const REACH_MM: Readonly<Record<string, number>> = { lash: 20, "tear line": 10, brow: 15, garment: 60, hair: 40 };

/** Parts that go along with the skin: which lag behind, and the step that lets one follow in every shape. */
export function Followers(): ReactNode {
  const character = useSession((s) => s.loaded?.character);
  const { addStep } = useDesk();
  const [chosen, setChosen] = useState("");
  const [reach, setReach] = useState<number | null>(null);
  const [keep, setKeep] = useState(true);
  const [told, setTold] = useState("");
  if (!character) return <p className="muted">Fetching the character</p>;
  const able = character.parts.filter((p) => p.kind !== "body");
  const part = able.find((p) => p.name === chosen) ?? able.find((p) => p.kind === "lash") ?? able[0];
  if (!part) return <p className="muted">There is no part besides the skin.</p>;
  const reachMm = reach ?? REACH_MM[part.kind] ?? 20;
  const { skin, own } = movedCounts(character, part.name);
  const kept = character.follows?.find((f) => f.part === part.name);
  const follow = async (): Promise<void> => {
    if (await addStep({ op: "follow skin", follow: { part: part.name, reachMm, keep } }))
      setTold(`${part.name} follows the skin ${keep ? "from now on" : "now"}, within ${reachMm} mm.`);
  };
  const stop = async (): Promise<void> => {
    if (await addStep({ op: "stop following", part: part.name }))
      setTold(`${part.name} stays as it is when shapes change.`);
  };
  return (
    <div className="stack gap-8 items-start">
      <div className="line t-small gap-12">
        <FollowerPick
          character={character}
          able={able}
          part={part.name}
          onChoose={(name) => {
            setChosen(name);
            setReach(null);
            setTold("");
          }}
        />
        <span>
          within{" "}
          <ScrubField
            label="Reach of the following"
            value={reachMm}
            min={1}
            max={200}
            step={0.5}
            digits={0}
            unit=" mm"
            start={REACH_MM[part.kind] ?? 20}
            onChange={setReach}
          />{" "}
          of the skin
        </span>
        <span className="muted">
          moves in {own} of the {counted(skin, "shapes")} that move the skin
        </span>
      </div>
      <FormControlLabel
        control={<Checkbox size="small" checked={keep} onChange={(_, on) => setKeep(on)} sx={{ py: 0 }} />}
        label="go on following when shapes are made or changed"
        slotProps={{ typography: { sx: { fontSize: 12.5 } } }}
      />
      {kept && (
        <div className="line t-small">
          <span>Follows for good, within {kept.reachMm} mm.</span>
          <Button onClick={() => void stop()}>Stop that</Button>
        </div>
      )}
      <div className="line">
        <Button variant="contained" disabled={skin === 0} onClick={() => void follow()}>
          Let it follow
        </Button>
        <span className="muted t-small">
          Each vertex keeps to its place on the skin and turns with it. What the part did before in these shapes is
          replaced.
        </span>
      </div>
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
    </div>
  );
}

interface FollowerPickProps {
  readonly character: Character;
  readonly able: readonly Part[];
  readonly part: string;
  readonly onChoose: (part: string) => void;
}
function FollowerPick({ character, able, part, onChoose }: FollowerPickProps): ReactNode {
  return (
    <SmallSelect label="Part that follows" value={part} onChange={onChoose} size={13}>
      {able.map((p) => (
        <MenuItem key={p.name} value={p.name}>
          {p.name}
          <span className="muted ml-8 t-12">
            {p.kind}
            {character.follows?.some((f) => f.part === p.name) ? ", follows for good" : ""}
          </span>
        </MenuItem>
      ))}
    </SmallSelect>
  );
}

function movedCounts(character: Character, name: string): { skin: number; own: number } {
  const body = character.parts.findIndex((p) => p.kind === "body");
  const index = character.parts.findIndex((p) => p.name === name);
  const skin = character.shapes.filter((s) => s.deltas.some((d) => d.part === body));
  return { skin: skin.length, own: skin.filter((s) => s.deltas.some((d) => d.part === index)).length };
}
