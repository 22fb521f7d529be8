import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { ClothRow } from "~core/measure/clothThrough";
import { useJob } from "../../session/jobs/useJob";
import { angleAlong, withMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { CLOTH_LIMIT as limit, clothRows, keepClothRows } from "./clothRows";
import { usePushCloth } from "./usePushCloth";
import { showMoment } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

/** Angles read along each motion. */
const STEPS = 7;

/**
 * Skin that comes through the clothes over the whole range of motion, worst first; a row poses the figure where it is
 * worst.
 */
export function ClothTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const [find, setFind] = useState("");
  const work = useJob("The clothes could not be read.");
  const { push, told } = usePushCloth(work);
  const rows = clothRows(loaded, method);
  const walk = async (): Promise<void> => {
    if (!loaded) return;
    const found = await work.run("Walking through every motion", "cloth", { steps: STEPS, method });
    if (found) keepClothRows(loaded, method, found);
  };
  const garments = loaded?.character.parts.filter((p) => p.kind === "garment").length ?? 0;
  const shown = rows?.filter((r) => `${r.garment} ${r.label}`.toLowerCase().includes(find.toLowerCase())) ?? [];
  const over = rows?.filter((r) => r.depthMm > limit) ?? [];
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <FindField label="Find a garment or motion" value={find} onChange={setFind} />
            <span className="muted nowrap">
              {rows ? `${over.length} of ${loaded?.motions.length ?? 0} motions over ${limit} mm` : ""}
            </span>
            {over.length > 0 && (
              <Button
                variant="contained"
                title="Correctives of the garments for every motion over the limit, along the whole of it, as one step"
                onClick={() => void push(over, "the whole motion")}>
                Push the cloth out in all {over.length}
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
        {!rows && !work.running && !work.refusal && <p className="p-8-18">{beginWords(garments)}</p>}
        {rows && shown.length === 0 && (
          <p className="muted p-8-18">{rows.length ? "Nothing matches." : "No skin comes through."}</p>
        )}
        {shown.map((r) => (
          <ClothLine
            key={`${r.garment} ${r.motion}`}
            row={r}
            busy={work.running !== null}
            onPush={() => void push([r], "this angle")}
          />
        ))}
      </div>
    </div>
  );
}

const beginWords = (garments: number): string =>
  garments === 0
    ? "No part is a garment. Set the kind of the clothes at Intake, Parts."
    : `Every joint goes through its range; skin that ${counted(garments, "garments")} cover at rest ` +
      "is read where it stands out of them. The worst comes first: push the cloth " +
      "out there, take the garment's weights from the skin, or correct it in the pose.";

interface ClothLineProps {
  readonly row: ClothRow;
  readonly busy: boolean;
  readonly onPush: () => void;
}

/** A garment over one motion, at its worst; open while the figure stands there. */
function ClothLine({ row: r, busy, onPush }: ClothLineProps): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const motion = loaded?.motions.find((m) => m.id === r.motion);
  const isOn = useSession(
    ({ pose }) =>
      motion !== undefined &&
      pose[r.joint] !== undefined &&
      Object.keys(pose).length === 1 &&
      angleAlong(motion, pose) === Math.round(r.angle),
  );
  const show = (): void => {
    const body = loaded?.character.parts.find((p) => p.kind === "body")?.name;
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
  return (
    <div className={`row${isOn ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-pressed={isOn} onClick={show}>
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
      {isOn && (
        <div className="row-body line">
          <Button disabled={busy} onClick={onPush}>
            Push the cloth out here
          </Button>
          <span className="muted t-small">
            A corrective of {r.garment} that lifts the cloth over the skin, driven by {r.joint}.
          </span>
        </div>
      )}
    </div>
  );
}
