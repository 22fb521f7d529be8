import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { Changes, DeliveryComparison } from "~core/ledger/compareDeliveries";
import type { Outcome, ReplayedStep } from "~core/ledger/replay";
import type { DeliveryEntry } from "~server/services/deliveries";
import { ask, Refusal } from "../../session/ledgerClient";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { AddThings } from "./AddThings";
import { FileDrop } from "../FileDrop";
import { when } from "../handoff/Slip";

/** Later deliveries of the character: what changed, what the ledger made of each, and the way back. */
export function Deliveries(): ReactNode {
  const { character, deliveries, ledger, uploadLimitMb } = useCharacterPage();
  const { revalidate } = useRevalidator();
  return (
    <div className="sheet-body">
      <div style={{ padding: "12px 18px" }}>
        <FileDrop uploadLimitMb={uploadLimitMb} url={`/api/characters/${encodeURIComponent(character.id)}/deliveries`} label="Take in the next delivery" title={`Next delivery of ${character.name}`}
          hint={`It is compared with ${character.fileName}, and ${ledger.head === 1 ? "the step" : `the ${ledger.head} steps`} of the ledger run on it.`} working="Reading, comparing, replaying" refused="Not taken in" onDone={revalidate} />
      </div>
      <div style={{ padding: "0 18px 12px" }}><AddThings /></div>
      {deliveries.map((d, i) => <DeliveryRow key={d.id} entry={d} newest={i === 0} />)}
      <div className="row"><div className="row-line" style={{ cursor: "default" }}><span className="grow">First delivery: {deliveries.length ? deliveries[deliveries.length - 1]!.before : character.fileName}</span></div></div>
    </div>
  );
}

function DeliveryRow({ entry, newest }: { entry: DeliveryEntry; newest: boolean }): ReactNode {
  const { character, ledger } = useCharacterPage();
  const { revalidate } = useRevalidator();
  const [open, setOpen] = useState(newest);
  const [refusal, setRefusal] = useState("");
  const back = async (): Promise<void> => {
    try {
      await ask(`/api/characters/${encodeURIComponent(character.id)}/deliveries/${entry.id}?revision=${ledger.revision}`, { method: "DELETE" });
    } catch (error) {
      setRefusal(error instanceof Refusal ? (error.trouble === "conflict" ? "Another window changed this character meanwhile. Look at its change, then go back if it still should be." : error.message) : "That did not work.");
    }
    await revalidate();
  };
  const count = (outcome: Outcome): number => entry.replayed.filter((s) => s.outcome === outcome).length;
  const waits = count("waits");
  return (
    <section className={`row${open ? " open" : ""}`} aria-label={`Delivery ${entry.fileName}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <b className="grow" style={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{entry.fileName}</b>
        <span className="nowrap" style={waits ? { color: "var(--amber)" } : undefined}>{counted(count("applied"), "steps")} applied{waits ? `, ◆ ${waits} waiting` : ""}</span>
        <span className="mono muted nowrap">{when(entry.createdAt)}</span>
      </button>
      {open && (
        <div style={{ padding: "2px 18px 12px" }}>
          <ChangeList comparison={entry.comparison} />
          <StepList steps={entry.replayed} />
          {newest && <div className="line" style={{ marginTop: 8 }}><Button onClick={() => void back()}>Go back to {entry.before}</Button><span className="muted" style={{ fontSize: 12.5 }}>with the ledger as it was; steps made since are kept as a branch</span></div>}
          {refusal && <div className="refusal" role="alert">{refusal}</div>}
        </div>
      )}
    </section>
  );
}

/** What came, went and moved, as lines; nothing is said of what stayed. */
function ChangeList({ comparison }: { comparison: DeliveryComparison }): ReactNode {
  const store = useSessionStore();
  const shown = useSession((s) => s.moved);
  useEffect(() => () => store.setState({ moved: null }), [store]);
  const lines: string[] = [
    ...comparison.remeshed.map((m) => `${m.part}: ${m.before.toLocaleString("en")} vertices became ${m.after.toLocaleString("en")}`),
    ...(["parts", "joints", "shapes", "clips"] as const).flatMap((kind) => changeLines(kind, comparison[kind])),
    ...(comparison.reshaped.length ? [`${counted(comparison.reshaped.length, "shapes")} made otherwise: ${listed(comparison.reshaped)}`] : []),
  ];
  return (
    <>
      <p className="label" style={{ margin: "6px 0 2px" }}>Against the delivery before</p>
      {lines.length + comparison.moved.length === 0 && <p className="muted" style={{ margin: 0 }}>Nothing changed.</p>}
      <ul style={{ margin: 0, paddingLeft: 18, fontSize: 12.5 }}>
        {comparison.moved.map((m) => (
          <li key={m.part}>
            {m.part}: {counted(m.vertices, "vertices")} moved, up to {m.largestMm.toFixed(1)} mm{" "}
            {m.where && <Button aria-pressed={shown?.part === m.part} onClick={() => store.setState(shown?.part === m.part ? { moved: null, place: null } : { moved: { part: m.part, ...m.where! }, camera: null, place: { part: m.part, vertices: m.where!.vertices.slice(0, 1), least: 0.35 } })}>{shown?.part === m.part ? "Hide" : "Show where"}</Button>}
          </li>
        ))}
        {lines.map((l) => <li key={l}>{l}</li>)}
      </ul>
    </>
  );
}

const SHOWN = 4;
const listed = (names: readonly string[]): string => names.slice(0, SHOWN).join(", ") + (names.length > SHOWN ? ` and ${names.length - SHOWN} more` : "");
const changeLines = (kind: string, { came, went, renamed }: Changes): string[] => [
  ...(came.length ? [`${counted(came.length, kind)} came: ${listed(came)}`] : []),
  ...(went.length ? [`${counted(went.length, kind)} went: ${listed(went)}`] : []),
  ...(renamed.length ? [`${counted(renamed.length, kind)} renamed: ${listed(renamed.map((r) => `${r.from} to ${r.to}`))}`] : []),
];

const MARK: Readonly<Record<Outcome, { readonly glyph: string; readonly color: string }>> = {
  applied: { glyph: "✓", color: "var(--accent)" }, "not needed": { glyph: "○", color: "var(--muted)" }, waits: { glyph: "◆", color: "var(--amber)" },
};

function StepList({ steps }: { steps: readonly ReplayedStep[] }): ReactNode {
  if (steps.length === 0) return null;
  const order: readonly Outcome[] = ["waits", "applied", "not needed"];
  return (
    <>
      <p className="label" style={{ margin: "8px 0 2px" }}>What the ledger made of it</p>
      <table className="plain" style={{ fontSize: 12.5 }}>
        <tbody>
          {order.flatMap((outcome) => steps.map((s, i) => [s, i] as const).filter(([s]) => s.outcome === outcome)).map(([s, i]) => (
            <tr key={i}>
              <td style={{ color: MARK[s.outcome].color, whiteSpace: "nowrap", width: 92 }}>{MARK[s.outcome].glyph} {s.outcome}</td>
              <td style={{ overflowWrap: "anywhere" }}>{s.sentence}{s.note && <div className="muted">{s.note}</div>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
