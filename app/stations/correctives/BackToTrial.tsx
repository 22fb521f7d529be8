import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useCharacterPage } from "../../session/useDesk";

/** The way back to the trial whose moment is corrected here; that time of it is measured anew there. */
export function BackToTrial(): ReactNode {
  const { id } = useCharacterPage().character;
  const [query] = useSearchParams();
  const navigate = useNavigate();
  const back = query.get("back");
  if (!back) return null;
  return (
    <div className="sheet-tools p-6-18 m-0 line">
      <span className="take-rest">Corrects {query.get("of") ?? "a moment of a trial"}.</span>
      <Button variant="outlined" onClick={() => void navigate(`/c/${id}/trials?${back}`)}>
        Back to the trial
      </Button>
    </div>
  );
}
