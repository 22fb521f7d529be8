import type { FaceMoment } from "../evaluate/moment";
import type { Character } from "../model/character";
import { mouthReaderOf } from "../speech/mouth";
import { mapOn, type ChannelMap } from "../tracking/channelMap";
import { makeFaceTurner, type FaceTurner } from "../tracking/faceTurns";
import { makeFaceMapper, type FaceMapper } from "../tracking/faceWeights";
import { faceAt, type FaceAt } from "../tracking/recordedFace";
import { linesOf, onRuler } from "./spokenLines";
import { lengthOf, type TakePiece, type Trial } from "./trial";
import { fadeOut } from "../math/smoothStep";

/** What turns a face's channels into what a character does. */
export interface FacePlayer {
  readonly map: ChannelMap;
  readonly mapper: FaceMapper;
  readonly turner: FaceTurner;
}
const players = new WeakMap<Character, WeakMap<ChannelMap, Map<string, FacePlayer>>>();
/** The player of a map on a character, made once for each list of channels; missing shapes are found anew. */
export function facePlayer(character: Character, map: ChannelMap, channels: readonly string[]): FacePlayer {
  const ofCharacter = players.get(character) ?? new WeakMap<ChannelMap, Map<string, FacePlayer>>();
  players.set(character, ofCharacter);
  const ofMap = ofCharacter.get(map) ?? new Map<string, FacePlayer>();
  ofCharacter.set(map, ofMap);
  const key = channels.join("\n");
  const found = ofMap.get(key);
  if (found) return found;
  const here = mapOn(character, map, channels);
  const made = {
    map: here,
    mapper: makeFaceMapper(character, here, channels),
    turner: makeFaceTurner(character, here),
  };
  ofMap.set(key, made);
  return made;
}

/** What a face does to a character. @param lips how much of what it does with the lips stays. */
export function faceMoment(
  { mapper, turner }: FacePlayer,
  { values, head, gaze }: FaceAt,
  lips = 1,
  isLip: (shape: string) => boolean = () => false,
): FaceMoment {
  const all = mapper.weights(values);
  const turned = turner(head, gaze);
  const weights: Record<string, number> = { ...turned.weights };
  mapper.shapes.forEach((shape, s) => {
    const w = all[s]! * (lips < 1 && isLip(shape) ? lips : 1);
    if (w !== 0) weights[shape] = Math.min(1, (weights[shape] ?? 0) + w);
  });
  return { kind: "face", weights, turns: turned.turns };
}

/** Lips of a take give way so long before a line and come back so long after it, seconds. */
const BESIDE = 0.2;
/** How much a line speaks at a time of the ruler, 0..1: the largest of all that do. */
function spokenAt(trial: Trial, at: number): number {
  let most = 0;
  for (const line of linesOf(trial)) {
    if (!line.on || line.share <= 0) continue;
    const said = line.line.phones.filter((p) => p.phone !== "sil");
    if (said.length === 0) continue;
    const from = Math.max(line.start, onRuler(line, said[0]!.from));
    const to = Math.min(line.start + lengthOf(line), onRuler(line, said[said.length - 1]!.to));
    const away = Math.max(from - at, at - to, 0) / BESIDE;
    if (away < 1) most = Math.max(most, line.share * fadeOut(away));
  }
  return most;
}

/** A take at a time of the ruler. @param own its own time, seconds. */
export function takeMoment(character: Character, trial: Trial, piece: TakePiece, at: number, own: number): FaceMoment {
  const channels = channelsOfTake(piece.face);
  const player = facePlayer(character, piece.map, channels);
  const spoken = piece.mouth < 1 ? spokenAt(trial, at) : 0;
  const lips = 1 - spoken * (1 - piece.mouth);
  const lipShapes = lips < 1 ? mouthReaderOf(character)?.lipShapes : undefined;
  return faceMoment(player, faceAt(piece.face, own), lips, (s) => lipShapes?.has(s) ?? false);
}

const names = new WeakMap<TakePiece["face"], readonly string[]>();
/** Names of a recorded face's channels; the same list for the same face. */
export function channelsOfTake(face: TakePiece["face"]): readonly string[] {
  const found = names.get(face) ?? face.channels.map((c) => c.channel);
  names.set(face, found);
  return found;
}
