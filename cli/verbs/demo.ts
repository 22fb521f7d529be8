import { mkdirSync } from "node:fs";
import path from "node:path";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeObj } from "../../core/formats/obj/writeObj";
import { blendShapes, makeRig } from "../../core/deform/rig";
import { CAST, loadOda } from "../../demo/cast";
import { writeOut } from "./pose";
import { UserError } from "../../core/model/userError";

/** Writes the made-up cast: a GLB each, and an OBJ base with its OBJ targets. */
export async function demo(outDir: string): Promise<number> {
  const oda = await loadOda();
  const dir = path.join(outDir, "oda-obj");
  try {
    mkdirSync(dir, { recursive: true });
  } catch {
    throw new UserError("The folder cannot be made.", outDir, "");
  }
  for (const { id, make } of CAST) writeOut(path.join(outDir, `${id}.glb`), await writeGlb(make(oda)));
  const rig = makeRig(oda);
  writeOut(path.join(dir, "oda.obj"), writeObj(oda, oda.parts.map((p) => p.positions)));
  oda.shapes.forEach((shape, s) => {
    const weights = new Float32Array(oda.shapes.length);
    weights[s] = 1;
    const positions = oda.parts.map((p, i) => {
      const out = new Float32Array(p.positions.length);
      blendShapes(rig, i, weights, out);
      return out;
    });
    writeOut(path.join(dir, `${shape.name}.obj`), writeObj(oda, positions));
  });
  process.stdout.write(`${CAST.map((m) => `${m.id}.glb`).join(", ")}, oda-obj/oda.obj and ${oda.shapes.length} targets in ${outDir}\n`);
  return 0;
}
