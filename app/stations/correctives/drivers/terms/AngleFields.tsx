import type { ReactNode } from "react";
import { twistDegrees } from "~core/math/quat";
import type { AngleTerm } from "~core/model/terms/angleTerm";
import { ScrubCommit } from "../../../../ui/ScrubCommit";
import { Segmented } from "../../../../ui/Segmented";
import { PointCurve } from "../PointCurve";
import type { TermFieldsProps } from "./termFields";

/** The curve of a weight over an angle, its points and what lies between them. */
export function AngleFields({ term, view, onSet }: TermFieldsProps<AngleTerm>): ReactNode {
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
