import { useEffect, useRef, useState } from "react";
import { liveFaceOf, type LiveFace } from "../../../session/tracking/liveFace";
import { listMaps, readBridge, type Bridge, type KeptMap } from "../../../session/tracking/trackerClient";
import { putRecorded } from "./putTake";
import { useSessionStore } from "../../../session/session";

/** The live face of the desk, where its tracker is, and the maps that were kept; it is let go with the sheet. */
export function useTracker(): {
  readonly face: LiveFace;
  readonly bridge: Bridge | null;
  readonly connect: () => void;
} {
  const store = useSessionStore();
  const face = liveFaceOf(store);
  const [bridge, setBridge] = useState<Bridge | null>(null);
  const maps = useRef<readonly KeptMap[]>([]);
  useEffect(() => {
    let here = true;
    void readBridge()
      .then((b) => here && setBridge(b))
      .catch(() => {}); // told as not there
    void listMaps()
      .then((m) => (maps.current = m))
      .catch(() => {}); // channels are found by their names then
    return () => {
      here = false;
      // what is being recorded when the sheet is left is not lost
      const { recording, loaded } = store.getState();
      const take = recording && face.stop();
      if (take && loaded)
        void putRecorded(store, loaded, take, recording.start, () => {}, new AbortController().signal).catch(() => {});
      face.disconnect();
    };
  }, [face, store]);
  return { face, bridge, connect: () => bridge?.address && face.connect(bridge.address, () => maps.current) };
}
