import { lerp, type Vec3 } from "../../../core/math/vec3";
import { meanOf } from "../../modelling/quadMesh";
import { onHead } from "../head/headForm";
import { headToWorld, mirrored, worldToHead } from "../placement";
import type { Skin } from "./buildSkin";
import { headPlaceOf } from "./skinTags";

/** Places of the head where quads would fold: the mouth's corners and the skin below the ear lobe. */
export function tidyHead(skin: Skin): void {
  straightenMouthCorners(skin);
  softenLipCorners(skin);
  evenBelowEar(skin);
}

function place({ points, mirror }: Skin, v: number, inHead: Vec3): void {
  const p = headToWorld(inHead);
  if (mirror[v] === v) points[v] = [0, p[1], p[2]];
  else {
    points[v] = p;
    points[mirror[v]!] = mirrored(p);
  }
}

/** Skin rings at the corner: straight spokes from the window to the lips' border. */
function straightenMouthCorners(skin: Skin): void {
  const rings = skin.head.mouthRings;
  for (const [ring, share] of [
    [1, 0.3],
    [2, 0.56],
    [3, 0.79],
  ] as const)
    rings[ring]!.forEach((v, k) => {
      const head = headPlaceOf(skin.tags[v]!);
      if (head?.zone === "mouth" && head.t > 0.8)
        place(skin, v, onHead(worldToHead(lerp(skin.points[rings[0]![k]!]!, skin.points[rings[4]![k]!]!, share)), 5));
    });
}

/** A softer step of the lips at the corner. */
function softenLipCorners(skin: Skin): void {
  for (let v = 0; v < skin.headCount; v++) {
    const head = headPlaceOf(skin.tags[v]!);
    if (
      head?.zone !== "mouth" ||
      head.layer === "skin" ||
      head.throat !== null ||
      skin.tags[v]!.side < 0 ||
      head.t <= 0.8
    )
      continue;
    const [x, y, z] = worldToHead(skin.points[v]!);
    place(skin, v, [x, y, z + (head.t > 0.94 ? 1 : -0.7)]);
  }
}

function evenBelowEar(skin: Skin): void {
  const { points, tags, neighbours } = skin;
  const moving: number[] = [];
  for (let v = 0; v < skin.headCount; v++) {
    const head = headPlaceOf(tags[v]!);
    if (
      head?.zone === "grid" &&
      tags[v]!.side > 0 &&
      head.column >= 18 &&
      head.column <= 24 &&
      head.row >= 18 &&
      head.row <= 24
    )
      moving.push(v);
  }
  for (let round = 0; round < 10; round++) {
    const moved = moving.map((v) => onHead(worldToHead(lerp(points[v]!, meanOf(points, neighbours[v]!), 0.4)), 3));
    moving.forEach((v, k) => place(skin, v, moved[k]!));
  }
}
