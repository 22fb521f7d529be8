import type { ReactNode } from "react";

/** Why something was not done, where there is anything to say. @param place classes for its room in the sheet. */
export const Refused = ({ why, place = "" }: { why: string; place?: string }): ReactNode =>
  why ? (
    <div className={`refusal ${place}`.trim()} role="alert">
      {why}
    </div>
  ) : null;
