import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { rotate, twistDegrees } from "~core/math/quat";
import { degreesOff, type DirectionTerm } from "~core/model/terms/directionTerm";
import { ScrubCommit } from "../../../../ui/ScrubCommit";
import type { TermFieldsProps } from "./termFields";

/** The cones about a direction and the limits of the twist. */
export function DirectionFields({ term, view, onSet }: TermFieldsProps<DirectionTerm>): ReactNode {
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
