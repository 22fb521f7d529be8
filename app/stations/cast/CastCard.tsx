import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useEffect, useState, type ReactNode } from "react";
import { Link, useRevalidator } from "react-router";
import type { CastCard as Card } from "~server/services/characters";
import { draftAddress } from "../../session/kept/draftAddress";
import { dropDraftsOf, type Draft } from "../../session/kept/drafts";
import { ask, Refusal } from "../../session/ledgerClient";
import { fetchBlob } from "~workers/fetchBlob";
import { pictureOf } from "../../stage/pictures/picturesClient";
import { counted } from "../../ui/counted";
import { Refused } from "../../ui/Refused";

const ORDER = [
  ["intake", "Intake"],
  ["skeleton", "Skeleton"],
  ["shapes", "Shapes"],
] as const;

/** One character: a picture made from its own geometry, what it is, and how far the work is. */
export function CastCard({ card, drafts }: { card: Card; drafts: readonly Draft[] }): ReactNode {
  const [naming, setNaming] = useState(false);
  const { refusal, rename, remove } = useCardChanges(card.id);
  const { summary } = card;
  return (
    <article className="card" aria-label={card.name}>
      <Picture card={card} />
      <div className="text">
        <div className="spread">
          {naming ? (
            <NameForm
              name={card.name}
              onName={(name) => void rename(name).then((done) => done && setNaming(false))}
              onLeave={() => setNaming(false)}
            />
          ) : (
            <>
              <Link
                to={`/c/${card.id}/intake`}
                style={{
                  textDecoration: "none",
                  fontSize: 16,
                  fontWeight: 650,
                  overflow: "hidden",
                  textOverflow: "ellipsis",
                }}>
                {card.name}
              </Link>
              <span className="mono muted nowrap">{summary.stature > 0 ? `${summary.stature.toFixed(2)} m` : ""}</span>
            </>
          )}
        </div>
        {card.role && <div className="muted t-small">{card.role}</div>}
        {card.apart && <div className="muted t-12 break-words">{card.apart}</div>}
        <HowFar card={card} />
        {drafts[0] && (
          <Link
            to={draftAddress(drafts[0])}
            style={{ fontSize: 12 }}
            title={drafts.map((d) => `${d.title}, ${d.amount}`).join("\n")}>
            In work: {drafts[0].title}
            {drafts.length > 1 && ` and ${drafts.length - 1} more`}
          </Link>
        )}
        <Refused why={refusal} />
        <div className="stack">
          <span className="muted nowrap t-12">
            {counted(summary.triangles, "triangles")}, {counted(summary.shapes, "shapes")}
          </span>
          <CardButtons name={card.name} onRename={() => setNaming(true)} onRemove={() => void remove()} />
        </div>
      </div>
    </article>
  );
}

/** Renaming and deleting, and why one was refused. */
function useCardChanges(id: string) {
  const [refusal, setRefusal] = useState("");
  const { revalidate } = useRevalidator();
  const change = async (work: () => Promise<unknown>): Promise<boolean> => {
    let why = "";
    try {
      await work();
    } catch (error) {
      why = error instanceof Refusal ? error.message : "That did not work.";
    }
    setRefusal(why);
    await revalidate();
    return why === "";
  };
  const address = `/api/characters/${encodeURIComponent(id)}`;
  return {
    refusal,
    rename: (name: string) =>
      change(() =>
        ask(address, {
          method: "PATCH",
          headers: { "content-type": "application/json" },
          body: JSON.stringify({ name }),
        }),
      ),
    remove: () =>
      change(async () => {
        await ask(address, { method: "DELETE" });
        await dropDraftsOf(id);
      }),
  };
}

function Picture({ card }: { readonly card: Card }): ReactNode {
  const [picture, setPicture] = useState<string | null>(null);
  useEffect(() => {
    let wanted = true;
    void fetchBlob(card.baseBlob)
      .then((bytes) => pictureOf(`cast ${card.baseBlob}`, bytes, {}, "bust", 520, 468, () => wanted))
      .then((url) => wanted && setPicture(url))
      .catch(() => {});
    return () => {
      wanted = false;
    };
  }, [card.baseBlob]);
  return (
    <Link to={`/c/${card.id}/intake`} aria-label={`Open ${card.name}`} style={{ display: "block" }}>
      {picture ? (
        <img className="picture" src={picture} alt={`${card.name}, drawn from its geometry`} />
      ) : (
        <span className="picture" />
      )}
    </Link>
  );
}

interface NameFormProps {
  readonly name: string;
  readonly onName: (name: string) => void;
  readonly onLeave: () => void;
}
function NameForm({ name, onName, onLeave }: NameFormProps): ReactNode {
  const [text, setText] = useState(name);
  return (
    <form
      className="line grow one-row gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onName(text);
      }}>
      <TextField
        autoFocus
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && onLeave()}
        sx={{ flex: 1 }}
        slotProps={{ htmlInput: { "aria-label": `New name of ${name}`, maxLength: 200 } }}
      />
      <Button type="submit" disabled={!text.trim()}>
        Keep
      </Button>
    </form>
  );
}

/** How far the work is, station by station. */
function HowFar({ card: { id, stations } }: { readonly card: Card }): ReactNode {
  return (
    <>
      <div className="stations">
        {ORDER.map(([key, name]) => (
          <Link key={key} to={`/c/${id}/${key}`} className="line" style={{ gap: 4, textDecoration: "none" }}>
            {name}{" "}
            {stations[key] > 0 ? <span className="badge">{stations[key]}</span> : <span className="badge ok">✓</span>}
          </Link>
        ))}
      </div>
      <div className="muted t-12">
        {counted(stations.correctives, "correctives")} ·{" "}
        {stations.trials === null ? "not tried" : counted(stations.trials, "pose findings")} ·{" "}
        {stations.handoff > 0 ? "handed off" : "not handed off"}
      </div>
    </>
  );
}

interface CardButtonsProps {
  readonly name: string;
  readonly onRename: () => void;
  readonly onRemove: () => void;
}
function CardButtons({ name, onRename, onRemove }: CardButtonsProps): ReactNode {
  const [asking, setAsking] = useState(false);
  return (
    <span className="line nowrap one-row gap-2 ml-n8">
      {asking ? (
        <>
          <Button color="error" onClick={onRemove}>
            Delete for good
          </Button>
          <Button onClick={() => setAsking(false)}>Keep</Button>
        </>
      ) : (
        <>
          <Button onClick={onRename} aria-label={`Rename ${name}`}>
            Rename
          </Button>
          <Button onClick={() => setAsking(true)} aria-label={`Delete ${name}`}>
            Delete
          </Button>
        </>
      )}
    </span>
  );
}
