import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { ReactNode } from "react";
import type { Holding } from "~core/model/arrayBytes";
import { HeldMemory } from "./HeldMemory";

const KEYS: readonly (readonly [string, string])[] = [
  ["1 – 6", "go to a station"],
  ["U, Ctrl Z", "undo a step (a stroke while sculpting or painting, a landmark on a scan)"],
  ["Shift U, Ctrl Shift Z", "redo it"],
  ["Space", "play and pause, where something can be played"],
  [", .", "a frame back, a frame on"],
  ["F", "frame what is selected"],
  ["W", "wires on and off"],
  ["J", "joints on and off"],
  ["R", "back to the rest pose, all weights 0"],
  ["B held", "look at it without correctives"],
  ["arrow keys", "on a ribbon or number: change it; Shift for fine steps; Backspace resets"],
  ["Enter", "on a number: type it"],
  ["wheel", "on the stage: nearer and farther; over the skin while sculpting: brush radius"],
  ["Alt drag", "turn the view while sculpting"],
  ["Shift stroke", "inflate turns to deflate"],
  ["?", "this list"],
];

export interface HelpDialogProps {
  readonly open: boolean;
  readonly onClose: () => void;
  /** What the page keeps in memory. */
  readonly holdings: () => Promise<readonly Holding[]>;
}

export function HelpDialog({ open, onClose, holdings }: HelpDialogProps): ReactNode {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm">
      <DialogTitle sx={{ fontSize: 18, fontWeight: 650 }}>Keys and the way through</DialogTitle>
      <DialogContent>
        <p className="mt-0">
          The six stations follow the work: see what came, settle the skeleton, look at every shape, sculpt correctives
          in the pose, try the range of motion, hand off with a receipt. A number beside a station counts its open
          findings.
        </p>
        <table className="plain">
          <tbody>
            {KEYS.map(([key, what]) => (
              <tr key={key}>
                <td className="wide-150">
                  <kbd className="nowrap">{key}</kbd>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <HeldMemory holdings={holdings} />
      </DialogContent>
    </Dialog>
  );
}
