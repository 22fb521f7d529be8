import { useState } from "react";
import type { UnsureJoint } from "~core/clips/bringClip";
import type { Brought, ClipMaps } from "~core/intake/bringAdditions";
import { additionSteps } from "../session/additionSteps";
import { givenFile } from "../session/jobs/givenFile";
import { startJob } from "../session/jobs/pageJobs";
import { useWork } from "../session/jobs/useWork";
import { keepClipMap, knownClipMaps } from "../session/kept/keptClipMaps";
import { useSession, type Loaded } from "../session/session";
import { useDesk } from "../session/useDesk";
import { counted } from "../ui/counted";

/** What files bring, each wanted or not. */
export type Found = Brought & { readonly chosen: readonly boolean[] };

/** Hair, garments and clips that are read and added. */
export interface Additions {
  readonly found: Found | null;
  readonly setFound: (found: Found | null) => void;
  /** By file, the joint that its coming joints are hung on. */
  readonly under: Readonly<Record<string, string>>;
  readonly hang: (file: string, joint: string) => void;
  /** By file, bones whose joint was said. */
  readonly maps: ClipMaps;
  /** What is being done, else empty. */
  readonly busy: string;
  readonly refusal: string;
  readonly told: string;
  readonly read: (files: readonly File[]) => Promise<void>;
  readonly mapBone: (file: string, unsure: UnsureJoint, to: string, joints: readonly string[]) => void;
  readonly take: () => Promise<void>;
}

/** What files bring, with the bones that were said by hand. */
async function broughtBy(
  loaded: Loaded,
  files: readonly File[],
  asked: ClipMaps,
  told: Parameters<typeof startJob>[3],
): Promise<Brought> {
  const maps = asked as Record<string, Record<string, string | null>>;
  return startJob(loaded, "additions", { files: await Promise.all(files.map(givenFile)), maps }, told);
}

export function useAdditions(): Additions {
  const loaded = useSession((s) => s.loaded);
  const { addSteps } = useDesk();
  const [found, setFound] = useState<Found | null>(null);
  const [under, setUnder] = useState<Readonly<Record<string, string>>>({});
  const [adding, setAdding] = useState(false);
  const [told, setTold] = useState("");
  const work = useWork("The files could not be read.");
  const [maps, setMaps] = useState<ClipMaps>({});
  const [dropped, setDropped] = useState<readonly File[]>([]);
  const read = async (files: readonly File[], asked: ClipMaps = {}): Promise<void> => {
    if (!loaded || files.length === 0) return;
    setTold("");
    setDropped(files);
    setMaps(asked);
    const brought = await work.during("Reading", (progress, signal) =>
      broughtBy(loaded, files, asked, { progress, signal }),
    );
    if (!brought) return;
    const known = await knownClipMaps(brought.additions, asked);
    if (Object.keys(known).length) return read(files, { ...asked, ...known });
    setUnder({});
    setFound({ ...brought, chosen: brought.additions.map((a) => a.wanted) });
  };
  /** A bone of a clip's skeleton given to another joint: the file is read anew with it. */
  const mapBone = (file: string, { joint, bone }: UnsureJoint, to: string, joints: readonly string[]): void => {
    const map = { ...maps[file], [joint]: null, [to]: bone };
    void keepClipMap(joints, map);
    void read(dropped, { ...maps, [file]: map });
  };
  const take = async (): Promise<void> => {
    if (!found) return;
    setAdding(true);
    const chosen = found.additions.filter((_, i) => found.chosen[i]);
    const done = await addSteps(await additionSteps(chosen, under));
    setAdding(false);
    if (!done) return;
    setTold(`${counted(chosen.length, "things")} added.`);
    setFound(null);
  };
  return {
    found,
    setFound,
    under,
    hang: (file, joint) => setUnder({ ...under, [file]: joint }),
    maps,
    busy: work.running?.title ?? (adding ? "Adding" : ""),
    refusal: work.refusal,
    told,
    read: (files) => read(files),
    mapBone,
    take,
  };
}
