import { useState } from "react";
import type { JobInput, JobName, JobOutput } from "~jobs/jobs";
import { counted } from "../../../ui/counted";
import { endWork } from "../../../session/kept/useKeepDrafts";
import { remembered } from "../../../session/history";
import { givenFile } from "../../../session/jobs/givenFile";
import { useJob } from "../../../session/jobs/useJob";
import { changeScan, openScan, scanStateOf, standByPlaces, tiesOf, type ScanState } from "../../../session/scan";
import { useSession, useSessionStore } from "../../../session/session";
import { newFaceSteps } from "../../../session/shapeSteps";
import { restMask } from "../../../session/slices/tools";
import { lookAt } from "../../../session/slices/view";
import { useDesk } from "../../../session/useDesk";

export interface ScanWork {
  readonly running: ReturnType<typeof useJob>["running"];
  readonly cancel: () => void;
  /** Why something was not done, else empty. */
  readonly refusal: string;
  /** What was done, else empty. */
  readonly told: string;
  readonly read: (file: File | null, fitSize: boolean) => Promise<void>;
  readonly propose: (scan: ScanState) => Promise<void>;
  readonly stand: (fitSize: boolean) => void;
  readonly lay: (scan: ScanState, how: { readonly symmetric: boolean; readonly closeness: number }) => Promise<void>;
  /** Takes the laid face on. @param carry whether the shapes are carried to it. */
  readonly take: (scan: ScanState, carry: boolean) => Promise<void>;
}

const takenWords = (name: string, shapes: number): string =>
  `The face of ${name} is taken on${shapes ? `, ${counted(shapes, "shapes")} were carried to it` : ""}. ` +
  "Look at the proof and the findings now; undo brings the old face back.";

/** What is done with a scan, from the file to the character's new face. @param body index of the skin's part. */
export function useScanWork(body: number): ScanWork {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const mask = useSession((s) => s.mask);
  const { addSteps } = useDesk();
  const [told, setTold] = useState("");
  const work = useJob("That did not work.");
  const run = <N extends JobName>(title: string, name: N, input: JobInput<N>): Promise<JobOutput<N> | null> => {
    setTold("");
    return work.run(title, name, input);
  };
  const read = async (chosen: File | null, fitSize: boolean): Promise<void> => {
    if (!chosen || !loaded) return;
    const file = await givenFile(chosen);
    const opened = await run("Finding where it stands", "open scan", { file, fitSize });
    if (opened) openScan(store, scanStateOf(opened, chosen));
  };
  const propose = async (s: ScanState): Promise<void> => {
    const known = new Map([...s.places].filter(([, p]) => p.byHand).map(([id, p]) => [id, p.at]));
    const found = await run("Proposing the other landmarks", "propose places", {
      mesh: s.mesh,
      place: s.placed!.place,
      landmarks: [...s.landmarks],
      known: Object.fromEntries(known),
    });
    if (!found) return;
    const places = s.landmarks.flatMap((l, i) =>
      found[i] ? [[l.id, { at: found[i], byHand: known.has(l.id) }] as const] : [],
    );
    changeScan(store, { ...remembered(s, s.places), laid: null, places: new Map(places) });
  };
  const lay: ScanWork["lay"] = async (s, { symmetric, closeness }) => {
    const laid = await run("Laying the skin on it", "lay on scan", {
      mesh: { ...s.mesh, positions: s.positions },
      ties: tiesOf(s).map((x) => x.tie),
      leftOut: mask?.of.part === body ? mask.of.values : null,
      symmetric,
      closeness,
    });
    if (!laid) return;
    changeScan(store, { laid, view: "laid on", chosen: null });
    lookAt(store, { framing: "face" });
    restMask(store);
  };
  const take: ScanWork["take"] = async (s, carry) => {
    const deltas = s.same?.deltas ?? s.laid?.deltas;
    if (!deltas) return;
    const face = await run(carry ? "Carrying the shapes to the new face" : "Moving the base", "new face", {
      deltas: [...deltas],
      carry,
    });
    if (!face) return;
    if (!(await addSteps(await newFaceSteps(face, s.name)))) return;
    endWork(store, "scan");
    lookAt(store, { framing: "face" });
    setTold(takenWords(s.name, face.shapes.length));
  };
  const stand = (fitSize: boolean): void => work.refuse(standByPlaces(store, fitSize) ?? "");
  return { running: work.running, cancel: work.cancel, refusal: work.refusal, told, read, propose, stand, lay, take };
}
