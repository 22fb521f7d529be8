import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useSession } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { SheetHead } from "../../../ui/SheetHead";
import { useQueryState } from "../../../ui/useQueryState";
import { TrialBar, TrialChoice } from "./TrialBar";
import { useTrialOnRuler } from "./useTrialOnRuler";
import { useWatch, type Watching } from "./useWatch";
import { Refused } from "../../../ui/Refused";

interface RulerSheetProps {
  readonly leaves: ReactNode;
  readonly children: ReactNode | ((watching: Watching) => ReactNode);
}

/** A sheet of what plays on the ruler: which trial, every frame measured, playing it; the leaf's own below. */
export function RulerSheet({ leaves, children }: RulerSheetProps): ReactNode {
  useTrialOnRuler();
  const watching = useWatch();
  const [leaf, setLeaf] = useQueryState<string>("leaf", "motion");
  const ready = useSession((s) => s.loaded !== null && s.trial !== null);
  const whole = watching.watched?.whole ?? false;
  const over = watching.moments.filter((m) => m.severity !== "note").length;
  const told = over ? `${counted(over, "moments")} over a limit` : "within every limit";
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {watching.running ? (
          <Progress {...watching.running} onCancel={watching.cancel} />
        ) : (
          <>
            <TrialChoice />
            <span className="take-rest" />
            {whole && (over === 0 || leaf === "clips") && <span className="muted nowrap">{told}</span>}
            {whole && over > 0 && leaf !== "clips" && <Button onClick={() => setLeaf("clips")}>{told}</Button>}
            <Button variant={whole ? "text" : "contained"} disabled={!ready} onClick={() => void watching.watch()}>
              {whole ? "Watch again" : "Watch every frame"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        <TrialBar />
        <Refused why={watching.refusal} place="m-10-18" />
        {typeof children === "function" ? children(watching) : children}
      </div>
    </div>
  );
}
