import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { decodeCharacter, encodeCharacter } from "../core/formats/container";
import type { Character } from "../core/model/character";
import { plantFaults } from "./faults/plantFaults";
import { CLIP_SCORES } from "./clips/clipScores";
import { makeClip } from "./clips/makeClip";
import { plantTarnFaults } from "./faults/plantTarnFaults";
import { redeliver } from "./faults/redeliver";
import { withHair } from "./people/headwear";
import { makePerson } from "./people/makePerson";
import { withCorrectives, withLidHelpers } from "./people/withHelpers";
import { withCombinations } from "./people/givingWay";
import { TARN, WICK } from "./people/people";

/** One of the made-up cast: what the cast page says, and how the character is made of the base figure. */
export interface CastMember {
  readonly id: string;
  readonly role: string;
  readonly make: (base: Character) => Character;
}
const withClips = (character: Character): Character => ({
  ...character,
  clips: CLIP_SCORES.map((score) => makeClip(character, score)),
});
/** Tarn before he was exported: clean, with shapes of his own, which the delivered one lacks. */
export const cleanTarn = (base: Character): Character => withClips(makePerson(withHair(base, "under a cap"), TARN));

export const CAST: readonly CastMember[] = [
  { id: "oda-delivery-1", role: "Ferry pilot, as she first arrived", make: (base) => plantFaults(withClips(base)) },
  { id: "oda-delivery-2", role: "Ferry pilot, delivered again", make: (base) => redeliver(withClips(base)) },
  { id: "tarn", role: TARN.role, make: (base) => plantTarnFaults(cleanTarn(base)) },
  {
    id: "wick",
    role: WICK.role,
    make: (base) =>
      withCombinations(withLidHelpers(withCorrectives(withClips(makePerson(withHair(base, "cropped"), WICK))))),
  },
  { id: "oda", role: "Ferry pilot, Slackwater harbour museum", make: withClips },
];

const here = path.dirname(fileURLToPath(import.meta.url));

const ROOTS = [here, path.join(here, "..", "core")];

/** Hash of everything the cast is made of, so that a stored figure is used only while its sources are unchanged. */
function sourceHash(): string {
  const hash = createHash("sha256");
  const walk = (dir: string): void => {
    for (const entry of readdirSync(dir, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const full = path.join(dir, entry.name);
      if (entry.isDirectory()) walk(full);
      else if (/\.ts$/.test(entry.name) && !/\.test\./.test(entry.name))
        hash.update(entry.name).update(readFileSync(full));
    }
  };
  ROOTS.forEach(walk);
  return hash.digest("hex").slice(0, 16);
}

/** A character from the stored copy of this version of the generator when there is one, else made and stored. */
async function stored(id: string, make: () => Promise<Character> | Character): Promise<Character> {
  const dir = path.join(here, "..", ".cache", "demo");
  const file = path.join(dir, `${id}-${sourceHash()}.yxo`);
  if (existsSync(file)) return decodeCharacter(readFileSync(file));
  const bytes = encodeCharacter(await make());
  mkdirSync(dir, { recursive: true });
  const part = `${file}.${process.pid}`;
  writeFileSync(part, bytes);
  renameSync(part, file);
  return decodeCharacter(bytes);
}

/** The base figure, Oda without clips. */
export const loadOda = (): Promise<Character> => stored("base", async () => (await import("./oda")).buildOda());

/** One of the cast, ready made. Throws for an id that is not in it. */
export async function loadMember(id: string): Promise<Character> {
  const member = CAST.find((m) => m.id === id);
  if (!member) throw new Error(`loadMember: nobody in the cast is ${id}`);
  return stored(id, async () => member.make(await loadOda()));
}
