import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useSession } from "../../../session/session";
import { Progress } from "../../../ui/Progress";
import { SheetHead } from "../../../ui/SheetHead";
import { TrialBar, TrialChoice } from "./TrialBar";
import { useTrialOnRuler } from "./useTrialOnRuler";
import { useWatch } from "./useWatch";

/** A sheet of what plays on the ruler: which trial, every frame measured, playing it; the leaf's own below. */
export function RulerSheet({ leaves, children }: { leaves: ReactNode; children: ReactNode }): ReactNode {
  useTrialOnRuler();
  const watching = useWatch();
  const ready = useSession((s) => s.loaded !== null && s.trial !== null);
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {watching.running ? (
          <Progress {...watching.running} onCancel={watching.cancel} />
        ) : (
          <>
            <TrialChoice />
            <span className="take-rest" />
            <Button disabled={!ready} onClick={() => void watching.watch()}>
              {watching.watched?.whole ? "Watch again" : "Watch every frame"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        <TrialBar />
        {children}
      </div>
    </div>
  );
}
