import Button from "@mui/material/Button";
import type { ComponentType, ReactNode } from "react";
import { dot } from "~core/math/vec3";
import type { AngleTerm } from "~core/model/terms/angleTerm";
import { kindOf, namesRead, type DriverTerm } from "~core/model/terms/driverTerms";
import { useSession } from "../../../session/session";
import { AngleFields } from "./terms/AngleFields";
import { DirectionFields } from "./terms/DirectionFields";
import type { TermFieldsProps } from "./terms/termFields";
import { WeightFields } from "./terms/WeightFields";

type FieldsOf = {
  readonly [K in DriverTerm["kind"]]: ComponentType<TermFieldsProps<Extract<DriverTerm, { kind: K }>>>;
};
const FIELDS: FieldsOf = { angle: AngleFields, direction: DirectionFields, weight: WeightFields };

/** One reading of a driver: what it reads, what that is now, and what it counts. */
export function TermRow({
  term,
  view,
  onSet,
  onRemove,
}: TermFieldsProps<DriverTerm> & { readonly onRemove: (() => void) | null }): ReactNode {
  const [of] = namesRead([term]);
  const Fields = FIELDS[term.kind] as ComponentType<TermFieldsProps<DriverTerm>>;
  return (
    <div className="term" role="group" aria-label={`${term.kind} of ${of}`}>
      <div className="line one-row t-small">
        <span className="grow over-hidden ellipsis nowrap">
          {term.kind} of <span className="mono">{of}</span>
          {term.kind === "angle" && <AboutMotion term={term} />}
        </span>
        <span className="mono muted nowrap">counts {kindOf(term).ready(term)(view).toFixed(2)}</span>
        {onRemove && (
          <Button onClick={onRemove} aria-label={`Leave out ${term.kind} of ${of}`}>
            Leave out
          </Button>
        )}
      </div>
      <Fields term={term} view={view} onSet={onSet} />
    </div>
  );
}

function AboutMotion({ term }: { term: AngleTerm }): ReactNode {
  const motions = useSession((s) => s.loaded!.motions);
  const motion = motions.find((m) => m.joint === term.joint && Math.abs(dot(m.axis, term.axis)) > 0.98);
  return motion ? <span className="muted">, {motion.name}</span> : null;
}
