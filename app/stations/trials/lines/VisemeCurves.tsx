import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useMemo, useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { visemesAt } from "~core/speech/dominance";
import { segmentsOf, type SpokenLine } from "~core/speech/phones";
import type { Spoken } from "~core/speech/speak";
import { valueAt } from "~core/trials/keyCurve";
import { onRuler } from "~core/trials/spokenLines";
import type { LinePiece } from "~core/trials/trial";
import { withAdded, withoutAdded } from "~core/trials/visemeKeys";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { CurveChart } from "../../../ui/CurveChart";
import { ScrubChange } from "../../../ui/ScrubChange";

/** Places at which a curve is drawn. */
const SAMPLES = 160;

/** The curve of a viseme over a line, as it is made and with what was added by hand at the needle. */
export function VisemeCurves({
  piece,
  line,
  spoken,
}: {
  piece: LinePiece;
  line: SpokenLine;
  spoken: Spoken;
}): ReactNode {
  const store = useSessionStore();
  const seconds = useSession((s) => s.playback.seconds);
  const [chosen, setChosen] = useState<number | null>(null);
  const viseme = chosen ?? spoken.faces[0]?.viseme ?? 1;
  const own = Math.min(line.seconds, Math.max(0, piece.from + (seconds - piece.start) * piece.speed));
  const segments = useMemo(() => segmentsOf(line.phones, piece.manner), [line, piece.manner]);
  const made = (t: number): number => visemesAt(segments, t, piece.manner).get(viseme) ?? 0;
  const curve = piece.curves[viseme];
  const added = (t: number): number => (curve ? valueAt(curve, 1, t)[0]! : 0);
  const points = useMemo(
    () =>
      Array.from({ length: SAMPLES + 1 }, (_, i) => Math.round((1000 * line.seconds * i) / SAMPLES) / 1000).map(
        (x) => ({ x, made: visemesAt(segments, x, piece.manner).get(viseme) ?? 0 }),
      ),
    [line, segments, piece.manner, viseme],
  );
  const set = (next: LinePiece["curves"], same = false): void =>
    changePiece(store, piece.id, { curves: next } as Partial<LinePiece>, same);
  const without = (t: number): void => {
    const { [viseme]: gone, ...others } = piece.curves;
    const less = gone && withoutAdded(gone, t);
    set(less ? { ...others, [viseme]: less } : others);
  };
  const seek = (t: number): void => playerOf(store).seek(onRuler(piece, t));
  const keys = curve?.times.flatMap((t, k) => (curve.values[k] ? [{ t, value: curve.values[k]! }] : [])) ?? [];
  return (
    <div className="mt-4">
      <div className="line t-small">
        <span className="muted">curve of viseme</span>
        <VisemePick spoken={spoken} curves={piece.curves} viseme={viseme} onChoose={setChosen} />
        <span className="muted">at the needle</span>
        <ScrubChange
          label="Weight of the viseme at the needle"
          value={Math.max(0, made(own) + added(own))}
          min={0}
          max={1.5}
          step={0.01}
          start={made(own)}
          onSet={(v, same) =>
            set({ ...piece.curves, [viseme]: withAdded(curve, own, Math.round(1000 * (v - made(own))) / 1000) }, same)
          }
        />
      </div>
      <div className="key-chart">
        <CurveChart
          label="Weight against time"
          xUnit=" s"
          yUnit=""
          limit={null}
          at={own}
          onPick={seek}
          curves={[
            { name: "as it is made", tone: "plain", points: points.map(({ x, made: y }) => ({ x, y })) },
            ...(curve
              ? [
                  {
                    name: "by hand",
                    tone: "accent" as const,
                    points: points.map(({ x, made: y }) => ({ x, y: Math.max(0, y + added(x)) })),
                  },
                ]
              : []),
          ]}
        />
      </div>
      {keys.length > 0 && <AddedKeys keys={keys} seek={seek} without={without} />}
    </div>
  );
}

interface VisemePickProps {
  readonly spoken: Spoken;
  readonly curves: LinePiece["curves"];
  readonly viseme: number;
  readonly onChoose: (viseme: number) => void;
}
function VisemePick({ spoken, curves, viseme, onChoose }: VisemePickProps): ReactNode {
  return (
    <SmallSelect label="Viseme whose curve is shown" value={viseme} onChange={onChoose} size={13}>
      {spoken.faces.map((f) => (
        <MenuItem key={f.viseme} value={f.viseme}>
          {f.viseme}: {f.sounds}
          {curves[f.viseme] ? " (by hand)" : ""}
        </MenuItem>
      ))}
    </SmallSelect>
  );
}

interface AddedKeysProps {
  readonly keys: readonly { readonly t: number; readonly value: number }[];
  readonly seek: (t: number) => void;
  readonly without: (t: number) => void;
}
/** What was added by hand, and where. */
function AddedKeys({ keys, seek, without }: AddedKeysProps): ReactNode {
  return (
    <div className="line t-small">
      {keys.map(({ t, value }) => (
        <span key={t} className="line one-row">
          <button type="button" className="plain mono" onClick={() => seek(t)}>
            {value > 0 ? "+" : ""}
            {value.toFixed(2)} at {t.toFixed(2)} s
          </button>
          <Button aria-label={`Take away what was added at ${t.toFixed(2)} s`} onClick={() => without(t)}>
            Take away
          </Button>
        </span>
      ))}
    </div>
  );
}
