import { mkdirSync } from "node:fs";
import path from "node:path";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeObj } from "../../core/formats/obj/writeObj";
import { writeTextGrid } from "../../core/formats/textgrid/writeTextGrid";
import { blendShapes, makeRig } from "../../core/deform/rig";
import type { Character } from "../../core/model/character";
import { UserError } from "../../core/model/userError";
import { CAST, cleanTarn, loadMember } from "../../demo/cast";
import { foreignClip } from "../../demo/clips/foreignClip";
import { foreignName, fromT } from "../../demo/clips/foreignSkeleton";
import { alignLine, LINES } from "../../demo/lines/lines";
import { headScan, objOf } from "../../demo/scans/scanOf";
import { takeCsv, TAKES } from "../../demo/takes/takes";
import { writeObjBesideLibrary } from "../writeObjFiles";
import { writeOut, writeSet } from "../writeOut";

/**
 * Writes the made-up cast: a GLB each, an OBJ base with its OBJ targets, clips as BVH, lines as TextGrid, tracker takes
 * as CSV and JSON, a head as if scanned.
 */
export async function demo(outDir: string): Promise<number> {
  if (outDir === "") throw new UserError("No folder is named.", "OUTDIR", "Name one.");
  const into = (...names: string[]): string => path.join(outDir, ...names);
  try {
    for (const dir of ["oda-obj", "clips", "lines", "takes", "scans"]) mkdirSync(into(dir), { recursive: true });
  } catch {
    throw new UserError("The folder cannot be made.", outDir, "");
  }
  for (const { id } of CAST) writeOut(into(`${id}.glb`), await writeGlb(await loadMember(id)));
  const oda = await loadMember("oda");
  writeOut(into("scans", "tarn-head.obj"), objOf(headScan(cleanTarn(oda))));
  writeTargets(oda, into);
  await writeClips(oda, into);
  writeLines(into);
  writeTakes(into);
  process.stdout.write(
    `${CAST.map((m) => `${m.id}.glb`).join(", ")}; oda-obj/oda.obj and ${oda.shapes.length} targets; ` +
      `${oda.clips.length + 2} clips, ${LINES.length} lines, ${TAKES.length} takes, 1 scanned head in ${outDir}\n`,
  );
  return 0;
}

type Into = (...names: string[]) => string;
const fileName = (name: string): string => name.replaceAll(" ", "-");

/** The character's base and one target a shape, as OBJ. */
function writeTargets(oda: Character, into: Into): void {
  const rig = makeRig(oda);
  writeSet(into("oda-obj"), () => {
    writeObjBesideLibrary(
      oda,
      oda.parts.map((p) => p.positions),
      into("oda-obj"),
      "oda",
    );
    oda.shapes.forEach((shape, s) => {
      const weights = new Float32Array(oda.shapes.length);
      weights[s] = 1;
      const positions = oda.parts.map((p, i) => {
        const out = new Float32Array(p.positions.length);
        blendShapes(rig, i, weights, out);
        return out;
      });
      writeOut(into("oda-obj", `${shape.name}.obj`), writeObj(oda, positions));
    });
  });
}

/** The character's clips, and its walk on a skeleton that is built otherwise. */
async function writeClips(oda: Character, into: Into): Promise<void> {
  for (const clip of oda.clips)
    writeOut(into("clips", `${fileName(clip.name)}.bvh`), writeBvh(oda.skeleton!, clip, { unitsPerMetre: 1 }));
  const walk = oda.clips.find((c) => c.name === "walk")!;
  const foreign = { unitsPerMetre: 100, rename: foreignName, restTurn: fromT };
  writeOut(into("clips", "walk-other-skeleton.bvh"), writeBvh(oda.skeleton!, walk, foreign));
  writeOut(into("clips", "walk-other-skeleton.glb"), await writeGlb(foreignClip(oda, walk)));
}

function writeLines(into: Into): void {
  for (const line of LINES) {
    const { words, phones } = alignLine(line);
    const tiers = [
      { name: "words", intervals: words },
      { name: "phones", intervals: phones },
    ];
    writeOut(into("lines", `${line.id}.TextGrid`), writeTextGrid(tiers));
  }
}

function writeTakes(into: Into): void {
  for (const take of TAKES) {
    const name = fileName(take.hello.take);
    writeOut(into("takes", `${name}.csv`), takeCsv(take));
    writeOut(into("takes", `${name}.json`), JSON.stringify(take));
  }
}
