import { PROFILES } from "~core/checks/checkFacts";
import type { FaceMeasure } from "~core/measure/faceGauge";

const { limits } = PROFILES.realtime;

/** What is read of a face where shapes meet: its name, its limit and how a value is written. */
export const FACE_MEASURE_WORDS: Readonly<
  Record<FaceMeasure, { readonly name: string; readonly limit: number; readonly text: (v: number) => string }>
> = {
  lipCross: { name: "lips cross", limit: limits["face.lip-cross"] ?? 1, text: (v) => `${v.toFixed(2)} mm` },
  lidGap: { name: "eye left open", limit: limits["face.lid-gap"] ?? 0.3, text: (v) => `${v.toFixed(2)} mm` },
  teethThrough: {
    name: "teeth through skin",
    limit: limits["face.through-skin"] ?? 0.2,
    text: (v) => `${v.toFixed(2)} mm`,
  },
  tongueThrough: {
    name: "tongue through skin",
    limit: limits["face.through-skin"] ?? 0.2,
    text: (v) => `${v.toFixed(2)} mm`,
  },
  eyeThroughLid: {
    name: "eye through lid",
    limit: limits["face.eye-through-lid"] ?? 0.1,
    text: (v) => `${v.toFixed(2)} mm`,
  },
  stretch: { name: "stretch", limit: limits["pair.stretch"] ?? 3, text: (v) => `${v.toFixed(2)} ×` },
  flips: { name: "turned faces", limit: 0, text: (v) => String(v) },
};
