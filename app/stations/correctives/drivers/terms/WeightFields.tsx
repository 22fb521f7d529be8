import type { ReactNode } from "react";
import type { WeightTerm } from "~core/model/terms/weightTerm";
import { useSession } from "../../../../session/session";
import { ScrubCommit } from "../../../../ui/ScrubCommit";
import { SmallSelect } from "../../../../ui/SmallSelect";
import type { TermFieldsProps } from "./termFields";

/** The weight that is read and what it counts where it is none. */
export function WeightFields({ term, view, onSet }: TermFieldsProps<WeightTerm>): ReactNode {
  const shapes = useSession((s) => s.loaded!.character.shapes);
  return (
    <div className="line t-small gap-14">
      <SmallSelect
        label="Weight that is read"
        value={term.shape}
        onChange={(value) => onSet({ ...term, shape: value })}
        options={shapes.map((s) => s.name)}
        size={13}
      />
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
