import { decodeCharacter } from "~core/formats/container";
import { LiveDeform } from "~core/deform/liveDeform";
import { patched, type CharacterPatch } from "~core/ledger/characterPatch";
import { REST_MOMENT, type Moment } from "~core/evaluate/moment";
import type { Character } from "~core/model/character";
import { fetchBlob } from "~workers/fetchBlob";
import type { LedgerState } from "~workers/fetchState";
import { makeLoaded, type Loaded } from "../../session/loaded";
import { cameraFor, viewOf } from "../framings";
import { painterOf, readyCanvas, type Paint, type PictureSize } from "./paintCharacter";
import { TILE_PIXELS } from "./tilePixels";

/** Draws small pictures of a character off the page's main thread. */
interface Subject {
  readonly loaded: Loaded;
  readonly live: LiveDeform;
  readonly paint: Paint;
}
/** By slot: two characters are looked at side by side. */
const subjects = new Map<number, Subject>();

/** Puts a character into a slot; where its parts and materials stayed, only its shapes are taken anew. */
async function take(slot: number, character: Character): Promise<void> {
  const old = subjects.get(slot);
  const before = old?.loaded.character;
  if (old && before?.parts === character.parts && before.materials === character.materials) {
    subjects.set(slot, { ...old, loaded: makeLoaded(character, "", old.loaded) });
    return;
  }
  const loaded = makeLoaded(character, "", null);
  const live = new LiveDeform(loaded.rig);
  subjects.set(slot, { loaded, live, paint: await painterOf(loaded.rig, live.deformed) });
}

/** The state that was taken before it was asked for; null for none. */
let expected: Promise<LedgerState | null> = Promise.resolve(null);

/** Takes a character by its ledger, without the page. */
async function takeState(slot: number, { baseBlob, steps }: LedgerState): Promise<void> {
  if (steps.length === 0) return take(slot, decodeCharacter(await fetchBlob(baseBlob)));
  const { replay } = await import("~workers/replay");
  await take(slot, patched(null, (await replay.load(baseBlob, steps, [])).patch));
}

function paint(slot: number, moment: Partial<Moment>, framing: string, size: PictureSize): OffscreenCanvas {
  const subject = subjects.get(slot);
  if (!subject) throw new Error("no character is loaded");
  const at = { ...REST_MOMENT, ...moment };
  subject.live.update(subject.loaded.rig, at);
  const view = viewOf(framing, subject.loaded, at, subject.live.deformed);
  const { position, target } = cameraFor(view, size.width / size.height);
  return subject.paint(position, target, size);
}

export const pictures = {
  /** Begins with a character that will be asked for, in the first slot. */
  expect(coming: Promise<LedgerState>): void {
    void readyCanvas(TILE_PIXELS.width, TILE_PIXELS.height);
    expected = coming
      .then(async (state) => {
        await takeState(0, state);
        // the first picture takes several times as long as the next: it is drawn while the page is not ready for any
        paint(0, REST_MOMENT, "face", { ...TILE_PIXELS, fine: false });
        return state;
      })
      .catch(() => null);
  },
  /** The state that is in the first slot because it was expected, once it is there. */
  expected: (): Promise<LedgerState | null> => expected,
  /** Takes a character as a change of the one in the slot, or with `whole` of none. */
  load: (slot: number, patch: CharacterPatch, whole: boolean): Promise<void> =>
    take(slot, patched(whole ? null : (subjects.get(slot)?.loaded.character ?? null), patch)),
  loadBytes: (slot: number, bytes: Uint8Array): Promise<void> => take(slot, decodeCharacter(bytes)),
  /** PNG of a moment at a framing. */
  async draw(slot: number, moment: Partial<Moment>, framing: string, size: PictureSize): Promise<Blob> {
    return paint(slot, moment, framing, size).convertToBlob({ type: "image/png" });
  },
};
export type PicturesApi = typeof pictures;
