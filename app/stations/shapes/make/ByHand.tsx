import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { FACE_AREAS } from "~core/correctives/faceMask";
import { shapeNamed } from "~core/model/character";
import { isUserError } from "~core/model/userError";
import { beginShapeSculpt, purposesFor, shapeSketchStep, type SculptPurpose } from "../../../session/sculptShape";
import { useSession, useSessionStore } from "../../../session/session";
import { Segmented } from "../../../ui/Segmented";
import { BrushTools, useBrush } from "../../BrushTools";
import { IllNote } from "../../correctives/IllNote";
import { KeepSculpt } from "../../KeepSculpt";
import { MaskTools } from "./MaskTools";
import { nameSculpt } from "../../../session/slices/tools";
import { setWeight } from "../../../session/slices/view";
import { Refused } from "../../../ui/Refused";

const idOf = (p: SculptPurpose): string => (p.kind === "edit" ? `edit ${p.shape}` : p.kind);
const words = (p: SculptPurpose): string => {
  switch (p.kind) {
    case "new shape":
      return "a new shape";
    case "edit":
      return `${p.shape}, sculpted again`;
    case "in-between":
      return `an in-between of ${p.of} at ${p.peak}`;
    default:
      return `a combination of ${p.of.join(" and ")}`;
  }
};
const firstName = (p: SculptPurpose): string =>
  p.kind === "in-between" ? `${p.of}_at_${p.peak}` : p.kind === "combination" ? p.of.join("_with_") : "new shape";

/** Sculpting a shape with the brushes, over whatever mix and pose stands on the stage. */
export function ByHand(): ReactNode {
  const store = useSessionStore();
  const sculpt = useSession((s) => s.sculpt);
  const weights = useSession((s) => s.weights);
  const character = useSession((s) => s.loaded?.character);
  const [chosen, setChosen] = useState("");
  const [onPart, setOnPart] = useState<number | null>(null);
  const [refusal, setRefusal] = useState("");
  if (!character) return <p className="muted">Fetching the character</p>;
  if (sculpt?.purpose) return <Bench purpose={sculpt.purpose} />;
  if (sculpt) return <p className="muted">A corrective is being sculpted. Keep or discard it first.</p>;
  const purposes = purposesFor(character, weights);
  const purpose = purposes.find((p) => idOf(p) === chosen) ?? purposes[0]!;
  const part =
    onPart ??
    Math.max(
      0,
      character.parts.findIndex((p) => p.kind === "body"),
    );
  const set = Object.entries(weights).filter(([, w]) => w !== 0);
  const begin = (): void => {
    try {
      setRefusal("");
      beginShapeSculpt(store, purpose, part);
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "Sculpting could not begin.");
    }
  };
  return (
    <div className="stack gap-8">
      <p className="label m-0">
        {set.length ? (
          <>
            On the stage:{" "}
            <span className="mono">
              {set
                .slice(0, 4)
                .map(([n, w]) => `${n} ${w}`)
                .join(", ")}
              {set.length > 4 ? ` and ${set.length - 4} more` : ""}
            </span>
          </>
        ) : (
          "The face is at rest. Set weights in the list first to sculpt over " +
          "a mix: one below full for an in-between, two for a combination."
        )}
      </p>
      <div className="line t-small">
        <span>It becomes</span>
        <SmallSelect label="What the sculpt becomes" value={idOf(purpose)} onChange={setChosen} maxWidth={300}>
          {purposes.map((p) => (
            <MenuItem key={idOf(p)} value={idOf(p)}>
              {words(p)}
            </MenuItem>
          ))}
        </SmallSelect>
        <span className="muted">on</span>
        <SmallSelect label="Part to sculpt on" value={part} onChange={setOnPart}>
          {character.parts.map((p, i) => (
            <MenuItem key={p.name} value={i}>
              {p.name}
            </MenuItem>
          ))}
        </SmallSelect>
      </div>
      <div className="line">
        <Button variant="contained" onClick={begin}>
          Begin sculpting
        </Button>
      </div>
      <Refused why={refusal} />
    </div>
  );
}

function Bench({ purpose }: { purpose: SculptPurpose }): ReactNode {
  const store = useSessionStore();
  const sculpt = useSession((s) => s.sculpt)!;
  const character = useSession((s) => s.loaded!.character);
  const [brush, changeBrush] = useBrush();
  const part = character.parts[sculpt.sketch.part]!;
  const name = sculpt.name ?? firstName(purpose);
  const setName = (to: string): void => nameSculpt(store, to);
  const [follow, setFollow] = useState(true);
  const taken = purpose.kind !== "edit" && shapeNamed(character, name.trim()) !== undefined;
  return (
    <div aria-label="Sculpting" role="group" className="stack gap-8">
      <p className="label m-0">
        Stroke over {part.name} on the stage: it becomes {words(purpose)}
      </p>
      <BrushTools />
      <div className="line t-small">
        <span>acts</span>
        <Segmented
          label="Where the brush acts"
          options={FACE_AREAS}
          value={brush.face}
          onChange={(face) => changeBrush({ face })}
        />
        {part.kind === "body" && (
          <SmallSwitch
            label="lids slide on the eyes, lips on the teeth"
            checked={brush.onEyes}
            onChange={(on) => changeBrush({ onEyes: on })}
          />
        )}
      </div>
      {brush.face === "painted" && <MaskTools part={sculpt.sketch.part} says="open to the brush" />}
      <IllNote part={part.name} vertices={[...sculpt.sketch.ill]} version={sculpt.version} />
      <div className="line">
        {purpose.kind !== "edit" && (
          <TextField
            value={name}
            onChange={(e) => setName(e.target.value)}
            error={taken}
            helperText={taken ? "There is a shape of this name." : undefined}
            sx={{ width: 190 }}
            slotProps={{ htmlInput: { "aria-label": "Name of the shape", maxLength: 120 } }}
          />
        )}
        {part.kind === "body" && (
          <SmallSwitch label="lashes, tear lines and brows follow" checked={follow} onChange={setFollow} />
        )}
      </div>
      <KeepSculpt
        says="Keep"
        failed="The sculpt could not be kept."
        disabled={taken || (purpose.kind !== "edit" && !name.trim())}
        step={(now) => shapeSketchStep({ ...now, sculpt: { ...now.sculpt, purpose } }, name.trim(), follow)}
        kept={() => purpose.kind === "new shape" && setWeight(store, name.trim(), 1)}
      />
    </div>
  );
}
