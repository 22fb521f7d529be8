import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { TRIMMED_KINDS, type LipTrim } from "~core/edits/repairs/trimFace";
import type { Vec3 } from "~core/math/vec3";
import { useSession, useSessionStore } from "../../../session/session";
import { ScrubField } from "../../../ui/ScrubField";
import { RepairTool } from "../../RepairTool";
import { setView } from "../../../session/slices/view";

const AS_IT_IS: LipTrim = { depthMm: 0, heightMm: 0, hidden: 0 };
const STILL: Vec3 = [0, 0, 0];
const OWN_SIZE: Vec3 = [1, 1, 1];
const AXES = ["width", "height", "depth"] as const;
const set = (v: Vec3, k: number, x: number): Vec3 => v.map((old, i) => (i === k ? x : old)) as unknown as Vec3;
const WAYS = ["to the left", "up", "forward"] as const;

/**
 * What sets a face apart from the usual build, changed at rest and so under every shape; the face checks are read
 * before it is taken.
 */
export function Trims(): ReactNode {
  const character = useSession((s) => s.loaded?.character);
  const [chosen, setChosen] = useState("");
  const [move, setMove] = useState<Vec3>(STILL);
  const [size, setSize] = useState<Vec3>(OWN_SIZE);
  const store = useSessionStore();
  // what is trimmed lies in the mouth, or is an eye
  const eye = character?.parts.find((p) => p.name === chosen)?.kind === "eye";
  useEffect(() => setView(store, { framing: eye ? "eyes" : "mouth", camera: null }), [store, eye]);
  if (!character) return <p className="muted">Fetching the character</p>;
  const able = character.parts.filter((p) => TRIMMED_KINDS.has(p.kind));
  const part = able.find((p) => p.name === chosen) ?? able.find((p) => p.kind === "tongue") ?? able[0];

  const changed = move.some((x) => x !== 0) || size.some((x) => x !== 1);
  return (
    <div className="stack gap-12">
      <LipTrims />
      {part && (
        <RepairTool
          title="Inside"
          button={`Trim ${part.name}`}
          repair={changed ? { what: "trim part", part: part.name, moveMm: [...move], size: [...size] } : null}
          onDone={() => {
            setMove(STILL);
            setSize(OWN_SIZE);
          }}>
          <SmallSelect
            label="Part that is trimmed"
            value={part.name}
            onChange={(value) => {
              setChosen(value);
              setMove(STILL);
              setSize(OWN_SIZE);
            }}
            size={13}>
            {able.map((p) => (
              <MenuItem key={p.name} value={p.name}>
                {p.name}
              </MenuItem>
            ))}
          </SmallSelect>
          <Moved move={move} onMove={setMove} />
          <Sized size={size} onSize={setSize} />
        </RepairTool>
      )}
      <p className="muted m-0 t-small">
        A trim changes the figure at rest; every shape keeps what it adds. Preview reads the face checks as they would
        be afterwards.
      </p>
    </div>
  );
}

/** Where the lips meet: back, up, rolled in. */
function LipTrims(): ReactNode {
  const [lips, setLips] = useState<LipTrim>(AS_IT_IS);
  return (
    <RepairTool
      title="Lips"
      button="Trim the lips"
      repair={lips.depthMm || lips.heightMm || lips.hidden ? { what: "trim lips", ...lips } : null}
      onDone={() => setLips(AS_IT_IS)}>
      <span>
        seam back{" "}
        <ScrubField
          label="Lip seam back"
          value={lips.depthMm}
          min={-20}
          max={20}
          step={0.05}
          digits={1}
          unit=" mm"
          onChange={(depthMm) => setLips({ ...lips, depthMm })}
        />
      </span>
      <span>
        up{" "}
        <ScrubField
          label="Lip seam up"
          value={lips.heightMm}
          min={-20}
          max={20}
          step={0.05}
          digits={1}
          unit=" mm"
          onChange={(heightMm) => setLips({ ...lips, heightMm })}
        />
      </span>
      <span>
        rolled in{" "}
        <ScrubField
          label="Lips rolled in"
          value={100 * lips.hidden}
          min={0}
          max={100}
          step={0.5}
          digits={0}
          unit=" %"
          onChange={(x) => setLips({ ...lips, hidden: x / 100 })}
        />
      </span>
    </RepairTool>
  );
}

interface MovedProps {
  readonly move: Vec3;
  readonly onMove: (move: Vec3) => void;
}
function Moved({ move, onMove }: MovedProps): ReactNode {
  return (
    <span className="line gap-2-10">
      {WAYS.map((way, k) => (
        <span key={way}>
          {way}{" "}
          <ScrubField
            label={`Part moved ${way}`}
            value={move[k]!}
            min={-50}
            max={50}
            step={0.05}
            digits={1}
            unit=" mm"
            onChange={(x) => onMove(set(move, k, x))}
          />
        </span>
      ))}
    </span>
  );
}

interface SizedProps {
  readonly size: Vec3;
  readonly onSize: (size: Vec3) => void;
}
function Sized({ size, onSize }: SizedProps): ReactNode {
  return (
    <span className="line gap-2-10">
      {AXES.map((axis, k) => (
        <span key={axis}>
          {axis}{" "}
          <ScrubField
            label={`Part ${axis}`}
            value={100 * size[k]!}
            min={10}
            max={400}
            step={0.25}
            digits={0}
            unit=" %"
            start={100}
            onChange={(x) => onSize(set(size, k, x / 100))}
          />
        </span>
      ))}
    </span>
  );
}
