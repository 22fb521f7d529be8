import Switch from "@mui/material/Switch";
import type { ReactNode } from "react";
import { useSession } from "../../session/session";

interface ItemHeadProps {
  readonly name: string;
  readonly enabled: boolean;
  /** Left out where it cannot be switched yet. */
  readonly onEnabled?: (enabled: boolean) => void;
  readonly children?: ReactNode;
}

/** First line of a corrective, or of what drives several: its switch, its name, and what it does now. */
export function ItemHead({ name, enabled, onEnabled, children }: ItemHeadProps): ReactNode {
  const sculpting = useSession((s) => s.sculpt !== null);
  return (
    <div className="line one-row">
      {onEnabled && (
        <Switch
          size="small"
          checked={enabled}
          disabled={sculpting}
          onChange={(e) => onEnabled(e.target.checked)}
          slotProps={{ input: { "aria-label": `${name} on` } }}
        />
      )}
      <b className="grow over-hidden ellipsis nowrap" title={name}>
        {name}
      </b>
      {children}
    </div>
  );
}
