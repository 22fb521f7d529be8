import { memo, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import type { ChannelRow as Row } from "~core/tracking/channelMap";
import { linkWeight } from "~core/tracking/faceWeights";
import { useSession } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { FindField } from "../../../ui/FindField";
import { ChannelBody } from "./ChannelBody";
import type { FaceInHand } from "./faceInHand";

/** So many rows are drawn at first, and more at a time as they come in sight. */
const ROWS = 60;
const RANK = { open: 0, likely: 1, hand: 2, sure: 3 } as const;
const FOUND = { open: "to settle", likely: "likely", hand: "by hand", sure: "" } as const;

/** Channels and the shapes they move, what is uncertain first, each with what it gives at this moment. */
export function ChannelTable({ face }: { face: FaceInHand }): ReactNode {
  const [open, setOpen] = useState("");
  const [find, setFind] = useState("");
  const [most, setMost] = useState(ROWS);
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
  const readings = useSession((s) => s.faceReadings);
  const used = useMemo(() => new Map(readings?.channels.map((c) => [c.channel, c])), [readings]);
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
      {shown.slice(0, most).map((row) => {
        const reading = used.get(row.channel) ?? null;
        return (
          <ChannelLine
            key={row.channel}
            row={row}
            used={reading && row.shapes.length ? Math.round(100 * reading.used) : null}
            onOpen={setOpen}
            body={open === row.channel ? <ChannelBody row={row} face={face} reading={reading} /> : null}
          />
        );
      })}
      {shown.length > most && <MoreRows onSeen={() => setMost(most + ROWS)} />}
    </div>
  );
}

/** Drawn by itself, so that the numbers of one channel do not draw all of them anew. */
const ChannelLine = memo(function ChannelLine({
  row,
  used,
  onOpen,
  body,
}: {
  row: Row;
  /** Most that its shapes got, percent; null where nothing is known. */
  used: number | null;
  onOpen: (channel: string) => void;
  body: ReactNode;
}): ReactNode {
  const open = body !== null;
  return (
    <div className={`row channel-row${open ? " open" : ""}`}>
      <button
        type="button"
        className="plain row-line"
        aria-expanded={open}
        onClick={() => onOpen(open ? "" : row.channel)}>
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
          {used === null ? "" : `${used} %`}
        </span>
      </button>
      {body}
    </div>
  );
});

/** Stands below the rows that are drawn; when it comes in sight, more are. */
function MoreRows({ onSeen }: { onSeen: () => void }): ReactNode {
  const end = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const watch = new IntersectionObserver((seen) => seen.some((e) => e.isIntersecting) && onSeen(), {
      rootMargin: "400px",
    });
    if (end.current) watch.observe(end.current);
    return () => watch.disconnect();
  }, [onSeen]);
  return <div ref={end} className="p-4-18-12" />;
}

/** Draws the bars in sight at each picture, past React: what came as a tick, what its shapes get as the bar. */
function useBars(box: React.RefObject<HTMLDivElement | null>, face: FaceInHand): void {
  const latest = useRef(face);
  const inSight = useRef(new Set<HTMLElement>());
  useEffect(() => {
    latest.current = face;
  }, [face]);
  useEffect(() => {
    const seen = inSight.current;
    const watch = new IntersectionObserver((entries) => {
      for (const { target, isIntersecting } of entries)
        if (isIntersecting) seen.add(target as HTMLElement);
        else seen.delete(target as HTMLElement);
    });
    const all = (): void => {
      watch.disconnect();
      seen.clear();
      for (const bar of box.current?.querySelectorAll<HTMLElement>("[data-bar]") ?? []) watch.observe(bar);
    };
    all();
    const rows = new MutationObserver(all);
    if (box.current) rows.observe(box.current, { childList: true });
    return () => {
      watch.disconnect();
      rows.disconnect();
    };
  }, [box]);
  useEffect(() => {
    let handle = 0;
    const drawn = new WeakMap<HTMLElement, string>();
    const draw = (): void => {
      handle = requestAnimationFrame(draw);
      const { channels, settings, now } = latest.current;
      const values = inSight.current.size ? now() : null;
      if (!values) return;
      const { at, rows } = placesIn(channels, settings.map.channels);
      for (const bar of inSight.current) {
        const row = rows.get(bar.dataset["bar"]!);
        const value = row && values[at.get(row.channel) ?? -1];
        if (row === undefined || value === undefined) continue;
        const got = row.shapes.reduce((m, l) => Math.max(m, linkWeight(l, value - row.neutral)), 0);
        const end = row.shapes.reduce((m, l) => Math.max(m, l.high), 0);
        const [raw, given] = [value, got].map((x) => Math.min(1, Math.max(0, x)).toFixed(2));
        if (drawn.get(bar) === `${raw} ${given}`) continue;
        drawn.set(bar, `${raw} ${given}`);
        bar.style.setProperty("--raw", raw!);
        bar.style.setProperty("--got", given!);
        bar.classList.toggle("pinned", end > 0 && got >= end - 1e-6);
      }
    };
    handle = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(handle);
  }, [box]);
}

interface Places {
  readonly at: ReadonlyMap<string, number>;
  readonly rows: ReadonlyMap<string, Row>;
}
const known = new WeakMap<readonly Row[], Places>();
/** Where the value of each channel stands, and its row; made once for a map. */
function placesIn(channels: readonly string[], rows: readonly Row[]): Places {
  const found = known.get(rows) ?? {
    at: new Map(channels.map((c, i) => [c, i])),
    rows: new Map(rows.map((r) => [r.channel, r])),
  };
  known.set(rows, found);
  return found;
}
