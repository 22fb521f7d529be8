import type { ReactNode, RefObject } from "react";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { underBrush } from "~core/correctives/paintedMask";
import { dabPaint } from "~core/weights/paintWeights";
import { useSession, useSessionStore } from "../session/session";
import type { StageModel } from "./StageModel";
import { useStageBrush } from "./useStageBrush";
import { paintedJoint, strokeEnded, strokeMoved } from "../session/slices/tools";

/**
 * The brush that paints the chosen joint's weight onto a part, in whatever pose it stands; with Shift adding takes away
 * and the other way round.
 */
export function WeightBrush({
  model,
  controls,
}: {
  model: StageModel;
  controls: RefObject<OrbitControls | null>;
}): ReactNode {
  const store = useSessionStore();
  const ring = useStageBrush<Float32Array>(model, controls, {
    active: useSession((s) => s.paint !== null),
    color: "#1F6E64",
    part: () => store.getState().paint?.of.part,
    dab: (centre, _drag, invert, record) => {
      const { paint, brush, joint, loaded, lockedJoints } = store.getState();
      const index = loaded?.character.skeleton?.joints.findIndex((j) => j.name === joint) ?? -1;
      if (!paint || index < 0) return;
      const hits = underBrush(
        model.nowDeformed.positions[paint.of.part]!,
        centre.toArray(),
        brush.radiusMm / 1000,
        brush.fallOff,
      );
      const tool =
        invert && paint.tool === "add" ? "take away" : invert && paint.tool === "take away" ? "add" : paint.tool;
      dabPaint(
        paint.of,
        index,
        tool,
        brush.strength,
        hits,
        brush.symmetric,
        record,
        new Set(lockedJoints.map((name) => loaded!.character.skeleton!.joints.findIndex((j) => j.name === name))),
      );
      strokeMoved(store, "paint");
    },
    end: (record) => {
      const { joint } = store.getState();
      if (joint !== null) paintedJoint(store, joint);
      strokeEnded(store, "paint", record);
    },
  });
  return <primitive object={ring} />;
}
