import { useState } from "react";
import type { ClothRow } from "~core/measure/clothThrough";
import { uniqueName } from "~core/model/uniqueName";
import type { DeskJob } from "../../session/jobs/useJob";
import { correctiveItem } from "../../session/sculpt";
import { useSession } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { CLOTH_LIMIT as limit } from "./clothRows";

export interface PushCloth {
  readonly push: (list: readonly ClothRow[], along: "this angle" | "the whole motion") => Promise<void>;
  /** What came of it. */
  readonly told: string;
}

/** Makes correctives that lift cloth over the skin, as one step. */
export function usePushCloth(work: DeskJob): PushCloth {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const { addStep } = useDesk();
  const [told, setTold] = useState("");
  const push: PushCloth["push"] = async (list, along) => {
    if (!loaded) return;
    setTold("");
    const places = list.map((r) => ({
      garment: r.garment,
      motion: r.motion,
      degrees: r.angle,
      name: `${r.garment} ${r.label} ${Math.round(r.angle)}`,
    }));
    const limitMm = along === "the whole motion" ? limit : null;
    const pushed = await work.run("Pushing the cloth out", "push cloth", { places, method, limitMm });
    if (!pushed) return;
    const made = pushed.flat();
    const taken = new Set(loaded.character.shapes.map((s) => s.name));
    const items = await Promise.all(
      made.map(({ shape, driver }) =>
        correctiveItem(
          loaded.character,
          shape.deltas,
          { ...driver, shape: uniqueName(shape.name, taken, "cloth") },
          shape.name,
        ),
      ),
    );
    const helpless = pushed.filter((p) => p.length === 0).length;
    const folds = helpless
      ? ` At ${counted(helpless, "motions")} no cloth helps: there skin ` +
        "lies in skin, or bulges out of a fold. Correct the skin first."
      : "";
    if (items.length === 0) return setTold(folds.trim());
    const worst = pushed.flatMap((p) => p.at(-1) ?? []).reduce((a, b) => (b.afterMm > a.afterMm ? b : a));
    if (
      await addStep(
        { op: "make correctives", items: items.map((i) => i.item) },
        items.map((i) => i.bytes),
      )
    )
      setTold(
        `${counted(items.length, "correctives")} of cloth made, as one step. ` +
          `${worst.afterMm > 0 ? `At most ${worst.afterMm.toFixed(1)} mm ` + `of skin is left at ${worst.shape.name}.` : "No skin is left at any of them."}${folds} ` +
          "Walk again to see what is left.",
      );
  };
  return { push, told };
}
