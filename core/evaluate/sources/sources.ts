import type { Character } from "../../model/character";
import type { MomentSource } from "../moment";
import { layClip } from "./clipSource";
import type { Draft, LayOver } from "./sourceKind";

type Layers = { readonly [K in MomentSource["kind"]]: LayOver<Extract<MomentSource, { kind: K }>> };

/** What each kind of source lays over a moment. */
const LAYERS: Layers = { clip: layClip };

export const laySource = (source: MomentSource, character: Character, draft: Draft): void =>
  LAYERS[source.kind](source, character, draft);
