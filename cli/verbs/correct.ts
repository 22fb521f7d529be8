import path from "node:path";
import { movedWords, takeSculpt } from "../../core/correctives/takeSculpt";
import { makeRig } from "../../core/deform/rig";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { UserError } from "../../core/model/userError";
import { driverFrom, momentFrom, type MomentOptions } from "../options";
import { readBytes, readCharacter } from "../readCharacter";
import { writeOut } from "../writeOut";
import { printJson } from "../printJson";

type CorrectOptions = MomentOptions & {
  readonly sculpt: string;
  readonly name: string;
  readonly driver: string[];
  readonly out: string;
  readonly sure?: boolean;
  readonly json?: boolean;
};

export async function correct(file: string, options: CorrectOptions): Promise<number> {
  checkOptions(options);
  const { character } = await readCharacter(file);
  if (character.shapes.some((s) => s.name === options.name))
    throw new UserError(`A shape named ${options.name} exists already.`, "--name", "Choose another name.");
  const moment = momentFrom(character, options);
  const driver = options.driver[0] !== undefined ? driverFrom(character, options.driver[0], options.name) : null;
  const sculptName = path.basename(options.sculpt);
  const made = takeSculpt(makeRig(character), moment, readBytes(options.sculpt), sculptName);
  if (made.doubt && !options.sure)
    throw new UserError(made.doubt, sculptName, "Name the pose it was sculpted in with --joint, or say --sure.");
  if (made.deltas.length === 0)
    throw new UserError(
      "The sculpt is the same as the posed mesh: nothing was moved.",
      sculptName,
      "Sculpt it, keeping the vertex order.",
    );
  const out = {
    ...character,
    shapes: [...character.shapes, { name: options.name, label: options.name, deltas: made.deltas }],
    drivers: driver ? [...character.drivers, driver] : character.drivers,
  };
  writeOut(options.out, await writeGlb(out));
  const report = {
    file: path.basename(file),
    out: path.basename(options.out),
    shape: options.name,
    driver,
    vertices: made.deltas.reduce((n, d) => n + d.vertices.length, 0),
    residual: made.residual,
    moved: made.moved,
    notes: made.notes,
    notInvertible: made.ill.map((i) => ({ part: character.parts[i.part]!.name, vertices: Array.from(i.vertices) })),
  };
  if (options.json) printJson(report);
  else
    process.stdout.write(
      `${movedWords(made.moved)}${made.notes.map((n) => ` ${n}`).join("")}\n${options.name}: ` +
        `${report.vertices} vertices returned to rest; posed again it is ${made.residual.max.toFixed(4)} ` +
        `mm off at most, ${made.residual.rms.toFixed(4)} mm rms; ` +
        `${made.ill.reduce((n, i) => n + i.vertices.length, 0)} vertices cannot be inverted well and were damped\n`,
    );
  return 0;
}

/** Refuses what cannot be done whatever the file is. */
function checkOptions({ name, out, driver }: CorrectOptions): void {
  if (name.trim() === "") throw new UserError("The corrective has no name.", "--name", "Give it one.");
  if (path.extname(out).toLowerCase() !== ".glb")
    throw new UserError(
      `The corrected character is written as GLB, not ${path.extname(out) || "without a kind"}.`,
      "--out",
      "Name it OUT.glb.",
    );
  if (driver.length > 1)
    throw new UserError(
      `${driver.length} drivers are named; a corrective has one.`,
      "--driver",
      "Give one, or make a corrective for each.",
    );
}
