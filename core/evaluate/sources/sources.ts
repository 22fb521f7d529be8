import type { Character } from "../../model/character";
import type { MomentSource } from "../moment";
import { laySet } from "./setSource";
import { laySpeech } from "./speechSource";
import { layClip } from "./clipSource";
import { layFace } from "./faceSource";
import type { Draft, LayOver } from "./sourceKind";

type Layers = { readonly [K in MomentSource["kind"]]: LayOver<Extract<MomentSource, { kind: K }>> };

/** What each kind of source lays over a moment. */
const LAYERS: Layers = { clip: layClip, set: laySet, face: layFace, speech: laySpeech };

export const laySource = (source: MomentSource, character: Character, draft: Draft): void =>
  (LAYERS[source.kind] as LayOver<MomentSource>)(source, character, draft);
