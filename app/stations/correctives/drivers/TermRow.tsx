import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import type { ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { degreesOff, readyTerm, type TermView } from "~core/evaluate/drivers/termValue";
import { rotate, twistDegrees } from "~core/math/quat";
import { dot } from "~core/math/vec3";
import type { AngleTerm, DirectionTerm, DriverTerm, WeightTerm } from "~core/model/poseDriver";
import { useSession } from "../../../session/session";
import { ScrubCommit } from "../../../ui/ScrubCommit";
import { Segmented } from "../../../ui/Segmented";
import { PointCurve } from "./PointCurve";

interface TermRowProps<T extends DriverTerm> {
  readonly term: T;
  readonly view: TermView;
  readonly onSet: (term: DriverTerm) => void;
}

const KIND = { angle: "angle", direction: "direction", weight: "weight" } as const;

/** One reading of a driver: what it reads, what that is now, and what it counts. */
export function TermRow({
  term,
  view,
  onSet,
  onRemove,
}: TermRowProps<DriverTerm> & { readonly onRemove: (() => void) | null }): ReactNode {
  const of = term.kind === "weight" ? term.shape : term.joint;
  return (
    <div className="term" role="group" aria-label={`${KIND[term.kind]} of ${of}`}>
      <div className="line one-row t-small">
        <span className="grow over-hidden ellipsis nowrap">
          {KIND[term.kind]} of <span className="mono">{of}</span>
          {term.kind === "angle" && <AboutMotion term={term} />}
        </span>
        <span className="mono muted nowrap">counts {readyTerm(term)(view).toFixed(2)}</span>
        {onRemove && (
          <Button onClick={onRemove} aria-label={`Leave out ${KIND[term.kind]} of ${of}`}>
            Leave out
          </Button>
        )}
      </div>
      {term.kind === "angle" && <AngleFields term={term} view={view} onSet={onSet} />}
      {term.kind === "direction" && <DirectionFields term={term} view={view} onSet={onSet} />}
      {term.kind === "weight" && <WeightFields term={term} view={view} onSet={onSet} />}
    </div>
  );
}

function AboutMotion({ term }: { term: AngleTerm }): ReactNode {
  const motions = useSession((s) => s.loaded!.motions);
  const motion = motions.find((m) => m.joint === term.joint && Math.abs(dot(m.axis, term.axis)) > 0.98);
  return motion ? <span className="muted">, {motion.name}</span> : null;
}

function AngleFields({ term, view, onSet }: TermRowProps<AngleTerm>): ReactNode {
  const angle = twistDegrees(view.turn(term.joint), term.axis);
  return (
    <>
      <PointCurve
        term={term}
        angle={angle}
        label={`Weight over the angle of ${term.joint}, ${term.points.length} points`}
        onSet={(points) => onSet({ ...term, points })}
      />
      <div className="line t-small gap-14">
        {term.points.map((p, i) => (
          <span key={i} className="nowrap">
            <ScrubCommit
              label={`Point ${i + 1}: degrees`}
              value={p.degrees}
              min={(term.points[i - 1]?.degrees ?? -361) + 1}
              max={(term.points[i + 1]?.degrees ?? 361) - 1}
              step={1}
              digits={0}
              unit="°"
              onSet={(degrees) =>
                onSet({ ...term, points: term.points.map((o, k) => (k === i ? { ...o, degrees } : o)) })
              }
            />{" "}
            <ScrubCommit
              label={`Point ${i + 1}: weight`}
              value={p.weight}
              min={0}
              max={2}
              step={0.01}
              onSet={(weight) =>
                onSet({ ...term, points: term.points.map((o, k) => (k === i ? { ...o, weight } : o)) })
              }
            />
          </span>
        ))}
        <Segmented
          label="Between points"
          options={["smooth", "straight"] as const}
          value={term.between}
          onChange={(between) => onSet({ ...term, between })}
        />
      </div>
    </>
  );
}

function DirectionFields({ term, view, onSet }: TermRowProps<DirectionTerm>): ReactNode {
  const turn = view.turn(term.joint);
  const off = degreesOff(term, turn);
  const twist = twistDegrees(turn, term.along);
  const field = (
    key: "fullDegrees" | "noneDegrees",
    label: string,
    min: number,
    max: number,
    words: string,
  ): ReactNode => (
    <span className="nowrap">
      {words}{" "}
      <ScrubCommit
        label={label}
        value={term[key]}
        min={min}
        max={max}
        step={1}
        digits={0}
        unit="°"
        onSet={(x) => onSet({ ...term, [key]: x })}
      />
    </span>
  );
  const limits = term.twist;
  return (
    <div className="line t-small gap-14">
      <span className="nowrap">
        now <span className="mono">{off.toFixed(0)}°</span> off
      </span>
      {field("fullDegrees", "Full within, degrees", 0, term.noneDegrees, "full within")}
      {field("noneDegrees", "None beyond, degrees", term.fullDegrees, 180, "none beyond")}
      <Button onClick={() => onSet({ ...term, towards: rotate(turn, term.along) })}>Aim at this pose</Button>
      {!limits && (
        <Button
          onClick={() =>
            onSet({
              ...term,
              twist: { fromDegrees: Math.round(twist) - 20, toDegrees: Math.round(twist) + 20, fadeDegrees: 40 },
            })
          }>
          Limit the twist
        </Button>
      )}
      {limits && (
        <span className="line t-small gap-14">
          <span className="nowrap">
            twist now <span className="mono">{twist.toFixed(0)}°</span>
          </span>
          {(["fromDegrees", "toDegrees", "fadeDegrees"] as const).map((key) => (
            <span key={key} className="nowrap">
              {{ fromDegrees: "from", toDegrees: "to", fadeDegrees: "fades over" }[key]}{" "}
              <ScrubCommit
                label={`Twist ${key}`}
                value={limits[key]}
                min={key === "toDegrees" ? limits.fromDegrees : key === "fadeDegrees" ? 0 : -180}
                max={key === "fromDegrees" ? limits.toDegrees : 180}
                step={1}
                digits={0}
                unit="°"
                onSet={(x) => onSet({ ...term, twist: { ...limits, [key]: x } })}
              />
            </span>
          ))}
          <Button
            onClick={() => {
              const { twist: _gone, ...plain } = term;
              onSet(plain);
            }}>
            Any twist
          </Button>
        </span>
      )}
    </div>
  );
}

function WeightFields({ term, view, onSet }: TermRowProps<WeightTerm>): ReactNode {
  const shapes = useSession((s) => s.loaded!.character.shapes);
  return (
    <div className="line t-small gap-14">
      <SmallSelect
        label="Weight that is read"
        value={term.shape}
        onChange={(value) => onSet({ ...term, shape: value })}
        size={13}>
        {shapes.map((s) => (
          <MenuItem key={s.name} value={s.name}>
            {s.name}
          </MenuItem>
        ))}
      </SmallSelect>
      <span className="nowrap">
        now <span className="mono">{view.weight(term.shape).toFixed(2)}</span>
      </span>
      <span className="nowrap">
        counts{" "}
        <ScrubCommit
          label="Counts where it is 0"
          value={term.atNone}
          min={0}
          max={1}
          step={0.01}
          onSet={(atNone) => onSet({ ...term, atNone })}
        />{" "}
        where it is 0
      </span>
    </div>
  );
}
