import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { NameSelect } from "../../ui/NameSelect";
import { useRevalidator } from "react-router";
import type { Changes, DeliveryComparison } from "~core/ledger/compareDeliveries";
import { aimedStep, missingIn, type MissingName, type Outcome, type ReplayedStep } from "~core/ledger/replay";
import type { DeliveryEntry } from "~server/services/deliveries";
import { ask, Refusal } from "../../session/ledgerClient";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { AddThings } from "../AddThings";
import { FileDrop } from "../FileDrop";
import { when } from "../handoff/Slip";
import { showMoved, showPlace } from "../../session/slices/selection";
import { lookAt } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

/** Later deliveries of the character: what changed, what the ledger made of each, and the way back. */
export function Deliveries(): ReactNode {
  const { character, deliveries, ledger, uploadLimitMb } = useCharacterPage();
  const { revalidate } = useRevalidator();
  return (
    <div className="sheet-body">
      <div className="p-12-18">
        <FileDrop
          uploadLimitMb={uploadLimitMb}
          url={`/api/characters/${encodeURIComponent(character.id)}/deliveries`}
          label="Take in the next delivery"
          title={`Next delivery of ${character.name}`}
          hint={
            `It is compared with ${character.fileName}, and ` +
            `${ledger.head === 1 ? "the step" : `the ${ledger.head} steps`} of the ledger run on it.`
          }
          working="Reading, comparing, replaying"
          refused="Not taken in"
          onDone={revalidate}
        />
      </div>
      <div className="p-0-18-12">
        <AddThings />
      </div>
      {deliveries.map((d, i) => (
        <DeliveryRow key={d.id} entry={d} newest={i === 0} />
      ))}
      <div className="row">
        <div className="row-line cursor-default">
          <span className="grow">
            First delivery: {deliveries.length ? deliveries[deliveries.length - 1]!.before : character.fileName}
          </span>
        </div>
      </div>
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
      await ask(
        `/api/characters/${encodeURIComponent(character.id)}/deliveries/${entry.id}?revision=${ledger.revision}`,
        { method: "DELETE" },
      );
    } catch (error) {
      setRefusal(
        error instanceof Refusal
          ? error.trouble === "conflict"
            ? "Another window changed this character meanwhile. Look at its change, then go back if it still should be."
            : error.message
          : "That did not work.",
      );
    }
    await revalidate();
  };
  const count = (outcome: Outcome): number => entry.replayed.filter((s) => s.outcome === outcome).length;
  const waits = count("waits");
  return (
    <section className={`row${open ? " open" : ""}`} aria-label={`Delivery ${entry.fileName}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <b className="grow over-hidden ellipsis nowrap">{entry.fileName}</b>
        <span className="nowrap" style={waits ? { color: "var(--amber)" } : undefined}>
          {counted(count("applied"), "steps")} applied{waits ? `, ◆ ${waits} waiting` : ""}
        </span>
        <span className="mono muted nowrap">{when(entry.createdAt)}</span>
      </button>
      {open && (
        <div className="p-2-18-12">
          <ChangeList comparison={entry.comparison} />
          <StepList steps={entry.replayed} delivery={entry.id} newest={newest} />
          {newest && (
            <div className="line mt-8">
              <Button onClick={() => void back()}>Go back to {entry.before}</Button>
              <span className="muted t-small">with the ledger as it was; steps made since are kept as a branch</span>
            </div>
          )}
          <Refused why={refusal} />
        </div>
      )}
    </section>
  );
}

/** What came, went and moved, as lines; nothing is said of what stayed. */
function ChangeList({ comparison }: { comparison: DeliveryComparison }): ReactNode {
  const store = useSessionStore();
  const shown = useSession((s) => s.moved);
  useEffect(() => () => showMoved(store, null), [store]);
  const lines: string[] = [
    ...comparison.remeshed.map(
      (m) => `${m.part}: ${m.before.toLocaleString("en")} vertices became ${m.after.toLocaleString("en")}`,
    ),
    ...(["parts", "joints", "shapes", "clips"] as const).flatMap((kind) => changeLines(kind, comparison[kind])),
    ...(comparison.reshaped.length
      ? [`${counted(comparison.reshaped.length, "shapes")} made otherwise: ${listed(comparison.reshaped)}`]
      : []),
  ];
  return (
    <>
      <p className="label m-6-0-2">Against the delivery before</p>
      {lines.length + comparison.moved.length === 0 && <p className="muted m-0">Nothing changed.</p>}
      <ul className="m-0 pl-18 t-small">
        {comparison.moved.map((m) => (
          <li key={m.part}>
            {m.part}: {counted(m.vertices, "vertices")} moved, up to {m.largestMm.toFixed(1)} mm{" "}
            {m.where && (
              <Button
                aria-pressed={shown?.part === m.part}
                onClick={() => {
                  const on = shown?.part !== m.part;
                  showMoved(store, on ? { part: m.part, ...m.where! } : null);
                  if (on) showPlace(store, { part: m.part, vertices: m.where!.vertices.slice(0, 1), least: 0.35 });
                  else lookAt(store, {});
                }}>
                {shown?.part === m.part ? "Hide" : "Show where"}
              </Button>
            )}
          </li>
        ))}
        {lines.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
    </>
  );
}

const SHOWN = 4;
const listed = (names: readonly string[]): string =>
  names.slice(0, SHOWN).join(", ") + (names.length > SHOWN ? ` and ${names.length - SHOWN} more` : "");
const changeLines = (kind: string, { came, went, renamed }: Changes): string[] => [
  ...(came.length ? [`${counted(came.length, kind)} came: ${listed(came)}`] : []),
  ...(went.length ? [`${counted(went.length, kind)} went: ${listed(went)}`] : []),
  ...(renamed.length
    ? [`${counted(renamed.length, kind)} renamed: ${listed(renamed.map((r) => `${r.from} to ${r.to}`))}`]
    : []),
];

const MARK: Readonly<Record<Outcome, { readonly glyph: string; readonly color: string }>> = {
  applied: { glyph: "✓", color: "var(--accent)" },
  "applied later": { glyph: "✓", color: "var(--accent)" },
  "not needed": { glyph: "○", color: "var(--muted)" },
  dropped: { glyph: "○", color: "var(--muted)" },
  waits: { glyph: "◆", color: "var(--amber)" },
};
const ORDER: readonly Outcome[] = ["waits", "applied later", "applied", "dropped", "not needed"];

function StepList({
  steps,
  delivery,
  newest,
}: {
  steps: readonly ReplayedStep[];
  delivery: number;
  newest: boolean;
}): ReactNode {
  if (steps.length === 0) return null;
  return (
    <>
      <p className="label m-8-0-2">What the ledger made of it</p>
      <table className="plain t-small">
        <tbody>
          {ORDER.flatMap((outcome) => steps.map((s, i) => [s, i] as const).filter(([s]) => s.outcome === outcome)).map(
            ([s, i]) => (
              <tr key={i}>
                <td style={{ color: MARK[s.outcome].color, whiteSpace: "nowrap", width: 92, verticalAlign: "top" }}>
                  {MARK[s.outcome].glyph} {s.outcome}
                </td>
                <td className="break-words">
                  {s.sentence}
                  {s.note && <div className="muted">{s.note}</div>}
                  {s.outcome === "waits" && newest && <WaitingStep step={s.step} delivery={delivery} index={i} />}
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
    </>
  );
}

const KIND_WORDS: Readonly<Record<MissingName["kind"], string>> = {
  part: "part",
  joint: "joint",
  shape: "shape",
  clip: "clip",
};

/** A step that waits: aimed at something else of the character, tried again as it is, or dropped. */
function WaitingStep({
  step,
  delivery,
  index,
}: {
  step: ReplayedStep["step"];
  delivery: number;
  index: number;
}): ReactNode {
  const { character } = useCharacterPage();
  const { revalidate } = useRevalidator();
  const { addStep } = useDesk();
  const loaded = useSession((s) => s.loaded);
  const [aims, setAims] = useState<Readonly<Record<string, string>>>({});
  const [busy, setBusy] = useState(false);
  const [refusal, setRefusal] = useState("");
  const missing = loaded ? missingIn(step, loaded.character) : [];
  const settle = async (outcome: "applied later" | "dropped"): Promise<void> => {
    try {
      await ask(`/api/characters/${encodeURIComponent(character.id)}/deliveries/${delivery}/waiting/${index}`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ outcome }),
      });
    } catch (error) {
      setRefusal(error instanceof Refusal ? error.message : "That did not work.");
    }
    await revalidate();
  };
  const again = async (): Promise<void> => {
    setBusy(true);
    if (await addStep(aimedStep(step, aims))) await settle("applied later");
    setBusy(false);
  };
  const there = (kind: MissingName["kind"]): readonly string[] => {
    const { parts, skeleton, shapes, clips } = loaded!.character;
    const named = { part: parts, joint: skeleton?.joints ?? [], shape: shapes, clip: clips };
    return named[kind].map((x: { name: string }) => x.name);
  };
  const open = missing.filter((m) => !aims[`${m.kind} ${m.name}`]).length;
  return (
    <div className="m-4-0-2">
      {missing.map(({ kind, name }) => {
        const key = `${kind} ${name}`;
        return (
          <div key={key} className="line one-row gap-6">
            <span className="nowrap">
              {KIND_WORDS[kind]} <span className="mono">{name}</span> is
            </span>
            <NameSelect
              label={`${KIND_WORDS[kind]} that stands for ${name}`}
              value={aims[key] ?? ""}
              names={there(kind)}
              none={["", "choose"]}
              onChange={(to) => setAims({ ...aims, [key]: to })}
            />
          </div>
        );
      })}
      <div className="line gap-2 ml-n8">
        <Button disabled={busy || !loaded || (missing.length > 0 && open > 0)} onClick={() => void again()}>
          {missing.length ? "Apply there" : "Try again"}
        </Button>
        <Button disabled={busy} onClick={() => void settle("dropped")}>
          Drop it
        </Button>
      </div>
      <Refused why={refusal} />
    </div>
  );
}
