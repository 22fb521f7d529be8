import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Spoken } from "~core/speech/speak";
import { useGoToStation } from "../../../session/useGoToStation";

const FROM = { shape: "", mix: "a mix: ", start: "of action units: ", missing: "" } as const;

/** What each viseme of a line is made of on this character; what is missing leads to where it is made. */
export function VisemesOfLine({ spoken }: { spoken: Spoken }): ReactNode {
  const go = useGoToStation();
  const [open, setOpen] = useState(false);
  const missing = spoken.faces.filter((f) => f.from === "missing");
  const shown = open ? spoken.faces : missing;
  return (
    <div className="t-small mt-4">
      <div className="line">
        <span className={missing.length ? "" : "muted"}>
          {missing.length
            ? `${missing.length} of its ${spoken.faces.length} visemes are missing`
            : `${spoken.faces.length} visemes, all there`}
        </span>
        <Button onClick={() => setOpen(!open)}>{open ? "Fewer" : "What they are made of"}</Button>
        {missing.length > 0 && (
          <Button variant="outlined" onClick={() => go("shapes", undefined, { leaf: "coverage" })}>
            Make them
          </Button>
        )}
      </div>
      {shown.map((f) => (
        <div key={f.viseme} className="line one-row">
          <span className="mono rigid wide-34">{f.viseme}</span>
          <span className="rigid wide-84">{f.sounds}</span>
          <span
            className={f.from === "missing" ? "" : "muted"}
            style={f.from === "missing" ? { color: "var(--brick)" } : {}}>
            {f.from === "missing"
              ? "missing"
              : FROM[f.from] +
                Object.entries(f.weights)
                  .map(([shape, w]) => (w === 1 ? shape : `${shape} ${Number(w.toFixed(2))}`))
                  .join(" + ")}
          </span>
        </div>
      ))}
    </div>
  );
}
