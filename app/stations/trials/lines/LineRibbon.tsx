import { useEffect, useMemo, useRef, useState, type PointerEvent, type ReactNode } from "react";
import { withEdit, withHand } from "~core/speech/handEdits";
import { isSealed, SILENCE, type Phone } from "~core/speech/phones";
import type { SpeechScore } from "~core/speech/scoreLine";
import { shownLine } from "~core/trials/spokenLines";
import type { LinePiece, Trial } from "~core/trials/trial";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { soundBuffer } from "../../../session/speech";

/** Room that a letter of a phone takes, pixels. */
const LETTER = 6.6;
/** Phones narrower than this have no border to be seen, pixels. */
const NARROW = 4;
/** Columns of a sound's outline at most. */
const COLUMNS = 400;

/** Loudness of a sound over its columns, 0..1; null while it is fetched or where there is none. */
function useOutline(hash: string | null): Float32Array | null {
  const [outline, setOutline] = useState<{ hash: string; values: Float32Array } | null>(null);
  useEffect(() => {
    if (!hash) return undefined;
    let here = true;
    void soundBuffer(hash).then((buffer) => {
      if (!here || !buffer) return;
      const samples = buffer.getChannelData(0);
      const values = new Float32Array(COLUMNS);
      for (let c = 0; c < COLUMNS; c++) {
        const [a, b] = [c, c + 1].map((k) => Math.floor((k * samples.length) / COLUMNS)) as [number, number];
        for (let i = a; i < b; i += 4) values[c] = Math.max(values[c]!, Math.abs(samples[i]!));
      }
      const most = values.reduce((m, v) => Math.max(m, v), 1e-6);
      setOutline({ hash, values: values.map((v) => v / most) });
    });
    return () => {
      here = false;
    };
  }, [hash]);
  return outline?.hash === hash ? outline.values : null;
}

/**
 * A spoken line in its lane: the sound's outline behind, words over phones between hairlines, a ring at each p, b, m:
 * closed where the lips are measured shut, open where they are not. Borders of a line that is chosen can be dragged.
 */
export function LineRibbon({
  piece,
  trial,
  x,
  top,
  bottom,
  scale,
  chosen,
}: {
  piece: LinePiece;
  trial: Trial;
  x: (t: number) => number;
  top: number;
  bottom: number;
  /** Seconds a pixel. */
  scale: number;
  chosen: boolean;
}): ReactNode {
  const character = useSession((s) => s.loaded?.character ?? null);
  useSession((s) => s.spokenLines);
  const { line } = useMemo(() => withHand(piece.line, piece.hand), [piece.line, piece.hand]);
  const outline = useOutline(piece.sound);
  const spoken = character && shownLine(character, trial, piece);
  const unmet = new Set(spoken?.scores.filter((s) => s.check === "speech.closure" && !s.met).map(keyOf) ?? []);
  const at = (t: number): number => x(piece.start + (t - piece.from) / piece.speed);
  const heard = (t: number): boolean => t >= piece.from - 1e-6 && t <= piece.to + 1e-6;
  const middle = (top + bottom) / 2;
  return (
    <g>
      <g pointerEvents="none">
        {outline && (
          <Outline outline={outline} from={at(0)} to={at(line.seconds)} middle={middle} height={bottom - top} />
        )}
        {line.words
          .filter((w) => heard((w.from + w.to) / 2))
          .map((w) => (
            <svg key={w.from} x={at(w.from)} y={top} width={Math.max(0, at(w.to) - at(w.from) - 2)} height={15}>
              <text x={1} y={11} className={w.guess ? "word guess" : "word"}>
                {w.text}
              </text>
            </svg>
          ))}
        {line.phones.map((p, i) => {
          if (!heard((p.from + p.to) / 2)) return null;
          const [a, b] = [at(p.from), at(p.to)];
          const fits = p.phone !== SILENCE && b - a > LETTER * p.phone.length;
          const hand = piece.hand.length > 0 && piece.line.phones[i]?.phone !== p.phone;
          return (
            <g key={p.from}>
              {b - a > NARROW && <line x1={a} x2={a} y1={top + 15} y2={bottom} className="border" />}
              {fits && (
                <text x={(a + b) / 2} y={bottom - 3} textAnchor="middle" className={hand ? "phone by-hand" : "phone"}>
                  {p.phone}
                </text>
              )}
              {isSealed(p.phone) && (
                <circle
                  cx={(a + b) / 2}
                  cy={middle + 1}
                  r={3}
                  className={unmet.has(keyOf({ at: (p.from + p.to) / 2 })) ? "closure missed" : "closure"}>
                  <title>{unmet.has(keyOf({ at: (p.from + p.to) / 2 })) ? "lips stay apart" : "lips shut"}</title>
                </circle>
              )}
            </g>
          );
        })}
      </g>
      {chosen && <Borders piece={piece} phones={line.phones} at={at} top={top + 15} bottom={bottom} scale={scale} />}
    </g>
  );
}

const keyOf = ({ at }: Pick<SpeechScore, "at">): string => at.toFixed(3);

function Outline({
  outline,
  from,
  to,
  middle,
  height,
}: {
  outline: Float32Array;
  from: number;
  to: number;
  middle: number;
  height: number;
}): ReactNode {
  const px = (c: number): string => (from + ((to - from) * c) / outline.length).toFixed(1);
  const half = height / 2 - 1;
  const upper = Array.from(outline, (v, c) => `${px(c)},${(middle - half * v).toFixed(1)}`);
  const lower = Array.from(outline, (v, c) => `${px(c)},${(middle + half * v).toFixed(1)}`).reverse();
  return <polygon points={[...upper, ...lower].join(" ")} className="sound" />;
}

/** Handles on the borders between phones: what is dragged is kept as a change by hand. */
function Borders({
  piece,
  phones,
  at,
  top,
  bottom,
  scale,
}: {
  piece: LinePiece;
  phones: readonly Phone[];
  at: (t: number) => number;
  top: number;
  bottom: number;
  scale: number;
}): ReactNode {
  const store = useSessionStore();
  const drag = useRef<{ x: number; index: number; start: number; begun: boolean } | null>(null);
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    e.stopPropagation();
    const made = piece.line.phones[d.index]!.from;
    const by = d.start + (e.clientX - d.x) * scale * piece.speed - made;
    const hand = withEdit(piece.hand, piece.line, d.index, { begins: Math.round(1000 * by) / 1000 });
    changePiece(store, piece.id, { hand } as Partial<LinePiece>, d.begun);
    d.begun = true;
  };
  return phones.slice(1).map((p, k) => (
    <rect
      key={k}
      x={at(p.from) - 3}
      y={top}
      width={6}
      height={bottom - top}
      className="end"
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, index: k + 1, start: p.from, begun: false };
      }}
      onPointerMove={move}
      onPointerUp={() => (drag.current = null)}>
      <title>{`${phones[k]!.phone} | ${p.phone} at ${p.from.toFixed(3)} s`}</title>
    </rect>
  ));
}
