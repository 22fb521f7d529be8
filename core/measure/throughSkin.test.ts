import { boxPart, characterWith, partOf } from "../../tests/helpers/characters";
import { makeRig } from "../deform/rig";
import type { Part } from "../model/character";
import { makeWall, piercing } from "./throughSkin";

/** Skin as a closed box of 20 cm, each side cut into squares of 2 cm, with a bar inside it. */
function skin(): Part {
  const points: [number, number, number][] = [];
  const known = new Map<string, number>();
  const at = (p: [number, number, number]): number => {
    const key = p.map((x) => x.toFixed(4)).join();
    if (!known.has(key)) known.set(key, points.push(p) - 1);
    return known.get(key)!;
  };
  const faces: number[][] = [];
  const n = 10;
  for (const axis of [0, 1, 2])
    for (const side of [-1, 1])
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          const corner = (a: number, b: number): number => {
            const p: [number, number, number] = [0, 0, 0];
            p[axis] = 0.1 * side;
            p[(axis + 1) % 3] = 0.2 * (a / n) - 0.1;
            p[(axis + 2) % 3] = 0.2 * (b / n) - 0.1;
            return at(p);
          };
          const face = [corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)];
          faces.push(side > 0 ? face : face.reverse());
        }
  return partOf("skin", points, faces);
}
const bar = boxPart("teeth", [0.03, 0.01, 0.02], [0, 0, 0.075], "teeth");
const character = characterWith({ parts: [skin(), bar] });
const wall = makeWall(makeRig(character), 0, 1);
const P = character.parts[0]!.positions;
const moved = (by: number): Float32Array => bar.positions.map((x, i) => (i % 3 === 2 ? x + by : x));
/** The skin in front pressed back over the bar by so much. */
const pressed = (by: number): Float32Array =>
  P.map((x, i) => (i % 3 === 2 && x > 0.099 && Math.abs(P[i - 2]!) < 0.05 && Math.abs(P[i - 1]!) < 0.05 ? x - by : x));

describe("what stands out through the skin", () => {
  it("is nothing while it lies inside, and the wall is the skin round it", () => {
    expect(wall.rest).toBe(0);
    expect([...wall.skin.keys()].filter((v) => wall.skin[v]).every((v) => P[3 * v + 2]! > 0.02)).toBe(true);
    expect(piercing(wall, bar.positions, P)).toEqual({ depth: 0, vertices: [] });
  });
  it("is as deep as it was pushed out, at the vertices that are out, deepest first", () => {
    // the bar's front is 5 mm behind the skin
    const { depth, vertices } = piercing(wall, moved(0.012), P);
    expect(1000 * depth).toBeCloseTo(7, 3);
    expect(vertices.map(([v]) => v).sort()).toEqual([4, 5, 6, 7]);
  });
  it("is the same when the skin comes in instead", () => {
    expect(1000 * piercing(wall, bar.positions, pressed(0.012)).depth).toBeCloseTo(7, 3);
    expect(piercing(wall, bar.positions, pressed(0.004)).depth).toBe(0);
  });
  it("counts from either end of an edge: a bar wholly outside crosses nothing", () => {
    const back = bar.positions.map((x, i) => (i % 3 === 2 ? 0.2 - x : x));
    expect(
      1000 *
        piercing(
          wall,
          back.map((x, i) => (i % 3 === 2 ? x + -0.012 : x)),
          P,
        ).depth,
    ).toBeGreaterThan(0);
    expect(piercing(wall, moved(0.2), P).depth).toBe(0);
  });
  it("that is there at rest is known of the wall", () => {
    const out = makeWall(makeRig(characterWith({ parts: [skin(), { ...bar, positions: moved(0.01) }] })), 0, 1);
    expect(1000 * out.rest).toBeCloseTo(5, 3);
  });
});
