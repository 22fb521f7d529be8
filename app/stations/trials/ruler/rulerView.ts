import type { KeyboardEvent, PointerEvent, WheelEvent } from "react";
import { trialSeconds, type Trial } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { selectPiece, setSeen } from "../../../session/slices/trial";

/** Pixels: above the watch line, its height, that of the marks under it, and beside the lanes. */
export const TOP = 20;
export const LINE = 9;
export const MARKS = 9;
export const LEFT = 46;
export const RIGHT = 24;

/** What of a trial the ruler shows, and the hand on it. */
export interface RulerView {
  /** Length of the trial, seconds; and the stretch that is seen. */
  readonly all: number;
  readonly first: number;
  readonly last: number;
  /** Seconds a pixel. */
  readonly scale: number;
  /** Where a time is, pixels. */
  readonly x: (t: number) => number;
  readonly ticks: readonly number[];
  readonly onKeyDown: (e: KeyboardEvent) => void;
  readonly onPointerDown: (e: PointerEvent<SVGSVGElement>) => void;
  readonly onPointerMove: (e: PointerEvent<SVGSVGElement>) => void;
  readonly onWheel: (e: WheelEvent<SVGSVGElement>) => void;
}

/** Seconds between the ticks of the ruler, so that they stand at least so far apart. */
function tickStep(seconds: number, pixels: number): number {
  const least = (seconds * 56) / Math.max(1, pixels);
  return [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300].find((s) => s >= least) ?? 600;
}

function ticksIn(first: number, last: number, step: number): number[] {
  const from = Math.ceil(first / step - 1e-6);
  return Array.from({ length: Math.floor(last / step + 1e-6) - from + 1 }, (_, i) => (from + i) * step);
}

/** @param width of the ruler, pixels. */
export function useRulerView(trial: Trial, width: number): RulerView {
  const store = useSessionStore();
  const player = playerOf(store);
  const seen = useSession((s) => s.seen);
  const all = Math.max(0.5, trialSeconds(trial));
  const [first, last] = seen && seen[0] < all ? [seen[0], Math.min(seen[1], all)] : [0, all];
  const seconds = last - first;
  const long = width - LEFT - RIGHT;
  const at = (e: PointerEvent<SVGSVGElement> | WheelEvent<SVGSVGElement>): number => {
    const r = e.currentTarget.getBoundingClientRect();
    return Math.min(last, Math.max(first, first + ((e.clientX - r.left - LEFT) / long) * seconds));
  };
  /** Nearer or farther about the needle, or about a place. */
  const zoom = (by: number, about = store.getState().playback.seconds): void => {
    const now = Math.min(all, Math.max(0.4, seconds * by));
    if (now >= all) return setSeen(store, null);
    const middle = about >= first && about <= last ? about : (first + last) / 2;
    const from = Math.min(all - now, Math.max(0, middle - ((middle - first) / seconds) * now));
    setSeen(store, [from, from + now]);
  };
  return {
    all,
    first,
    last,
    scale: seconds / long,
    x: (t) => LEFT + ((t - first) / seconds) * long,
    ticks: ticksIn(first, last, tickStep(seconds, long)),
    onKeyDown: useRulerKeys(all, zoom),
    onPointerDown: (e) => {
      if ((e.target as Element).closest("[data-piece]")) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      selectPiece(store, null);
      player.pause();
      player.seek(at(e));
    },
    onPointerMove: (e) => {
      if (e.currentTarget.hasPointerCapture(e.pointerId)) player.seek(at(e));
    },
    onWheel: (e) => {
      if (e.ctrlKey || e.metaKey) zoom(e.deltaY < 0 ? 0.8 : 1.25, at(e));
      else if (seen && e.deltaX + e.deltaY !== 0) {
        const by = Math.min(all - last, Math.max(-first, ((e.deltaX + e.deltaY) / long) * seconds));
        setSeen(store, [first + by, last + by]);
      }
    },
  };
}

function useRulerKeys(all: number, zoom: (by: number) => void): (e: KeyboardEvent) => void {
  const store = useSessionStore();
  const player = playerOf(store);
  const loop = useSession((s) => s.playback.loop);
  return (e) => {
    const now = store.getState().playback.seconds;
    if (e.key === "[") player.setLoop([now, Math.max(now + 0.1, loop?.[1] ?? all)]);
    else if (e.key === "]") player.setLoop([Math.min(loop?.[0] ?? 0, now - 0.1), now]);
    else if (e.key === "Escape") player.setLoop(null);
    else if (e.key === "ArrowLeft") player.step(e.shiftKey ? -10 : -1);
    else if (e.key === "ArrowRight") player.step(e.shiftKey ? 10 : 1);
    else if (e.key === "Home") player.seek(0);
    else if (e.key === "End") player.seek(all);
    else if (e.key === "+" || e.key === "=") zoom(0.6);
    else if (e.key === "-") zoom(1 / 0.6);
    else if (e.key === "0") setSeen(store, null);
    else return;
    e.preventDefault();
  };
}
