import type { Finding } from "~core/checks/finding";
import type { SessionStore } from "./session";

function framingOf({ joint, shape, part }: Finding, now: string): string {
  if (joint) return `joint ${joint}`;
  if (shape) return "face";
  return part ? now : "whole";
}

/** Brings the stage to a finding: its vertices, its joint, its shape at full. */
export function showFinding(store: SessionStore, f: Finding): void {
  store.setState((s) => ({
    camera: null,
    weights: f.shape ? { [f.shape]: 1 } : s.weights,
    joint: f.joint ?? s.joint,
    joints: f.joint ? true : s.joints,
    framing: framingOf(f, s.framing),
    place: f.part && f.vertices.length ? { part: f.part, vertices: f.vertices } : null,
  }));
}
