import { createHash } from "node:crypto";
import { decodeCharacter, encodeCharacter } from "../core/formats/container";
import type { Character } from "../core/model/character";
import { CAST } from "./cast";
import { buildOda } from "./oda";

/** Hash of a character's bytes, written and read once, so that what shares a table in memory is told apart. */
export const hashOfCharacter = (c: Character): string =>
  createHash("sha256")
    .update(encodeCharacter(decodeCharacter(encodeCharacter(c))))
    .digest("hex");

/**
 * Makes members of the cast from nothing, without any stored copy, and prints the hash of each: the same on every run.
 */
if (process.argv[1]?.endsWith("remake.ts")) {
  const base = buildOda();
  for (const id of process.argv.slice(2))
    process.stdout.write(`${id} ${hashOfCharacter(CAST.find((m) => m.id === id)!.make(base))}\n`);
}
