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
  const [picture, setPicture] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const [refusal, setRefusal] = useState("");
  const [naming, setNaming] = useState<string | null>(null);
  const { revalidate } = useRevalidator();
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
  const { stations, summary } = card;
  const rename = async (): Promise<void> => {
    try {
      await ask(`/api/characters/${encodeURIComponent(card.id)}`, {
        method: "PATCH",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ name: naming }),
      });
      setRefusal("");
      setNaming(null);
    } catch (error) {
      setRefusal(error instanceof Refusal ? error.message : "That did not work.");
    }
    await revalidate();
  };
  const remove = async (): Promise<void> => {
    try {
      await ask(`/api/characters/${encodeURIComponent(card.id)}`, { method: "DELETE" });
      await dropDraftsOf(card.id);
      setRefusal("");
    } catch (error) {
      setRefusal(error instanceof Refusal ? error.message : "That did not work.");
    }
    await revalidate();
  };
  return (
    <article className="card" aria-label={card.name}>
      <Link to={`/c/${card.id}/intake`} aria-label={`Open ${card.name}`} style={{ display: "block" }}>
        {picture ? (
          <img className="picture" src={picture} alt={`${card.name}, drawn from its geometry`} />
        ) : (
          <span className="picture" />
        )}
      </Link>
      <div className="text">
        <div className="spread">
          {naming === null ? (
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
          ) : (
            <form
              className="line grow one-row gap-2"
              onSubmit={(e) => {
                e.preventDefault();
                void rename();
              }}>
              <TextField
                autoFocus
                value={naming}
                onChange={(e) => setNaming(e.target.value)}
                onKeyDown={(e) => e.key === "Escape" && setNaming(null)}
                sx={{ flex: 1 }}
                slotProps={{ htmlInput: { "aria-label": `New name of ${card.name}`, maxLength: 200 } }}
              />
              <Button type="submit" disabled={!naming.trim()}>
                Keep
              </Button>
            </form>
          )}
        </div>
        {card.role && <div className="muted t-small">{card.role}</div>}
        {card.apart && <div className="muted t-12 break-words">{card.apart}</div>}
        <div className="stations">
          {ORDER.map(([key, name]) => (
            <Link key={key} to={`/c/${card.id}/${key}`} className="line" style={{ gap: 4, textDecoration: "none" }}>
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
          {asking ? (
            <span className="line nowrap one-row gap-2 ml-n8">
              <Button color="error" onClick={() => void remove()}>
                Delete for good
              </Button>
              <Button onClick={() => setAsking(false)}>Keep</Button>
            </span>
          ) : (
            <span className="line nowrap one-row gap-2 ml-n8">
              <Button onClick={() => setNaming(card.name)} aria-label={`Rename ${card.name}`}>
                Rename
              </Button>
              <Button onClick={() => setAsking(true)} aria-label={`Delete ${card.name}`}>
                Delete
              </Button>
            </span>
          )}
        </div>
      </div>
    </article>
  );
}
