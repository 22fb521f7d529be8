import { add, cross, dot, lerp, normalize, radians, scale, type Vec3 } from "../../../core/math/vec3";
import { mix } from "../../modelling/blend";
import { addScaled, alongSurface, castRay, projectTo, surfaceFrom, type Field } from "../../modelling/fields";
import type { Quad, QuadMesh } from "../../modelling/quadMesh";
import { SPOKES } from "./armMesh";
import type { BodyTag } from "./bodyTags";
import {
  fingerForms,
  FINGERS,
  HAND,
  handForm,
  HAND_UP,
  inHand,
  onHand,
  RADIAL,
  THUMB,
  thumbForm,
  thumblessForm,
  webbedHandForm,
} from "./handForm";

/** Palm rows as shares of the way from the wrist to the finger roots. */
const ROWS = [0.07, 0.19, 0.37, 0.545, 0.67, 0.78, 0.885, 1];
/** How far past the knuckle each finger leaves the palm. */
const FINGER_ROOTS = [0.0175, 0.018, 0.018, 0.0165];
/** Half breadth of the wrist at the nine columns, thumb side first. */
const WRIST_COLUMNS = [0.0185, 0.015, 0.011, 0.006, 0, -0.006, -0.011, -0.015, -0.0185];
/** Rows and spokes between which the thumb grows. */
const THUMB_WINDOW = { rows: [1, 2, 3], spokes: [4, 5, 6] } as const;
const around = (spoke: number): number => ((spoke % SPOKES) + SPOKES) % SPOKES;

/** Palm, four fingers and the thumb, grown from the wrist's ring. */
export function buildHand(mesh: QuadMesh<BodyTag>, wrist: readonly number[]): void {
  const rows = buildPalm(mesh, wrist);
  const end = rows.at(-1)!;
  const webs = placeWebs(mesh, end);
  FINGERS.forEach((_, i) => buildFinger(mesh, end, webs, i));
  buildThumb(mesh, rows);
}

type Face = "back" | "palm" | "thumb side" | "little side";
/** Column (0 at the thumb's side to 8) and face of a spoke of the palm's rings. */
function palmPlace(spoke: number): { column: number; face: Face } {
  if (spoke <= 4) return { column: 4 - spoke, face: "back" };
  if (spoke === 5) return { column: 0, face: "thumb side" };
  if (spoke <= 14) return { column: spoke - 6, face: "palm" };
  if (spoke === 15) return { column: 8, face: "little side" };
  return { column: 24 - spoke, face: "back" };
}

/** Where the nine columns end: sides, finger roots, and half way between them, in the hand's own axes. */
function columnEnds(): Vec3[] {
  const roots = FINGERS.map((f, i) => inHand(addScaled(f.points[0], f.directions[0], FINGER_ROOTS[i]!)));
  const halfWidth = FINGERS.map((f) => f.radii[0] * 0.93);
  const between = (a: Vec3, b: Vec3): Vec3 => add(lerp(a, b, 0.5), [-0.0005, 0, 0]);
  const [index, middle, ring, little] = roots as [Vec3, Vec3, Vec3, Vec3];
  return [
    add(index, [-0.002, halfWidth[0]!, 0]),
    index,
    between(index, middle),
    middle,
    between(middle, ring),
    ring,
    between(ring, little),
    little,
    add(little, [-0.003, -halfWidth[3]!, 0]),
  ];
}

function buildPalm(mesh: QuadMesh<BodyTag>, wrist: readonly number[]): number[][] {
  const ends = columnEnds();
  let previous = wrist;
  return ROWS.map((t, row) => {
    const last = row === ROWS.length - 1;
    const ring = Array.from({ length: SPOKES }, (_, spoke) => {
      const { column, face } = palmPlace(spoke);
      const end = ends[column]!;
      // origins stay inside the hand
      const breadth = 0.86 * (column === 0 || column === 8 ? 0.93 : 1);
      const from = onHand(
        mix(-0.006, end[0], t),
        mix(WRIST_COLUMNS[column]! * 1.15, end[1], Math.pow(t, 0.8)) * breadth,
        mix(0, end[2], t) - 0.004 * Math.sin(Math.PI * t),
      );
      const aside = (4 - column) / 4;
      const fan = aside * mix(0.35, 1.1, Math.pow(1 - t, 1.5)) * (Math.abs(aside) > 0.9 ? 1.6 : 1);
      const out =
        face === "back" || face === "palm"
          ? normalize(add(scale(HAND_UP, face === "back" ? 1 : -1), scale(RADIAL, fan)))
          : scale(RADIAL, face === "thumb side" ? 1 : -1);
      const p = castRay(last ? handForm : thumblessForm, from, out, 0.035) ?? addScaled(from, out, 0.008);
      return mesh.add(p, {
        region: "palm",
        row,
        spoke,
        column,
        form: last ? null : row < 5 ? webbedHandForm : thumblessForm,
        pin: last ? 1 : row < 5 ? 0.25 : 0.5,
      });
    });
    const inThumb = row === THUMB_WINDOW.rows[1] || row === THUMB_WINDOW.rows[2];
    for (let spoke = 0; spoke < SPOKES; spoke++) {
      if (inThumb && (spoke === 4 || spoke === 5)) continue;
      const next = around(spoke + 1);
      mesh.quads.push([previous[spoke]!, ring[spoke]!, ring[next]!, previous[next]!]);
    }
    previous = ring;
    return ring;
  });
}

/** A vertex in the middle of each web; its neighbours above and below are drawn in. */
function placeWebs(mesh: QuadMesh<BodyTag>, end: readonly number[]): number[] {
  const { points } = mesh;
  const sides = [0, 1, 2].map((i) => [end[around(2 - 2 * i)]!, end[8 + 2 * i]!] as const);
  const webs = sides.map(([back, palm], i) =>
    mesh.add(lerp(points[back]!, points[palm]!, 0.5), { region: "web", column: 2 * i + 2, form: null, pin: 1 }),
  );
  sides.forEach(([back, palm], i) => {
    points[back] = addScaled(addScaled(points[back]!, HAND_UP, -0.0015), HAND, -0.003);
    points[palm] = addScaled(addScaled(points[palm]!, HAND_UP, 0.001), HAND, 0.002);
    points[webs[i]!] = addScaled(lerp(points[back]!, points[palm]!, 0.5), HAND, 0.001);
  });
  return webs;
}

/**
 * One ring of a digit: the bone, a distance along it, the next bone with whose direction its plane is shared (0 none),
 * and how it is held.
 */
type RingSpec = readonly [bone: 0 | 1 | 2, along: number, sharedWith: 0 | 1 | 2, firm: boolean];

function buildFinger(mesh: QuadMesh<BodyTag>, end: readonly number[], webs: readonly number[], i: number): void {
  const digit = FINGERS[i]!;
  const towardIndex = i === 0 ? end[5]! : webs[i - 1]!;
  const towardLittle = i === 3 ? end[15]! : webs[i]!;
  const base = [
    end[around(4 - 2 * i)]!,
    end[around(3 - 2 * i)]!,
    end[around(2 - 2 * i)]!,
    towardLittle,
    end[8 + 2 * i]!,
    end[7 + 2 * i]!,
    end[6 + 2 * i]!,
    towardIndex,
  ];
  const [l1, l2, l3] = digit.lengths;
  const start = FINGER_ROOTS[i]! + 0.0055;
  const specs: RingSpec[] = [
    [0, start, 0, false],
    [0, mix(start, l1 - 0.0062, 0.5), 0, true],
    [0, l1 - 0.0062, 0, true],
    [0, l1 - 0.0004, 1, true],
    [1, 0.0058, 0, true],
    [1, l2 * 0.5, 0, true],
    [1, l2 - 0.0052, 0, true],
    [1, l2 - 0.0003, 2, true],
    [2, 0.005, 0, true],
    [2, l3 * 0.52, 0, true],
    [2, l3 * 0.74, 0, true],
    [2, l3 * 0.9, 0, true],
  ];
  let previous = base;
  specs.forEach(([bone, along, sharedWith, firm], ring) => {
    const from = addScaled(digit.points[bone], digit.directions[bone], along);
    const direction = sharedWith
      ? normalize(add(digit.directions[bone], digit.directions[sharedWith]))
      : digit.directions[bone];
    const square = normalize(cross(direction, digit.side));
    const up = dot(square, HAND_UP) < 0 ? scale(square, -1) : square;
    const form: Field = firm ? digit.form : fingerForms[i]!;
    const ids = Array.from({ length: 8 }, (_, q) => {
      const angle = radians(45 - 45 * q);
      const out = add(scale(digit.side, Math.sin(angle)), scale(up, Math.cos(angle)));
      return mesh.add(surfaceFrom(form, from, out, 0.016), {
        region: "finger",
        finger: i,
        ring,
        form,
        pin: firm ? 1 : 0.5,
      });
    });
    mesh.bridge(previous, ids);
    previous = ids;
  });
  const tip = mesh.add(
    surfaceFrom(digit.form, addScaled(digit.points[2], digit.directions[2], l3 * 0.55), digit.directions[2], 0.03),
    { region: "finger", finger: i, ring: 11, form: digit.form, pin: 1 },
  );
  capDigit(mesh, previous, tip);
}

/** Four quads over a ring of eight, round a vertex at the tip. */
function capDigit(mesh: QuadMesh<BodyTag>, ring: readonly number[], tip: number): void {
  const [a, b, c, d, e, f, g, h] = ring as unknown as [number, number, number, number, number, number, number, number];
  const quads: Quad[] = [
    [b, tip, h, a],
    [c, d, tip, b],
    [d, e, f, tip],
    [tip, f, g, h],
  ];
  mesh.quads.push(...quads);
}

function buildThumb(mesh: QuadMesh<BodyTag>, rows: readonly (readonly number[])[]): void {
  const [near, middle, far] = THUMB_WINDOW.rows.map((r) => rows[r]!) as [
    readonly number[],
    readonly number[],
    readonly number[],
  ];
  const base = [near[4]!, middle[4]!, far[4]!, far[5]!, far[6]!, middle[6]!, near[6]!, near[5]!];
  const [l1, l2, l3] = THUMB.lengths;
  // bone, distance along it, bone with whose direction the plane is shared, and how far the ring has turned from the
  // palm's plane into the thumb's
  const specs: (readonly [bone: 0 | 1 | 2, along: number, sharedWith: 0 | 1 | 2, turned: number])[] = [
    [0, l1 * 0.72, 0, 0.62],
    [0, l1 - 0.006, 0, 0.95],
    [0, l1 - 0.0005, 1, 1],
    [1, 0.008, 0, 1],
    [1, l2 * 0.55, 0, 1],
    [1, l2 - 0.0065, 0, 1],
    [1, l2 - 0.0003, 2, 1],
    [2, 0.006, 0, 1],
    [2, l3 * 0.48, 0, 1],
    [2, l3 * 0.72, 0, 1],
    [2, l3 * 0.9, 0, 1],
  ];
  const rings = specs.map(([bone, along, sharedWith, turned], ring) => {
    const own = sharedWith
      ? normalize(add(THUMB.directions[bone], THUMB.directions[sharedWith]))
      : THUMB.directions[bone];
    return thumbRing(
      mesh,
      addScaled(THUMB.points[bone], THUMB.directions[bone], along),
      normalize(lerp(RADIAL, own, turned)),
      ring,
    );
  });
  rings[0]!.forEach(
    (v, q) =>
      (mesh.points[v] = projectTo(webbedHandForm, lerp(mesh.points[base[q]!]!, mesh.points[rings[1]![q]!]!, 0.5), {
        maxStep: 0.006,
        rounds: 6,
      })),
  );
  let previous: readonly number[] = base;
  for (const ring of rings) {
    mesh.bridge(previous, ring);
    previous = ring;
  }
  const tip = mesh.add(
    surfaceFrom(THUMB.form, addScaled(THUMB.points[2], THUMB.directions[2], l3 * 0.5), THUMB.directions[2], 0.03),
    { region: "thumb", ring: 10, form: thumbForm, pin: 1 },
  );
  capDigit(mesh, previous, tip);
}

/** Eight vertices round the thumb; on the side of the hand the reach is short, so that the web stays a web. */
function thumbRing(mesh: QuadMesh<BodyTag>, from: Vec3, direction: Vec3, ring: number): number[] {
  const up = normalize(alongSurface(normalize(add(scale(RADIAL, 0.55), scale(HAND_UP, 0.75))), direction));
  const square = normalize(cross(direction, up));
  const side = dot(square, HAND) < 0 ? scale(square, -1) : square;
  return Array.from({ length: 8 }, (_, q) => {
    const angle = radians((q - 1) * 45);
    const out = add(scale(up, Math.cos(angle)), scale(side, Math.sin(angle)));
    const p = surfaceFrom(thumbForm, from, out, q >= 2 && q <= 4 ? 0.0122 : 0.026);
    return mesh.add(p, { region: "thumb", ring, form: webbedHandForm, pin: ring ? 0.5 : 0 });
  });
}
