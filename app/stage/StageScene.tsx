import { useEffect, useMemo, type ReactNode, type RefObject } from "react";
import { useSession, useSessionStore } from "../session/session";
import { FloorTicks } from "./FloorTicks";
import { JointPick } from "./JointPick";
import { makeLights } from "./lights";
import { MaskBrush } from "./MaskBrush";
import { ScanTool } from "./ScanTool";
import { SculptTool } from "./SculptTool";
import { useCamera, useOrbit } from "./stageCamera";
import { useFrames } from "./stageFrames";
import { StageModel } from "./StageModel";
import { useUpdates } from "./stageUpdates";
import { WeightBrush } from "./WeightBrush";

/** Contents of the canvas: the character, the camera that frames what is selected, and the before/after passes. */
export function StageScene({ wipe }: { wipe: RefObject<number> }): ReactNode {
  const store = useSessionStore();
  const parts = useSession((s) => s.loaded?.character.parts);
  const materials = useSession((s) => s.loaded?.character.materials);
  const model = useMemo(() => {
    const { loaded } = store.getState();
    return parts && materials && loaded ? new StageModel(loaded) : null;
  }, [parts, materials, store]);
  const lights = useMemo(() => makeLights(), []);
  useEffect(() => () => model?.dispose(), [model]);
  const ready = useUpdates(model, lights);
  const controls = useOrbit();
  const linked = useCamera(model, controls);
  useFrames({ model, ready, linked, wipe });
  return (
    <>
      <primitive object={lights.group} />
      {model && <primitive object={model.root} />}
      <FloorTicks />
      {model && <JointPick model={model} />}
      {model && <SculptTool model={model} controls={controls} />}
      {model && <WeightBrush model={model} controls={controls} />}
      {model && <MaskBrush model={model} controls={controls} />}
      {model && <ScanTool model={model} controls={controls} />}
    </>
  );
}
