import { BufferAttribute, BufferGeometry, type Mesh } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { loadOda } from "../../demo/cast";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { threeInNode } from "../helpers/threeInNode";

/**
 * npm three as an independent reader: the normals of a written shape against the normals three computes for the moved
 * surface.
 */
threeInNode();

const oda = await loadOda();
const names = ["AU12_left", "AU26", "AU43_right"];
const bytes = await writeGlb({ ...oda, clips: [], shapes: oda.shapes.filter((s) => names.includes(s.name)) });
const gltf = await new GLTFLoader().parseAsync(bytes.slice().buffer, "");
const meshes: Mesh[] = [];
gltf.scene.traverse((o) => (o as Mesh).isMesh && meshes.push(o as Mesh));

describe("shapes that carry normals", () => {
  const body = meshes
    .filter((m) => m.geometry.morphAttributes["normal"]?.length)
    .sort((a, b) => b.geometry.getAttribute("position").count - a.geometry.getAttribute("position").count)[0]!;
  const base = body.geometry.getAttribute("normal");
  it.each(names)(
    "%s turns them as its surface turns: within 4 degrees of " +
      "three's own on average where it moves, and not at all elsewhere",
    (name) => {
      const target = body.morphTargetDictionary![name]!;
      const [moves, turns] = [
        body.geometry.morphAttributes["position"]![target]!,
        body.geometry.morphAttributes["normal"]![target]!,
      ];
      const moved = new BufferGeometry();
      const P = body.geometry.getAttribute("position");
      expect(body.geometry.morphTargetsRelative).toBe(true);
      // attributes may lie interleaved: they are read by component
      moved.setAttribute(
        "position",
        new BufferAttribute(
          Float32Array.from(
            { length: 3 * P.count },
            (_, i) => P.getComponent(Math.floor(i / 3), i % 3) + moves.getComponent(Math.floor(i / 3), i % 3),
          ),
          3,
        ),
      );
      // the whole surface as one: materials cut it into pieces, the normals go across them
      moved.setIndex(
        meshes
          .filter(
            (m) => m.geometry.getAttribute("position") === P || m.geometry.getAttribute("position").count === P.count,
          )
          .flatMap((m) => Array.from(m.geometry.getIndex()!.array)),
      );
      moved.computeVertexNormals();
      const theirs = moved.getAttribute("normal");
      let sum = 0;
      let count = 0;
      let still = 0;
      for (let v = 0; v < P.count; v++) {
        const n = [0, 1, 2].map((c) => base.getComponent(v, c) + turns.getComponent(v, c));
        const d = [0, 1, 2].map((c) => turns.getComponent(v, c));
        const l = Math.hypot(...n);
        if (Math.hypot(...d) < 1e-3) {
          still++;
          continue;
        }
        sum +=
          Math.acos(
            Math.min(
              1,
              Math.max(
                -1,
                n.reduce((s, x, c) => s + (x / l) * theirs.getComponent(v, c), 0),
              ),
            ),
          ) *
          (180 / Math.PI);
        count++;
      }
      expect(count).toBeGreaterThan(200);
      expect(still).toBeGreaterThan(0.5 * P.count);
      expect(sum / count).toBeLessThan(4);
    },
  );
});
