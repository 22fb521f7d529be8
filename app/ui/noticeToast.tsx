import type { OptionsObject } from "notistack";

/** A toast that only tells: it is said politely, and interrupts nothing that is read aloud. */
export const noticeToast = (text: string): OptionsObject => ({
  content: () => (
    <div className="notice-toast" role="status">
      {text}
    </div>
  ),
});
