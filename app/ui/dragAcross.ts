import type { PointerEvent } from "react";

/** Handlers of a strip that is pressed or dragged across: tells the place as a share 0..1 of its width. */
export function dragAcross(pick: (share: number) => void): {
  onPointerDown: (e: PointerEvent<HTMLElement>) => void;
  onPointerMove: (e: PointerEvent<HTMLElement>) => void;
} {
  const tell = (e: PointerEvent<HTMLElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    pick(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)));
  };
  return {
    onPointerDown: (e) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      tell(e);
    },
    onPointerMove: (e) => {
      if (e.currentTarget.hasPointerCapture(e.pointerId)) tell(e);
    },
  };
}
