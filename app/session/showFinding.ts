import type { Finding } from "~core/checks/finding";
import type { SessionStore } from "./session";

/** Brings the stage to a finding: its vertices, its joint, its shape at full. */
export function showFinding(store: SessionStore, f: Finding): void {
  store.setState((s) => ({
    camera: null,
    weights: f.shape ? { [f.shape]: 1 } : s.weights,
    joint: f.joint ?? s.joint,
    joints: f.joint ? true : s.joints,
    framing: f.joint ? `joint ${f.joint}` : f.shape ? "face" : f.part ? s.framing : "whole",
    place: f.part && f.vertices.length ? { part: f.part, vertices: f.vertices } : null,
  }));
}
