import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { ClothRow } from "~core/measure/clothThrough";
import { useJob } from "../../session/jobs/useJob";
import { angleAlong, withMotion } from "../../session/posing";
import { uniqueName } from "~core/model/uniqueName";
import { correctiveItem } from "../../session/sculpt";
import { useDesk } from "../../session/useDesk";
import { useSession, useSessionStore } from "../../session/session";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { CLOTH_LIMIT as limit, clothRows, keepClothRows } from "./clothRows";
import { showMoment } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

/** Angles read along each motion. */
const STEPS = 7;

/**
 * Skin that comes through the clothes over the whole range of motion, worst first; a row poses the figure where it is
 * worst.
 */
export function ClothTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const pose = useSession((s) => s.pose);
  const [find, setFind] = useState("");
  const [told, setTold] = useState("");
  const { addStep } = useDesk();
  const work = useJob("The clothes could not be read.");
  const rows = clothRows(loaded, method);
  const walk = async (): Promise<void> => {
    if (!loaded) return;
    const found = await work.run("Walking through every motion", "cloth", { steps: STEPS, method });
    if (found) keepClothRows(loaded, method, found);
  };
  const push = async (list: readonly ClothRow[], along: "this angle" | "the whole motion"): Promise<void> => {
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
  const body = loaded?.character.parts.find((p) => p.kind === "body")?.name;
  const garments = loaded?.character.parts.filter((p) => p.kind === "garment").length ?? 0;
  const show = (r: ClothRow): void => {
    const motion = loaded?.motions.find((m) => m.id === r.motion);
    if (motion && body)
      showMoment(store, {
        pose: withMotion({}, motion, r.angle),
        joint: r.joint,
        framing: `joint ${r.joint}`,
        dressed: true,
        reading: "skin",
        place: { part: body, vertices: r.vertices, least: 0.22 },
      });
  };
  const on = (r: ClothRow): boolean => {
    const motion = loaded?.motions.find((m) => m.id === r.motion);
    return (
      motion !== undefined &&
      pose[r.joint] !== undefined &&
      Object.keys(pose).length === 1 &&
      angleAlong(motion, pose) === Math.round(r.angle)
    );
  };
  const shown = rows?.filter((r) => `${r.garment} ${r.label}`.toLowerCase().includes(find.toLowerCase())) ?? [];
  const over = rows?.filter((r) => r.depthMm > limit).length ?? 0;
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <FindField label="Find a garment or motion" value={find} onChange={setFind} />
            <span className="muted nowrap">
              {rows ? `${over} of ${loaded?.motions.length ?? 0} motions over ${limit} mm` : ""}
            </span>
            {over > 0 && (
              <Button
                variant="contained"
                title="Correctives of the garments for every motion over the limit, along the whole of it, as one step"
                onClick={() =>
                  void push(
                    rows!.filter((r) => r.depthMm > limit),
                    "the whole motion",
                  )
                }>
                Push the cloth out in all {over}
              </Button>
            )}
            <Button
              variant={rows ? "text" : "contained"}
              disabled={!loaded || garments === 0}
              onClick={() => void walk()}>
              {rows ? "Walk again" : "Walk through"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {told && (
          <p role="status" className="muted m-10-18 t-small">
            {told}
          </p>
        )}
        <Refused why={work.refusal} place="m-10-18" />
        {!rows && !work.running && !work.refusal && (
          <p className="p-8-18">
            {garments === 0
              ? "No part is a garment. Set the kind of the clothes at Intake, Parts."
              : `Every joint goes through its range; skin that ${counted(garments, "garments")} cover at rest ` +
                "is read where it stands out of them. The worst comes first: push the cloth " +
                "out there, take the garment's weights from the skin, or correct it in the pose."}
          </p>
        )}
        {rows && shown.length === 0 && (
          <p className="muted p-8-18">{rows.length ? "Nothing matches." : "No skin comes through."}</p>
        )}
        {shown.map((r) => (
          <div key={`${r.garment} ${r.motion}`} className={`row${on(r) ? " open" : ""}`}>
            <button type="button" className="plain row-line" aria-pressed={on(r)} onClick={() => show(r)}>
              <b className="wide-62 rigid over-hidden ellipsis nowrap w-550">{r.garment}</b>
              <span className="grow">{r.label}</span>
              <span className="mono muted nowrap">
                {r.angle > 0 ? "+" : ""}
                {Math.round(r.angle)}°
              </span>
              <span className="mono muted nowrap wide-84 to-right">{counted(r.vertices.length, "vertices")}</span>
              <span className="wide-120 rigid to-right">
                <LimitBar value={r.depthMm} limit={limit} text={`${r.depthMm.toFixed(1)} mm`} width={46} />
              </span>
            </button>
            {on(r) && (
              <div className="row-body line">
                <Button disabled={work.running !== null} onClick={() => void push([r], "this angle")}>
                  Push the cloth out here
                </Button>
                <span className="muted t-small">
                  A corrective of {r.garment} that lifts the cloth over the skin, driven by {r.joint}.
                </span>
              </div>
            )}
          </div>
        ))}
      </div>
    </div>
  );
}
