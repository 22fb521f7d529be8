import { useMemo, type ReactNode } from "react";
import { facePlayer, channelsOfTake } from "~core/trials/takeMoment";
import { faceAt } from "~core/tracking/recordedFace";
import type { TakePiece } from "~core/trials/trial";
import { useSession } from "../../../session/session";

/** Places at which a take is read for its ribbon. */
const PLACES = 160;

/** A take in its lane: how much of its range it uses as a band about the middle, gaps where the face was lost. */
export function TakeRibbon({
  piece,
  x,
  top,
  bottom,
}: {
  piece: TakePiece;
  x: (t: number) => number;
  top: number;
  bottom: number;
}): ReactNode {
  const character = useSession((s) => s.loaded?.character ?? null);
  const { face, map } = piece;
  const used = useMemo(() => {
    if (!character) return [];
    const { mapper } = facePlayer(character, map, channelsOfTake(face));
    return Array.from({ length: PLACES + 1 }, (_, i) => {
      const t = (face.seconds * i) / PLACES;
      // the strongest shape and the mean of all: a smile is seen beside a blink
      const weights = mapper.weights(faceAt(face, t).values);
      let most = 0;
      for (const w of weights) most = Math.max(most, Math.abs(w));
      return [t, most] as const;
    });
  }, [character, face, map]);
  const at = (t: number): number => x(piece.start + (t - piece.from) / piece.speed);
  const heard = ([t]: readonly [number, number]): boolean => t >= piece.from - 1e-6 && t <= piece.to + 1e-6;
  const shown = used.filter(heard);
  if (shown.length === 0) return null;
  const middle = (top + bottom) / 2 + 3;
  const half = (bottom - top) / 2 - 5;
  const side = (way: 1 | -1): string[] =>
    shown.map(([t, v]) => `${at(t).toFixed(1)},${(middle - way * half * Math.min(1, v)).toFixed(1)}`);
  const lost = face.lost.filter(([a, b]) => b > piece.from && a < piece.to);
  return (
    <g pointerEvents="none">
      <polygon points={[...side(1), ...side(-1).reverse()].join(" ")} className="used" />
      {lost.map(([a, b]) => {
        const [from, to] = [at(Math.max(a, piece.from)), at(Math.min(b, piece.to))];
        return (
          <g key={a}>
            <rect x={from} width={Math.max(1.5, to - from)} y={top} height={bottom - top} className="lost" />
            <title>{`face lost, ${a.toFixed(2)} to ${b.toFixed(2)} s of the take`}</title>
          </g>
        );
      })}
    </g>
  );
}
