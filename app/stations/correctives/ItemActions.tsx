import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useSession } from "../../session/session";
import { useDesk } from "../../session/useDesk";

interface ItemActionsProps {
  readonly name: string;
  readonly onSculpt: () => void;
  readonly onMirror: () => void;
  /** What else can be done, before it is removed. */
  readonly children?: ReactNode;
}

/** What can be done with one corrective, however it is driven. */
export function ItemActions({ name, onSculpt, onMirror, children }: ItemActionsProps): ReactNode {
  const { addStep } = useDesk();
  const sculpting = useSession((s) => s.sculpt !== null);
  return (
    <div className="line ml-n8">
      <Button disabled={sculpting} onClick={onSculpt}>
        Sculpt again
      </Button>
      <Button disabled={sculpting} onClick={onMirror}>
        Mirror to the other side
      </Button>
      {children}
      <Button disabled={sculpting} onClick={() => void addStep({ op: "remove corrective", name })}>
        Remove
      </Button>
    </div>
  );
}
