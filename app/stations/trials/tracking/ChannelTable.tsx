import { useEffect, useRef, useState, type ReactNode } from "react";
import type { ChannelRow as Row } from "~core/tracking/channelMap";
import { linkWeight } from "~core/tracking/faceWeights";
import { useSession } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { FindField } from "../../../ui/FindField";
import { ChannelBody } from "./ChannelBody";
import type { FaceInHand } from "./faceInHand";

const RANK = { open: 0, likely: 1, hand: 2, sure: 3 } as const;
const FOUND = { open: "to settle", likely: "likely", hand: "by hand", sure: "" } as const;

/** Channels and the shapes they move, what is uncertain first, each with what it gives at this moment. */
export function ChannelTable({ face }: { face: FaceInHand }): ReactNode {
  const [open, setOpen] = useState("");
  const [find, setFind] = useState("");
  const { map } = face.settings;
  const box = useRef<HTMLDivElement>(null);
  // the order in which they came stands while one is settled, so that no row runs away
  const [order, setOrder] = useState<{ readonly of: string; readonly names: readonly string[] }>({ of: "", names: [] });
  const of = face.channels.join("\n");
  if (order.of !== of) {
    const rank = new Map(map.channels.map((r) => [r.channel, RANK[r.found]]));
    const names = [...face.channels].sort((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0));
    setOrder({ of, names });
  }
  const rows = new Map(map.channels.map((r) => [r.channel, r]));
  useBars(box, face);
  const wanted = find.toLowerCase();
  const shown = order.names.flatMap((name) => {
    const row = rows.get(name);
    const hit = row && `${name} ${row.shapes.map((l) => l.shape).join(" ")}`.toLowerCase().includes(wanted);
    return hit ? [row] : [];
  });
  const toSettle = map.channels.filter((r) => r.found === "open").length;
  return (
    <div ref={box} role="group" aria-label="Channels">
      <h2 className="group-title">
        {counted(face.channels.length, "channels")}
        {toSettle ? `, ${toSettle} to settle` : ""}
      </h2>
      {face.channels.length > 24 && (
        <div className="p-4-18-12">
          <FindField label="Find a channel" value={find} onChange={setFind} />
        </div>
      )}
      {shown.map((row) => (
        <ChannelLine
          key={row.channel}
          row={row}
          face={face}
          open={open === row.channel}
          onOpen={() => setOpen(open === row.channel ? "" : row.channel)}
        />
      ))}
    </div>
  );
}

function ChannelLine({
  row,
  face,
  open,
  onOpen,
}: {
  row: Row;
  face: FaceInHand;
  open: boolean;
  onOpen: () => void;
}): ReactNode {
  const used = useSession((s) => s.faceReadings?.channels.find((c) => c.channel === row.channel) ?? null);
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={onOpen}>
        <span className="channel-name nowrap over-hidden ellipsis" title={row.channel}>
          {row.channel}
        </span>
        <span className="channel-bar" data-bar={row.channel} aria-hidden>
          <i className="got" />
          <i className="raw" />
        </span>
        <span className="grow nowrap over-hidden ellipsis muted">
          {row.shapes.map((l) => l.shape).join(", ") || "moves nothing"}
        </span>
        <span
          className="nowrap rigid t-small"
          style={{
            color: row.found === "open" ? "var(--brick)" : row.found === "likely" ? "var(--amber)" : "var(--muted)",
          }}>
          {FOUND[row.found]}
        </span>
        <span className="mono muted nowrap rigid wide-60 to-right" title="Most that its shapes got">
          {used && row.shapes.length ? `${Math.round(100 * used.used)} %` : ""}
        </span>
      </button>
      {open && <ChannelBody row={row} face={face} reading={used} />}
    </div>
  );
}

/** Draws every bar at each picture, past React: what came as a tick, what its shapes get as the bar. */
function useBars(box: React.RefObject<HTMLDivElement | null>, face: FaceInHand): void {
  const latest = useRef(face);
  useEffect(() => {
    latest.current = face;
  }, [face]);
  useEffect(() => {
    let handle = 0;
    const draw = (): void => {
      handle = requestAnimationFrame(draw);
      const { channels, settings, now } = latest.current;
      const values = now();
      if (!box.current || !values) return;
      const at = new Map(channels.map((c, i) => [c, i]));
      const rows = new Map(settings.map.channels.map((r) => [r.channel, r]));
      for (const bar of box.current.querySelectorAll<HTMLElement>("[data-bar]")) {
        const row = rows.get(bar.dataset["bar"]!);
        const value = row && values[at.get(row.channel) ?? -1];
        if (row === undefined || value === undefined) continue;
        const got = row.shapes.reduce((m, l) => Math.max(m, linkWeight(l, value - row.neutral)), 0);
        const end = row.shapes.reduce((m, l) => Math.max(m, l.high), 0);
        bar.style.setProperty("--raw", String(Math.min(1, Math.max(0, value))));
        bar.style.setProperty("--got", String(Math.min(1, Math.max(0, got))));
        bar.classList.toggle("pinned", end > 0 && got >= end - 1e-6);
      }
    };
    handle = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(handle);
  }, [box]);
}
