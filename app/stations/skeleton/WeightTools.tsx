import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useMemo, useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { vertexCountOf, type Part } from "~core/model/character";
import { BIND_WAYS } from "~core/weights/bindAfresh";
import { WEIGHT_TOOLS, weightChangeSchema, type WeightChange } from "~core/weights/changeWeights";
import type { WeightsEffect } from "~core/weights/weightsEffect";
import { useJob } from "../../session/jobs/useJob";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { LockedJoints } from "./LockedJoints";
import { PaintWeights } from "./PaintWeights";
import { spreadVertices } from "../spreadVertices";
import { counted } from "../../ui/counted";
import { Progress } from "../../ui/Progress";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { showPlace } from "../../session/slices/selection";
import { Refused } from "../../ui/Refused";

/**
 * Every part with how it is bound; opened, the tools that change its weights, each measured over all ranges before it
 * is taken.
 */
export function WeightTools(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const [open, setOpen] = useQueryState<string>("open", "");
  if (!loaded) return <p className="muted p-0-18">Fetching the character</p>;
  const { parts, skeleton } = loaded.character;
  if (!skeleton) return <p className="p-8-18">This delivery has no skeleton, so nothing is bound.</p>;
  const choose = (part: Part): void => {
    setOpen(open === part.name ? "" : part.name);
    showPlace(store, { part: part.name, vertices: spreadVertices(vertexCountOf(part)) });
  };
  return (
    <div className="sheet-body">
      {parts.map((part) => (
        <div key={part.name} className={`row${open === part.name ? " open" : ""}`}>
          <button
            type="button"
            className="plain row-line"
            aria-expanded={open === part.name}
            onClick={() => choose(part)}>
            <span className="grow">{part.name}</span>
            <span className="muted">{part.kind}</span>
            <span className="mono nowrap wide-220 to-right">{part.skin ? boundWords(part) : "not bound"}</span>
          </button>
          {open === part.name && <Tools key={part.name} part={part} />}
        </div>
      ))}
    </div>
  );
}

/** How many joints hold a part, and how many at most a vertex. */
function boundWords({ skin }: Part): string {
  const held = new Set<number>();
  let most = 0;
  for (let v = 0; v < skin!.weights.length; v += skin!.influenceCount) {
    let n = 0;
    for (let k = v; k < v + skin!.influenceCount; k++)
      if (skin!.weights[k]! > 0) {
        n++;
        held.add(skin!.joints[k]!);
      }
    most = Math.max(most, n);
  }
  return `${counted(held.size, "joints")}, up to ${most} a vertex`;
}

const START: WeightChange = weightChangeSchema.parse({ tool: "smooth" });

/** Changing the weights of one part by a tool; painting takes the tools' place. */
function Tools({ part }: { part: Part }): ReactNode {
  const painting = useSession((s) => s.paint !== null);
  return (
    <div className="p-4-18-12 stack gap-8" role="group" aria-label={`Weights of ${part.name}`}>
      {part.skin && <PaintWeights part={part} />}
      {!painting && <ToolForm part={part} />}
    </div>
  );
}

function ToolForm({ part }: { part: Part }): ReactNode {
  const { addStep } = useDesk();
  const locked = useSession((s) => s.lockedJoints);
  const [own, setOwn] = useState<WeightChange>(part.skin ? START : { ...START, tool: "take from skin" });
  const change = useMemo(
    (): WeightChange => ({ ...own, locked: own.tool === "limit" ? [] : [...locked] }),
    [own, locked],
  );
  const [effect, setEffect] = useState<{ of: WeightChange; effect: WeightsEffect } | null>(null);
  const work = useJob("The change could not be measured.");
  const set = (to: Partial<WeightChange>): void => {
    setOwn({ ...own, ...to });
    work.refuse("");
  };
  const measure = async (): Promise<void> => {
    const found = await work.run("Posing with and without", "weights effect", { part: part.name, change });
    if (found) setEffect({ of: change, effect: found });
  };
  const known = effect?.of === change ? effect.effect : null;
  return (
    <>
      <div className="line">
        <Segmented label="Tool" options={WEIGHT_TOOLS} value={change.tool} onChange={(tool) => set({ tool })} />
      </div>
      <div className="line t-small gap-14">
        <ToolSettings part={part} change={change} onSet={set} />
      </div>
      {change.tool !== "limit" && <LockedJoints />}
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <div className="line">
          <Button variant={known ? "outlined" : "contained"} onClick={() => void measure()}>
            Measure the change
          </Button>
          <Button
            variant={known ? "contained" : "outlined"}
            disabled={!known}
            onClick={() => void addStep({ op: "change weights", part: part.name, change })}>
            Change the weights
          </Button>
        </div>
      )}
      {known && (
        <p role="status" className="m-0 t-small">
          {effectWords(known)}
        </p>
      )}
      <Refused why={work.refusal} />
    </>
  );
}

interface ToolSettingsProps {
  readonly part: Part;
  readonly change: WeightChange;
  readonly onSet: (to: Partial<WeightChange>) => void;
}

/** What the chosen tool asks for. */
function ToolSettings({ part, change, onSet }: ToolSettingsProps): ReactNode {
  switch (change.tool) {
    case "smooth":
      return (
        <WholeNumber
          before="rounds"
          label="Rounds of smoothing"
          value={change.rounds}
          range={[1, 100]}
          start={4}
          onChange={(rounds) => onSet({ rounds })}
        />
      );
    case "bind afresh":
      return (
        <>
          <span className="line">
            nearest bone{" "}
            <Segmented
              label="Nearness to bones"
              options={BIND_WAYS}
              value={change.way}
              onChange={(way) => onSet({ way })}
              names={{ surface: "along the surface", volume: "through the volume" }}
            />
          </span>
          <WholeNumber
            before="evened out over"
            label="Rounds of evening out"
            value={change.rounds}
            range={[1, 100]}
            unit=" rounds"
            start={8}
            onChange={(rounds) => onSet({ rounds })}
          />
        </>
      );
    case "mirror":
      return (
        <span className="line">
          from{" "}
          <Segmented
            label="Side that is right"
            options={["left", "right"] as const}
            value={change.from}
            onChange={(from) => onSet({ from })}
          />
        </span>
      );
    case "limit":
      return (
        <WholeNumber
          before="joints a vertex"
          label="Joints a vertex"
          value={change.most}
          range={[1, 8]}
          start={4}
          onChange={(most) => onSet({ most })}
        />
      );
    case "take from skin":
      return <SourceSettings part={part} change={change} onSet={onSet} />;
    default:
      return null;
  }
}

/** From which part weights are taken, and how near and how alike its surface must be. */
function SourceSettings({ part, change, onSet }: ToolSettingsProps): ReactNode {
  const parts = useSession((s) => s.loaded?.character.parts);
  const sources = parts?.filter((p) => p.skin && p !== part && p.kind !== "body").map((p) => p.name) ?? [];
  return (
    <>
      <span className="line">
        from{" "}
        <SmallSelect
          label="Part to take weights from"
          value={change.source}
          onChange={(value) => onSet({ source: value })}>
          <MenuItem value="">the body</MenuItem>
          {sources.map((s) => (
            <MenuItem key={s} value={s}>
              {s}
            </MenuItem>
          ))}
        </SmallSelect>
      </span>
      <WholeNumber
        before="within"
        label="Reach"
        value={change.reachMm}
        range={[1, 500]}
        unit=" mm"
        start={40}
        onChange={(reachMm) => onSet({ reachMm })}
      />
      <WholeNumber
        before="facing within"
        label="Normals within"
        value={change.normalDegrees}
        range={[5, 180]}
        unit="°"
        start={75}
        onChange={(normalDegrees) => onSet({ normalDegrees })}
      />
    </>
  );
}

interface WholeNumberProps {
  readonly before: string;
  readonly label: string;
  readonly value: number;
  readonly range: readonly [number, number];
  readonly unit?: string;
  readonly start: number;
  readonly onChange: (to: number) => void;
}
function WholeNumber({ before, label, value, range: [min, max], unit = "", start, onChange }: WholeNumberProps) {
  return (
    <span>
      {before}{" "}
      <ScrubField
        label={label}
        value={value}
        min={min}
        max={max}
        step={1}
        digits={0}
        unit={unit}
        start={start}
        onChange={onChange}
      />
    </span>
  );
}

const effectWords = ({ largestMm, pose, vertices }: WeightsEffect): string =>
  pose === null || largestMm < 0.005
    ? "Nothing moves by more than 0.01 mm in any pose."
    : `${counted(vertices, "vertices")} move by more than 0.1 mm somewhere; ` +
      `at most ${largestMm.toFixed(2)} mm, at ${pose.label} ${pose.degrees}°.`;
