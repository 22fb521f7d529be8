import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { NameSelect } from "../../ui/NameSelect";
import { SmallSwitch } from "../../ui/SmallSwitch";
import type { Part } from "~core/model/character";
import { isUserError } from "~core/model/userError";
import { encodePaint } from "~core/weights/keptPaint";
import { PAINT_TOOLS } from "~core/weights/paintWeights";
import { hashOf } from "../../session/ledgerClient";
import { endWork } from "../../session/kept/useKeepDrafts";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { Segmented } from "../../ui/Segmented";
import { LockedJoints } from "./LockedJoints";
import { useBrush } from "../BrushTools";
import { undoInTool } from "../../session/toolHistory";
import { BrushRadius, BrushStrength } from "../BrushSize";
import { putAway, setPaintTool, startPaint } from "../../session/slices/tools";
import { chooseJoint } from "../../session/slices/selection";
import { Refused } from "../../ui/Refused";

/** Painting the chosen joint's weight on the stage: strokes that can be taken back, kept as one step. */
export function PaintWeights({ part }: { part: Part }): ReactNode {
  const store = useSessionStore();
  const { addFromDraft } = useDesk();
  const joint = useSession((s) => s.joint);
  const paint = useSession((s) => s.paint);
  const [refusal, setRefusal] = useState("");
  const [sure, setSure] = useState(false);
  // what is painted rests as a draft when the row closes
  useEffect(() => () => putAway(store, "paint"), [store]);
  const begin = (): void => {
    const { loaded } = store.getState();
    if (!loaded) return;
    try {
      startPaint(store, part.name);
      setRefusal("");
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "That part cannot be painted.");
    }
  };
  const takeBack = (): void => undoInTool(store, "paint");
  const keep = async (): Promise<void> => {
    const { loaded } = store.getState();
    const bytes = loaded && paint ? encodePaint(loaded.character, paint.of) : null;
    if (!bytes || !paint) return endWork(store, "paint");
    const refused = await addFromDraft(
      {
        step: { op: "paint weights", part: part.name, joints: [...paint.joints], blob: await hashOf(bytes) },
        blobs: [bytes],
      },
      paint.draft,
    );
    if (refused) setRefusal(`${refused.message} The painting stays open, and is kept in this browser.`);
    else if (store.getState().paint?.draft === paint.draft) endWork(store, "paint");
  };
  if (!paint) return <BeginPainting part={part} joint={joint} refusal={refusal} onBegin={begin} />;
  return (
    <div role="group" aria-label={`Painting ${part.name}`} className="stack gap-6">
      <PaintFields tool={paint.tool} joint={joint} strokes={paint.undo.length} />
      <LockedJoints />
      <div className="line">
        <Button variant="contained" disabled={paint.undo.length === 0} onClick={() => void keep()}>
          Keep the painting
        </Button>
        <Button disabled={paint.undo.length === 0} onClick={takeBack}>
          Take back a stroke
        </Button>
        {sure ? (
          <>
            <Button color="error" onClick={() => endWork(store, "paint")}>
              Throw {counted(paint.undo.length, "strokes")} away
            </Button>
            <Button onClick={() => setSure(false)}>Keep on</Button>
          </>
        ) : (
          <Button onClick={() => (paint.undo.length ? setSure(true) : endWork(store, "paint"))}>Discard</Button>
        )}
      </div>
      <Refused why={refusal} />
    </div>
  );
}

interface BeginPaintingProps {
  readonly part: Part;
  readonly joint: string | null;
  readonly refusal: string;
  readonly onBegin: () => void;
}
function BeginPainting({ part, joint, refusal, onBegin }: BeginPaintingProps): ReactNode {
  return (
    <div className="line">
      <Button disabled={!part.skin || !joint} onClick={onBegin}>
        Paint on the stage
      </Button>
      <span className="muted t-small">
        {joint ? (
          <>
            the weight of <span className="mono">{joint}</span>
          </>
        ) : (
          "choose a joint first: show joints on the stage and click one"
        )}
      </span>
      <Refused why={refusal} />
    </div>
  );
}

interface PaintFieldsProps {
  readonly tool: (typeof PAINT_TOOLS)[number];
  readonly joint: string | null;
  readonly strokes: number;
}
/** What the brush does, and which joint it does it to. */
function PaintFields({ tool, joint, strokes }: PaintFieldsProps): ReactNode {
  const store = useSessionStore();
  const skeleton = useSession((s) => s.loaded?.character.skeleton);
  const [brush, change] = useBrush();
  return (
    <>
      <div className="line">
        <Segmented
          label="What the brush does"
          options={PAINT_TOOLS}
          value={tool}
          onChange={(to) => setPaintTool(store, to)}
        />
        <NameSelect
          label="Joint that is painted"
          value={joint ?? ""}
          names={skeleton?.joints.map((j) => j.name) ?? []}
          onChange={(name) => chooseJoint(store, name)}
        />
        <span className="grow" />
        <SmallSwitch label="both sides" checked={brush.symmetric} onChange={(on) => change({ symmetric: on })} />
      </div>
      <div className="line t-small gap-14">
        <BrushRadius brush={brush} change={change} />
        <BrushStrength brush={brush} change={change} />
        <span className="muted">{counted(strokes, "strokes")}; with Shift the other way</span>
      </div>
    </>
  );
}
