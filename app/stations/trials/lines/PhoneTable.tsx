import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState, type ReactNode } from "react";
import { placesOf, withEdit } from "~core/speech/handEdits";
import { PHONES, SILENCE, visemeOf, type SpokenLine } from "~core/speech/phones";
import type { LinePiece } from "~core/trials/trial";
import { onRuler } from "~core/trials/spokenLines";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { ScrubChange } from "../../../ui/ScrubChange";

type Change = Parameters<typeof withEdit>[3];

/** The phones of a line, each to be changed by hand: what it is, when it begins, how much of its viseme it does. */
export function PhoneTable({ piece, line }: { piece: LinePiece; line: SpokenLine }): ReactNode {
  const store = useSessionStore();
  const [all, setAll] = useState(false);
  const seconds = useSession((s) => s.playback.seconds);
  const own = piece.from + (seconds - piece.start) * piece.speed;
  const at = line.phones.findIndex((p) => own >= p.from && own < p.to);
  // those about the needle, or all of them
  const shown = line.phones.map((_, i) => i).filter((i) => all || (at >= 0 ? Math.abs(i - at) <= 2 : i < 5));
  const edit = (index: number, change: Change, same = false): void =>
    changePiece(store, piece.id, { hand: withEdit(piece.hand, piece.line, index, change) } as Partial<LinePiece>, same);
  return (
    <>
      <PhoneHead piece={piece} line={line} all={all} onAll={setAll} />
      <table className="phones" aria-label="Phones">
        <thead>
          <tr>
            <th>word</th>
            <th>phone</th>
            <th>begins</th>
            <th>long</th>
            <th>viseme</th>
            <th>amount</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((i) => {
            return <PhoneRow key={i} piece={piece} line={line} i={i} now={i === at} edit={edit} />;
          })}
        </tbody>
      </table>
    </>
  );
}

interface PhoneHeadProps {
  readonly piece: LinePiece;
  readonly line: SpokenLine;
  readonly all: boolean;
  readonly onAll: (all: boolean) => void;
}
function PhoneHead({ piece, line, all, onAll }: PhoneHeadProps): ReactNode {
  const store = useSessionStore();
  return (
    <div className="line t-small mt-4">
      <span className="muted">
        {line.phones.length} phones{piece.hand.length ? `, ${piece.hand.length} changed by hand` : ""}
      </span>
      <Button onClick={() => onAll(!all)}>{all ? "Those about the needle" : "All of them"}</Button>
      {piece.hand.length > 0 && (
        <Button onClick={() => changePiece(store, piece.id, { hand: [] } as Partial<LinePiece>)}>
          As they were made
        </Button>
      )}
    </div>
  );
}

interface PhoneRowProps {
  readonly piece: LinePiece;
  readonly line: SpokenLine;
  readonly i: number;
  readonly now: boolean;
  readonly edit: (index: number, change: Change, same?: boolean) => void;
}
/** A phone: what it is, when it begins, how much of its viseme it does. */
function PhoneRow({ piece, line, i, now, edit }: PhoneRowProps): ReactNode {
  const store = useSessionStore();
  const p = line.phones[i]!;
  const place = placesOf(piece.line)[i]!;
  const first = place.word >= 0 && place.phone === 0;
  const was = piece.line.phones[i]!;
  const begins = Math.round(1000 * p.from) / 1000;
  return (
    <tr className={now ? "now" : undefined}>
      <td className="nowrap">
        <button
          type="button"
          className="plain"
          onClick={() => playerOf(store).seek(onRuler(piece, (p.from + p.to) / 2))}>
          {first ? piece.line.words[place.word]!.text : p.phone === SILENCE ? "–" : "·"}
        </button>
      </td>
      <td>
        <Select
          variant="standard"
          disableUnderline
          value={p.phone}
          onChange={(e) => edit(i, { as: e.target.value })}
          inputProps={{ "aria-label": `Phone ${i + 1}` }}
          className="mono"
          sx={was.phone === p.phone ? {} : { color: "var(--accent)" }}>
          {PHONES.map((name) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </Select>
      </td>
      <td>
        <ScrubChange
          label={`Phone ${i + 1} begins`}
          value={begins}
          min={0}
          max={line.seconds}
          step={0.002}
          digits={3}
          unit=" s"
          start={was.from}
          onSet={(v, same) => edit(i, { begins: v - was.from }, same)}
        />
      </td>
      <td className="mono muted nowrap">{Math.round(1000 * (p.to - p.from))} ms</td>
      <td className="mono muted">{visemeOf(p.phone) || "–"}</td>
      <td>
        {p.phone !== SILENCE && (
          <ScrubChange
            label={`Amount of phone ${i + 1}`}
            value={p.amount ?? 1}
            min={0}
            max={1.5}
            step={0.01}
            start={1}
            onSet={(amount, same) => edit(i, { amount }, same)}
          />
        )}
      </td>
    </tr>
  );
}
