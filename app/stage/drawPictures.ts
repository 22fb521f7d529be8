import { PerspectiveCamera, Scene, WebGLRenderer } from "three";
import { decodeCharacter } from "~core/formats/container";
import { LiveDeform } from "~core/deform/liveDeform";
import { makeRig, withShapes, type Rig } from "~core/deform/rig";
import { patched, type CharacterPatch } from "~core/ledger/characterPatch";
import { REST_MOMENT, type Moment } from "~core/evaluate/moment";
import type { Character } from "~core/model/character";
import { makeLoaded, type Loaded } from "../session/session";
import { cameraFor, FIELD_OF_VIEW, viewOf } from "./framings";
import { makeLights } from "./lights";
import { drawsInSoftware } from "./softwareRenderer";
import { disposePartScene, loadTextures, makePartScene, setLook, showDeformed, type PartScene } from "./partScene";

/** Draws small pictures of a character off the page's main thread. */
interface Subject {
  readonly rig: Rig;
  readonly loaded: Loaded;
  readonly scene: PartScene;
  readonly room: Scene;
  readonly live: LiveDeform;
}
/** By slot: two characters are looked at side by side. */
const subjects = new Map<number, Subject>();
const software = drawsInSoftware();
let renderer: WebGLRenderer | null = null;

/** Puts a character into a slot; where its parts and materials stayed, only its shapes are taken anew. */
async function take(slot: number, character: Character): Promise<void> {
  const old = subjects.get(slot);
  const before = old?.rig.character;
  if (old && before?.parts === character.parts && before.materials === character.materials) {
    const rig = withShapes(old.rig, character);
    subjects.set(slot, { ...old, rig, loaded: makeLoaded(character, "", old.loaded) });
    return;
  }
  if (old) disposePartScene(old.scene);
  const rig = makeRig(character);
  const live = new LiveDeform(rig);
  const scene = makePartScene(rig, live.deformed, { shading: software ? "matt" : "full" });
  const room = new Scene();
  await loadTextures(scene, character);
  room.add(makeLights().group, scene.root);
  subjects.set(slot, { rig, loaded: makeLoaded(character, "", null), scene, room, live });
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
    const canvas =
      (renderer?.domElement as unknown as OffscreenCanvas | undefined) ?? new OffscreenCanvas(width, height);
    renderer ??= new WebGLRenderer({
      canvas: canvas as unknown as HTMLCanvasElement,
      // pictures are twice as large as they are shown: smooth enough where smoothing would double the time
      antialias: !software,
      alpha: true,
      preserveDrawingBuffer: true,
    });
    renderer.setSize(width, height, false);
    const at = { ...REST_MOMENT, ...moment };
    showDeformed(subject.scene, subject.live.update(subject.rig, at));
    setLook(subject.scene, subject.rig.character, { clay: false, wires: false, dressed: true, heat: null });
    const view = viewOf(framing, subject.loaded, at, subject.live.deformed);
    const camera = new PerspectiveCamera(FIELD_OF_VIEW, width / height, 0.01, 50);
    const { position, target } = cameraFor(view, width / height);
    camera.position.set(...position);
    camera.lookAt(...target);
    renderer.render(subject.room, camera);
    return canvas.convertToBlob({ type: "image/png" });
  },
};
export type PicturesApi = typeof pictures;
