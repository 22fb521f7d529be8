import path from "node:path";
import { clipSeconds } from "../../core/clips/motion";
import { maxDeltaMm } from "../../core/measure/measureShapes";
import { statureOf } from "../../core/measure/stature";
import { triangleCountOf, vertexCountOf, type Character } from "../../core/model/character";
import { sideOfBone } from "../../core/names/humanoidBones";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { readCharacterOrClips } from "../readCharacter";
import { table } from "../table";
import { printJson } from "../printJson";

export async function inspect(file: string, options: { json?: boolean }): Promise<number> {
  const { character, sha256, format } = await readCharacterOrClips(file);
  const report = reportOf(character, { file: path.basename(file), sha256, format });
  if (options.json) printJson(report);
  else process.stdout.write(asText(report, character.notes));
  return 0;
}

interface Source {
  readonly file: string;
  readonly sha256: string;
  readonly format: string;
}

function reportOf(character: Character, { file, sha256, format }: Source) {
  const map = character.skeleton && humanoidMap(character.skeleton, character.jointMap);
  return {
    file,
    sha256,
    format,
    units: format === "obj" ? null : "m",
    up: format === "obj" ? null : "+Y",
    stature: statureOf(character),
    parts: character.parts.map((part, p) => ({
      name: part.name,
      kind: part.kind,
      vertices: vertexCountOf(part),
      triangles: triangleCountOf(part),
      materials: [...new Set(part.groups.map((g) => character.materials[g.material]!.name))],
      shapes: character.shapes.filter((s) => s.deltas.some((d) => d.part === p)).map((s) => s.name),
    })),
    joints: (character.skeleton?.joints ?? []).map((j, i) => {
      const humanoid = map?.boneOfJoint[i] ?? null;
      return {
        name: j.name,
        parent: j.parent < 0 ? null : character.skeleton!.joints[j.parent]!.name,
        humanoid,
        side: humanoid && sideOfBone(humanoid),
      };
    }),
    shapes: character.shapes.map((s) => ({
      name: s.name,
      parts: s.deltas.map((d) => character.parts[d.part]!.name),
      maxDelta: maxDeltaMm(s) / 1000,
    })),
    clips: character.clips.map((c) => ({ name: c.name, seconds: clipSeconds(c), tracks: c.tracks.length })),
  };
}

const asText = (report: ReturnType<typeof reportOf>, notes: readonly string[]): string =>
  [
    `${report.file}  ${report.format}  stature ${report.stature.toFixed(3)} ` +
      `${report.units ?? "(file units)"}  sha256 ${report.sha256.slice(0, 16)}\n`,
    `${table(
      ["part", "kind", "vertices", "triangles", "shapes", "materials"],
      report.parts.map((p) => [p.name, p.kind, p.vertices, p.triangles, p.shapes.length, p.materials.join(", ")]),
    )}\n`,
    `${table(
      ["joint", "parent", "humanoid"],
      report.joints.map((j) => [j.name, j.parent ?? "-", j.humanoid ?? "-"]),
    )}\n`,
    table(
      ["shape", "largest movement, mm", "parts"],
      report.shapes.map((s) => [s.name, s.maxDelta * 1000, s.parts.join(", ")]),
    ),
    ...report.clips.map((clip) => `clip ${clip.name}: ${clip.seconds.toFixed(2)} s, ${clip.tracks} tracks`),
    ...notes.map((note) => `note: ${note}`),
  ]
    .map((line) => `${line}\n`)
    .join("");
