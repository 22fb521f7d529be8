import { makeRig } from "../deform/rig";
import { weightsAt } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { lipOpening, lipToTeeth, makeOpeningGauge } from "../measure/openings";
import type { Character } from "../model/character";
import { coverage } from "../shapes/coverage/coverage";

export type Weights = Readonly<Record<string, number>>;

/** What each viseme is made of on a character, by its number. */
export interface VisemeFace {
  readonly viseme: number;
  readonly sounds: string;
  readonly weights: Weights;
  readonly from: "shape" | "mix" | "start" | "missing";
}

/** Shapes first, then a mix of the character's, then what its action units can make. */
export const visemeFaces = (character: Character): VisemeFace[] =>
  coverage(character)
    .filter((item) => item.system === "visemes")
    .map((item, i): VisemeFace => {
      const shares = item.mix?.shares ?? item.start?.shares;
      const weights = item.shapes.length
        ? Object.fromEntries(item.shapes.map((s) => [s, 1]))
        : Object.fromEntries((shares ?? []).map((s) => [s.shape, s.weight]));
      const mixed = item.mix ? "mix" : item.start ? "start" : "missing";
      const from = item.shapes.length ? "shape" : mixed;
      return { viseme: i + 1, sounds: item.says, weights, from };
    });

/** Reads a mouth at any weights of shapes, the head at rest. Metres. */
export interface MouthReader {
  /** Height of the opening between the lips. */
  readonly gap: (weights: Weights) => number;
  /** From the lower lip to the upper teeth; null where there are none. */
  readonly toTeeth: (weights: Weights) => number | null;
}

/** Null for a figure without lips. */
export function makeMouthReader(character: Character): MouthReader | null {
  const gauge = makeOpeningGauge(makeRig(character));
  if (!gauge?.lips) return null;
  const parts = [gauge.body, ...(gauge.upperTeeth ? [gauge.upperTeeth.part] : [])];
  const room = character.parts.map((p, i) => (parts.includes(i) ? p.positions.slice() : p.positions));
  const place = (weights: Weights): Float32Array[] => {
    // combinations act as on the stage; nothing is bent, so that no corrective does
    const all = weightsAt(character, { ...REST_MOMENT, weights });
    for (const p of parts) room[p]!.set(character.parts[p]!.positions);
    character.shapes.forEach(({ deltas }, s) => {
      const w = all[s]!;
      if (w === 0) return;
      for (const d of deltas) {
        if (!parts.includes(d.part)) continue;
        const P = room[d.part]!;
        for (let k = 0; k < d.vertices.length; k++)
          for (let c = 0; c < 3; c++) P[3 * d.vertices[k]! + c]! += w * d.deltas[3 * k + c]!;
      }
    });
    return room;
  };
  return {
    gap: (weights) => lipOpening(gauge, place(weights)),
    toTeeth: (weights) => lipToTeeth(gauge, place(weights)),
  };
}
