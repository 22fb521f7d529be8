import Autocomplete from "@mui/material/Autocomplete";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMemo, type ReactNode } from "react";
import { faceShapes, linkTo, type ChannelLink, type ChannelRow } from "~core/tracking/channelMap";
import type { ChannelReading } from "~core/tracking/faceReadings";
import { useSession } from "../../../session/session";
import { ScrubChange } from "../../../ui/ScrubChange";
import type { FaceInHand } from "./faceInHand";

const FIELDS = [
  ["gain", "gain", -20, 20, 1, "how much of the shape a whole channel gives"],
  ["offset", "offset", -5, 5, 0, "added after the gain"],
  ["curve", "curve", 0.2, 5, 1, "above 1 small movements count for less, below 1 for more"],
  ["low", "least", -5, 5, 0, "the shape never gets less"],
  ["high", "most", -5, 5, 1, "the shape never gets more"],
] as const;

/** One channel: its neutral, and each shape that it moves. */
export function ChannelBody({
  row,
  face,
  reading,
}: {
  row: ChannelRow;
  face: FaceInHand;
  reading: ChannelReading | null;
}): ReactNode {
  const character = useSession((s) => s.loaded?.character ?? null);
  const names = useMemo(() => (character ? faceShapes(character).all : []), [character]);
  const { map } = face.settings;
  const set = (change: Partial<ChannelRow>, same = false): void =>
    face.setMap(
      { ...map, channels: map.channels.map((r) => (r.channel === row.channel ? { ...r, ...change } : r)) },
      same,
    );
  const setLink = (index: number, change: Partial<ChannelLink> | null, same = false): void =>
    set(
      {
        found: "hand",
        shapes: row.shapes.flatMap((l, i) => (i !== index ? [l] : change ? [{ ...l, ...change }] : [])),
      },
      same,
    );
  return (
    <div className="row-body">
      <div className="line t-small">
        <label className="line" title="Its value in a face at rest">
          <span className="muted">neutral</span>
          <ScrubChange
            label={`neutral of ${row.channel}`}
            value={row.neutral}
            min={-1000}
            max={1000}
            step={0.005}
            digits={3}
            onSet={(neutral, same) => set({ neutral }, same)}
          />
        </label>
        {reading && (
          <span className="muted mono">
            came {reading.low.toFixed(2)} to {reading.high.toFixed(2)}, noise {reading.noise.toFixed(3)}, steadied{" "}
            {reading.steadyNoise.toFixed(3)}
            {reading.pinned > 0.005 ? `, at its limit ${Math.round(100 * reading.pinned)} %` : ""}
          </span>
        )}
      </div>
      {row.shapes.map((link, i) => (
        <LinkFields
          key={`${i} ${link.shape}`}
          channel={row.channel}
          link={link}
          setLink={(change, same) => setLink(i, change, same)}
        />
      ))}
      <Autocomplete
        size="small"
        options={names.filter((n) => !row.shapes.some((l) => l.shape === n))}
        value={null}
        blurOnSelect
        onChange={(_, shape) => shape && set({ found: "hand", shapes: [...row.shapes, linkTo(shape)] })}
        renderInput={(params) => (
          <TextField {...params} label={row.shapes.length ? "Move another shape, too" : "The shape that it moves"} />
        )}
        sx={{ maxWidth: 320, mt: 1 }}
      />
    </div>
  );
}

interface LinkFieldsProps {
  readonly channel: string;
  readonly link: ChannelLink;
  readonly setLink: (change: Partial<ChannelLink> | null, same?: boolean) => void;
}
/** A shape that the channel moves, and how. */
function LinkFields({ channel, link, setLink }: LinkFieldsProps): ReactNode {
  return (
    <div className="channel-link" role="group" aria-label={`${channel}, ${link.shape}`}>
      <div className="line">
        <b className="w-550 nowrap over-hidden ellipsis">{link.shape}</b>
        <span className="take-rest" />
        <Button size="small" onClick={() => setLink(null)}>
          Take it off
        </Button>
      </div>
      <div className="fit-grid">
        {FIELDS.map(([key, label, min, max, start, title]) => (
          <label key={key} className="spread" title={title}>
            <span className="muted">{label}</span>
            <ScrubChange
              label={`${label}, ${link.shape}`}
              value={link[key]}
              min={min}
              max={max}
              step={0.01}
              start={start}
              onSet={(v, same) => setLink({ [key]: v }, same)}
            />
          </label>
        ))}
      </div>
    </div>
  );
}
