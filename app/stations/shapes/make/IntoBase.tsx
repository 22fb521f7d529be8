import Button from "@mui/material/Button";
import { useMemo, useState, type ReactNode } from "react";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { shapeNamed } from "~core/model/character";
import { mixShapes } from "~core/shapes/mixShapes";
import { useSession, useSessionStore } from "../../../session/session";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { setView } from "../../../session/slices/view";

/** The mix on the stage becomes the figure at rest; what that moves is told first. */
export function IntoBase(): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character);
  const weights = useSession((s) => s.weights);
  const { addStep } = useDesk();
  const [keep, setKeep] = useState(false);
  const [told, setTold] = useState("");
  const set = useMemo(
    () =>
      Object.entries(weights).flatMap(([n, weight]) => {
        const shape = character && weight !== 0 ? shapeNamed(character, n) : undefined;
        return shape ? [{ shape, weight }] : [];
      }),
    [character, weights],
  );
  const moved = useMemo(() => mixShapes(set.map((s) => [s.shape, s.weight] as const)), [set]);
  if (!character) return <p className="muted">Fetching the character</p>;
  let most = 0;
  for (const d of moved)
    for (let k = 0; k < d.deltas.length; k += 3)
      most = Math.max(most, Math.hypot(d.deltas[k]!, d.deltas[k + 1]!, d.deltas[k + 2]!));
  const joints = new Set(set.flatMap((s) => s.shape.jointOffsets?.map((o) => o.joint) ?? [])).size;
  const twice = set.filter((s) => character.baked?.some((b) => b.shape === s.shape.name));
  const bake = async (): Promise<void> => {
    const names = set.map((s) => s.shape.name);
    if (!(await addStep({ op: "bake", weights: Object.fromEntries(set.map((s) => [s.shape.name, s.weight])), keep })))
      return;
    setView(store, { weights: {} });
    setTold(
      `${names.join(" and ")} baked. The other ` +
        `${counted(character.shapes.length - (keep ? 0 : names.length), "shapes")} ` +
        "move from the new base; undo brings the old one back.",
    );
  };
  return (
    <div className="stack gap-8 items-start">
      {set.length === 0 ? (
        <p className="label m-0">
          Set weights in the list first: the mix on the stage becomes the figure at rest, such as a build or a slight
          asymmetry.
        </p>
      ) : (
        <>
          <p className="m-0 t-small">
            <span className="mono">{set.map((s) => `${s.shape.name} ${s.weight}`).join(" + ")}</span> moves{" "}
            {counted(moved.length, "parts")} by up to <span className="mono">{(1000 * most).toFixed(1)} mm</span>
            {joints ? ` and ${counted(joints, "joints")}` : ""}.
          </p>
          {twice.length > 0 && (
            <div className="refusal" role="alert">
              {twice.map((s) => s.shape.name).join(" and ")} {twice.length === 1 ? "is" : "are"} in the base already: it
              would be applied twice.
            </div>
          )}
          <div className="line">
            <Button variant="contained" onClick={() => void bake()}>
              Bake it into the base
            </Button>
            <SmallSwitch label="keep its shapes in the list" checked={keep} onChange={setKeep} />
          </div>
        </>
      )}
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
    </div>
  );
}
