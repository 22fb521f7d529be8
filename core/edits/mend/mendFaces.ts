import { isDegenerate } from "../../measure/faceArea";
import { facesTwice } from "../../measure/facesTwice";
import { shellsInsideOut } from "../../measure/shellsInsideOut";
import type { Character, Part } from "../../model/character";
import type { NewFace } from "../../model/cornerLook";
import { shellsOf } from "../../model/shells";
import { facesOf, renumberShapes, withFaces } from "../../model/withFaces";
import { finsOf, partSurfaces } from "./partSurfaces";
import { partNamed } from "./places";

/** Repairs a part's faces; vertices that no face uses afterwards go, and shapes are carried along. */
export function mendFaces(
  character: Character,
  name: string,
  what: "loose" | "degenerate" | "doubled" | "inside-out" | "non-manifold",
): Character {
  const { part, index } = partNamed(character, name);
  const faces = facesOf(part);
  const mended = {
    loose: faces,
    degenerate: withArea(part, faces),
    doubled: onceEach(part, faces),
    "inside-out": turned(part, faces),
    "non-manifold": withoutFins(part, faces),
  }[what];
  const { part: made, newFromOld } = withFaces(part, mended);
  const mendedCharacter = {
    ...character,
    parts: character.parts.map((p, i) => (i === index ? made : p)),
    shapes: renumberShapes(
      character.shapes,
      character.parts.map((_, i) => (i === index ? newFromOld : null)),
    ),
  };
  return what === "non-manifold" ? partSurfaces(mendedCharacter, index) : mendedCharacter;
}

function withoutFins(part: Part, faces: readonly NewFace[]): NewFace[] {
  const fins = finsOf(part);
  return faces.filter((_, f) => !fins.has(f));
}

function withArea(part: Part, faces: readonly NewFace[]): NewFace[] {
  return faces.flatMap(({ corners, from }) => {
    const once = corners.filter((v, k) => corners.indexOf(v) === k);
    return once.length >= 3 && !isDegenerate(part.positions, once) ? [{ corners: once, from }] : [];
  });
}

function onceEach(part: Part, faces: readonly NewFace[]): NewFace[] {
  const twice = new Set(facesTwice(part));
  return faces.filter((_, f) => !twice.has(f));
}

function turned(part: Part, faces: readonly NewFace[]): NewFace[] {
  const inward = new Set(shellsInsideOut(part));
  const shell = shellsOf(part, true);
  return faces.map((face) =>
    inward.has(shell[face.corners[0]!]!) ? { ...face, corners: [...face.corners].reverse() } : face,
  );
}
