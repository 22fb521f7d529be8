import { partOf } from "../../tests/helpers/characters";
import { randomFrom } from "../math/random";
import { triangulate, type Part } from "../model/character";
import { computeTangents } from "./computeTangents";
import { drawnNormals } from "./placeNormals";
import { ShadedSurface } from "./shadedSurface";

const SIDE = 9;

/**
 * A wavy cloth of quads with a seam: along its middle every vertex is there twice, each with a texture coordinate of
 * its own. One face in three is cut into triangles, and three quads are one face of eight corners.
 */
function cloth(hard: boolean): Part {
  const random = randomFrom(3);
  const points: [number, number, number][] = [];
  const uvs: number[] = [];
  const seam = new Map<number, number>();
  for (let r = 0; r < SIDE; r++)
    for (let c = 0; c < SIDE; c++) {
      points.push([0.1 * c, 0.1 * r, 0.05 * Math.sin(c + 2 * r)]);
      uvs.push(c / SIDE + 0.02 * random(), r / SIDE);
    }
  const middle = SIDE >> 1;
  for (let r = 0; r < SIDE; r++) {
    const v = r * SIDE + middle;
    seam.set(v, points.push([...points[v]!]) - 1);
    uvs.push(0.95, r / SIDE);
  }
  const faces: number[][] = [];
  const at = (r: number, c: number, right: boolean): number => {
    const v = r * SIDE + c;
    return right ? (seam.get(v) ?? v) : v;
  };
  for (let r = 0; r + 1 < SIDE; r++)
    for (let c = 0; c + 1 < SIDE; c++) {
      const right = c >= middle;
      if (r === 0 && (c === 1 || c === 2)) continue;
      if (r === 0 && c === 0) {
        faces.push([
          at(0, 0, false),
          at(0, 1, false),
          at(0, 2, false),
          at(0, 3, false),
          at(1, 3, false),
          at(1, 2, false),
          at(1, 1, false),
          at(1, 0, false),
        ]);
        continue;
      }
      const quad = [at(r, c, right), at(r, c + 1, right), at(r + 1, c + 1, right), at(r + 1, c, right)];
      if ((r + c) % 3 === 0) faces.push([quad[0]!, quad[1]!, quad[2]!], [quad[0]!, quad[2]!, quad[3]!]);
      else faces.push(quad);
    }
  // with a hard edge along the seam the two sides share no normal
  const smooth = Uint32Array.from(points, (_, v) =>
    hard ? v : v < SIDE * SIDE ? v : (v - SIDE * SIDE) * SIDE + middle,
  );
  return partOf("cloth", points, faces, { uvs: Float32Array.from(uvs), smooth });
}

describe.each([
  ["a seam that is smooth", false],
  ["a seam with a hard edge", true],
])("a surface with %s", (_, hard) => {
  const part = cloth(hard);
  const surface = new ShadedSurface(part, true);
  const { triangles } = triangulate(part);
  const whole = (positions: Float32Array): { normals: Float32Array; tangents: Float32Array } => {
    const normals = drawnNormals(part)(positions);
    return { normals, tangents: computeTangents(positions, part.uvs!, triangles, normals) };
  };

  test("at rest has the normals and tangents of all its faces", () => {
    const { normals, tangents } = whole(part.positions);
    expect(surface.normals).toEqual(normals);
    expect(surface.tangents).toEqual(tangents);
  });

  test("moved in places has to the last bit what it would have if all were computed, and the rest stays", () => {
    const random = randomFrom(11);
    let others = 0;
    for (let round = 1; round <= 25; round++) {
      const there = part.positions.slice();
      const moved = new Set(Array.from({ length: 1 + (round % 4) }, () => Math.floor(random() * (there.length / 3))));
      // a seam moves on both its sides
      for (const v of [...moved])
        for (let w = 0; w < there.length / 3; w++)
          if ([0, 1, 2].every((k) => part.positions[3 * w + k] === part.positions[3 * v + k])) moved.add(w);
      const by = [0, 1, 2].map(() => 0.08 * (random() - 0.5));
      for (const v of moved) for (let k = 0; k < 3; k++) there[3 * v + k]! += by[k]!;
      const now = surface.at(there, Uint32Array.from(moved));
      const [normals, tangents] = [surface.normals.slice(), surface.tangents!.slice()];
      now.vertices.forEach((v, i) => {
        normals.set(now.normals.subarray(3 * i, 3 * i + 3), 3 * v);
        tangents.set(now.tangents!.subarray(4 * i, 4 * i + 4), 4 * v);
      });
      const all = whole(there);
      expect(normals).toEqual(all.normals);
      expect(tangents).toEqual(all.tangents);
      others += there.length / 3 - now.vertices.length;
    }
    expect(others).toBeGreaterThan(25 * 20);
  });
});
