import Checkbox from "@mui/material/Checkbox";
import { useState, type ReactNode } from "react";
import { NameSelect } from "../../ui/NameSelect";
import { NO_JOINT, type Skeleton } from "~core/model/character";
import { ScrubField } from "../../ui/ScrubField";
import { RepairTool } from "../RepairTool";

const NOTHING = "\u0000nothing";
const AXIS_NAMES = ["X", "Y", "Z"] as const;
const ZERO = [0, 0, 0] as const;

/**
 * Free work on one joint at rest: what it hangs on, where it stands, how its frame is turned. The mesh stays as it is.
 */
export function JointWork({ skeleton, joint }: { skeleton: Skeleton; joint: string }): ReactNode {
  const index = skeleton.joints.findIndex((j) => j.name === joint);
  const parent = skeleton.joints[index]?.parent ?? NO_JOINT;
  const now = parent === NO_JOINT ? NOTHING : skeleton.joints[parent]!.name;
  const [under, setUnder] = useState(now);
  const [move, setMove] = useState<readonly [number, number, number]>(ZERO);
  const [turn, setTurn] = useState<readonly [number, number, number]>(ZERO);
  const [roll, setRoll] = useState(0);
  const [withBelow, setWithBelow] = useState(true);
  const below = new Set([index]);
  skeleton.joints.forEach((j, k) => below.has(j.parent) && below.add(k));
  const moved = move.some((x) => x !== 0) || turn.some((x) => x !== 0) || roll !== 0;
  const triple = (
    label: string,
    value: readonly [number, number, number],
    set: (v: readonly [number, number, number]) => void,
    unit: string,
    most: number,
  ): ReactNode =>
    AXIS_NAMES.map((axis, k) => (
      <span key={axis} className="nowrap">
        {axis}{" "}
        <ScrubField
          label={`${label} ${axis} of ${joint}`}
          value={value[k]!}
          min={-most}
          max={most}
          step={unit === "mm" ? 0.5 : 1}
          digits={1}
          unit={unit}
          onChange={(x) => set(value.map((v, i) => (i === k ? x : v)) as unknown as readonly [number, number, number])}
        />
      </span>
    ));
  const clear = (): void => {
    setMove(ZERO);
    setTurn(ZERO);
    setRoll(0);
  };
  return (
    <div className="stack gap-6 mt-8">
      <RepairTool
        title="Hangs on"
        button="Hang it there"
        repair={under === now ? null : { what: "hang joint", joint, under: under === NOTHING ? null : under }}>
        <NameSelect
          label={`Joint that ${joint} hangs on`}
          value={under}
          names={skeleton.joints.flatMap((j, k) => (below.has(k) ? [] : [j.name]))}
          none={[NOTHING, "nothing"]}
          onChange={setUnder}
        />
      </RepairTool>
      <RepairTool
        title="At rest"
        button="Place it"
        repair={moved ? { what: "place joint", joint, moveMm: [...move], turn: [...turn], roll, withBelow } : null}
        onDone={clear}>
        <span className="line gap-2-8">moved {triple("Move", move, setMove, "mm", 500)}</span>
        <span className="line gap-2-8">turned {triple("Turn", turn, setTurn, "°", 180)}</span>
        <span className="line gap-2-8">
          rolled about its bone{" "}
          <ScrubField
            label={`Roll of ${joint}`}
            value={roll}
            min={-180}
            max={180}
            step={1}
            digits={1}
            unit="°"
            onChange={setRoll}
          />
          <label className="line gap-2">
            <Checkbox size="small" checked={withBelow} onChange={(_, on) => setWithBelow(on)} sx={{ p: 0 }} />
            joints below go along
          </label>
        </span>
      </RepairTool>
    </div>
  );
}
