import { decodeCharacter } from "~core/formats/container";
import { LiveDeform } from "~core/deform/liveDeform";
import { withShapes, type Rig } from "~core/deform/rig";
import { patched, type CharacterPatch } from "~core/ledger/characterPatch";
import { REST_MOMENT, type Moment } from "~core/evaluate/moment";
import type { Character } from "~core/model/character";
import { makeLoaded, type Loaded } from "../../session/session";
import { cameraFor, viewOf } from "../framings";
import { drawsInSoftware } from "../softwareRenderer";
import type { MakePainter, Painter } from "./painter";

/** Draws small pictures of a character off the page's main thread. */
interface Subject {
  readonly rig: Rig;
  readonly loaded: Loaded;
  readonly live: LiveDeform;
  readonly painter: Painter;
}
/** By slot: two characters are looked at side by side. */
const subjects = new Map<number, Subject>();

/** What draws here; only that is fetched. */
let maker: Promise<MakePainter> | null = null;
const makePainter = (): Promise<MakePainter> =>
  (maker ??= drawsInSoftware()
    ? import("./processorPainter").then((m) => m.processorPainter)
    : import("./cardPainter").then((m) => m.cardPainter));

/** Puts a character into a slot; where its parts and materials stayed, only its shapes are taken anew. */
async function take(slot: number, character: Character): Promise<void> {
  const old = subjects.get(slot);
  const before = old?.rig.character;
  if (old && before?.parts === character.parts && before.materials === character.materials) {
    const rig = withShapes(old.rig, character);
    subjects.set(slot, { ...old, rig, loaded: makeLoaded(character, "", old.loaded) });
    return;
  }
  old?.painter.dispose();
  const loaded = makeLoaded(character, "", null);
  const live = new LiveDeform(loaded.rig);
  const painter = await (await makePainter())(loaded.rig, live.deformed);
  subjects.set(slot, { rig: loaded.rig, loaded, live, painter });
}

export const pictures = {
  /** Takes a character as a change of the one in the slot, or with `whole` of none. */
  load: (slot: number, patch: CharacterPatch, whole: boolean): Promise<void> =>
    take(slot, patched(whole ? null : (subjects.get(slot)?.rig.character ?? null), patch)),
  loadBytes: (slot: number, bytes: Uint8Array): Promise<void> => take(slot, decodeCharacter(bytes)),
  /** PNG of a moment at a framing. */
  async draw(slot: number, moment: Partial<Moment>, framing: string, width: number, height: number): Promise<Blob> {
    const subject = subjects.get(slot);
    if (!subject) throw new Error("no character is loaded");
    const at = { ...REST_MOMENT, ...moment };
    subject.live.update(subject.rig, at);
    const view = viewOf(framing, subject.loaded, at, subject.live.deformed);
    const { position, target } = cameraFor(view, width / height);
    return subject.painter.paint(subject.rig, position, target, width, height).convertToBlob({ type: "image/png" });
  },
};
export type PicturesApi = typeof pictures;
