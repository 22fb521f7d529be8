import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState, type ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { mapOn, proposeMap } from "~core/tracking/channelMap";
import { useWork } from "../../../session/jobs/useWork";
import { useSession } from "../../../session/session";
import { dropMap, keepMap, listMaps, type KeptMap } from "../../../session/tracking/trackerClient";
import type { FaceInHand } from "./faceInHand";

/** Maps of channels that were kept, for every character: used, kept, let go. */
export function KeptMaps({ face }: { face: FaceInHand }): ReactNode {
  const character = useSession((s) => s.loaded?.character ?? null);
  const [maps, setMaps] = useState<readonly KeptMap[]>([]);
  const [used, setUsed] = useState("");
  const [naming, setNaming] = useState(false);
  const work = useWork("The map could not be kept.");
  useEffect(() => {
    let here = true;
    void listMaps()
      .then((m) => here && setMaps(m))
      .catch(() => {}); // none can be chosen
    return () => {
      here = false;
    };
  }, []);
  if (!character) return null;
  const keep = async (name: string): Promise<void> => {
    setNaming(false);
    if (!name.trim()) return;
    const kept = await work.during("Keeping the map", async () => {
      await keepMap(name.trim(), face.settings.map);
      return listMaps();
    });
    if (!kept) return;
    setMaps(kept);
    setUsed(name.trim());
  };
  const use = (name: string): void => {
    setUsed(name);
    const kept = maps.find((m) => m.name === name);
    face.setMap(kept ? mapOn(character, kept.map, face.channels) : proposeMap(face.channels, character));
  };
  const drop = async (): Promise<void> => {
    const left = await work.during("Letting the map go", async () => {
      await dropMap(used);
      return listMaps();
    });
    if (!left) return;
    setMaps(left);
    setUsed("");
  };
  return (
    <div className="p-8-18" role="group" aria-label="Kept maps">
      <div className="line t-small">
        <SmallSelect
          label="Map of the channels"
          value={maps.some((m) => m.name === used) ? used : ""}
          onChange={use}
          size={13}>
          <MenuItem value="">found by names</MenuItem>
          {maps.map((m) => (
            <MenuItem key={m.name} value={m.name}>
              {m.name}
            </MenuItem>
          ))}
        </SmallSelect>
        <span className="take-rest" />
        {naming ? (
          <input
            className="scrub-input wide-178"
            aria-label="Name of the map"
            autoFocus
            maxLength={100}
            defaultValue={used || "my tracker"}
            onBlur={(e) => void keep(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === "Enter") e.currentTarget.blur();
              if (e.key === "Escape") setNaming(false);
            }}
          />
        ) : (
          <Button onClick={() => setNaming(true)}>Keep this map</Button>
        )}
        {used && <Button onClick={() => void drop()}>Let it go</Button>}
      </div>
      {work.refusal && <p className="refusal">{work.refusal}</p>}
    </div>
  );
}
