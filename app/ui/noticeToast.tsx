import Button from "@mui/material/Button";
import type { OptionsObject } from "notistack";

/** A toast that only tells: it is said politely, and interrupts nothing that is read aloud. */
export const noticeToast = (text: string): OptionsObject => ({
  content: () => (
    <div className="notice-toast" role="status">
      {text}
    </div>
  ),
});

/** Long enough to be read and thought about, ms. */
const TIME_TO_UNDO = 20_000;

/** A toast that tells what was done, and takes it back. */
export const undoToast = (text: string, onUndo: () => void): OptionsObject => ({
  autoHideDuration: TIME_TO_UNDO,
  content: () => (
    <div className="notice-toast line" role="status">
      {text}
      <Button color="inherit" variant="outlined" onClick={onUndo}>
        Take it back
      </Button>
    </div>
  ),
});
