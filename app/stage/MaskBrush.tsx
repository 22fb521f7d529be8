import type { ReactNode, RefObject } from "react";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { dabMask, underBrush } from "~core/correctives/paintedMask";
import { useSession, useSessionStore } from "../session/session";
import type { StageModel } from "./StageModel";
import { useStageBrush } from "./useStageBrush";
import { strokeEnded, strokeMoved } from "../session/slices/tools";

/** The brush that paints a mask onto the skin, in whatever pose it stands; with Shift it takes away. */
export function MaskBrush({
  model,
  controls,
}: {
  model: StageModel;
  controls: RefObject<OrbitControls | null>;
}): ReactNode {
  const store = useSessionStore();
  const ring = useStageBrush<number>(model, controls, {
    active: useSession((s) => s.mask?.painting ?? false),
    color: "#8a5a12",
    part: () => store.getState().mask?.of.part,
    dab: (centre, _drag, invert, record) => {
      const { mask, brush } = store.getState();
      if (!mask) return;
      dabMask(
        mask.of,
        underBrush(model.nowDeformed.positions[mask.of.part]!, centre.toArray(), brush.radiusMm / 1000, brush.fallOff),
        invert ? -brush.strength : brush.strength,
        brush.symmetric,
        record,
      );
      strokeMoved(store, "mask");
    },
    end: (record) => strokeEnded(store, "mask", record),
  });
  return <primitive object={ring} />;
}
