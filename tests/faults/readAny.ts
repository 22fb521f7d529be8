import { runChecks } from "../../core/checks/runChecks";
import { PROFILES, profileSchema } from "../../core/checks/profile";
import { addClip, addPart } from "../../core/intake/addThings";
import { bringAdditions } from "../../core/intake/bringAdditions";
import { decodeCharacter, encodeCharacter } from "../../core/formats/container";
import { readDelivery } from "../../core/intake/readDelivery";
import { applyStep } from "../../core/ledger/applyStep";
import { decodeDeltas, encodeDeltas } from "../../core/ledger/deltasBlob";
import { readLedgerFile } from "../../core/ledger/ledgerFile";
import { replay } from "../../core/ledger/replay";
import { stepSchema } from "../../core/ledger/steps";
import { assertCharacter } from "../../core/model/assertCharacter";
import type { Character } from "../../core/model/character";
import { isUserError } from "../../core/model/userError";
import { bringTargets } from "../../core/wrap/targets/bringTargets";
import { readJointMap } from "../../core/skeleton/jointMapFile";
import { shrinkImage } from "../../core/edits/textures/shrinkImage";
import { applyPaint } from "../../core/weights/keptPaint";
import { openScan } from "../../core/wrap/openScan";
import { fullCharacter, type Seed } from "./seeds";

/** What became of a file. */
export type Outcome =
  | { readonly kind: "read" }
  | { readonly kind: "refused"; readonly words: string }
  | { readonly kind: "fault"; readonly stack: string };

const full = fullCharacter();
const parse = (bytes: Uint8Array): unknown => {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return null;
  }
};

/** A character that was taken must hold together, be checked without a fault, and be stored and read again as it is. */
async function proveWhole(character: Character): Promise<void> {
  assertCharacter(character);
  await runChecks(character, PROFILES.realtime);
  const place = difference(character, decodeCharacter(encodeCharacter(character)));
  if (place !== null) throw new Error(`it is stored otherwise than it was read: ${place}`);
}

/** The first place where two values differ, or null. */
function difference(a: unknown, b: unknown, at = ""): string | null {
  if (Object.is(a, b) || (a === undefined && b === null)) return null;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null)
    return `${at} ${String(a)} ${String(b)}`;
  if (ArrayBuffer.isView(a))
    return ArrayBuffer.isView(b) &&
      (a as Uint8Array).length === (b as Uint8Array).length &&
      (a as Uint8Array).every((x, i) => Object.is(x, (b as Uint8Array)[i]))
      ? null
      : at;
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
    const found = difference((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key], `${at}.${key}`);
    if (found !== null) return found;
  }
  return null;
}

async function read({ way, name, bytes, beside = [] }: Seed): Promise<void> {
  switch (way) {
    case "delivery":
    case "clip":
    case "part":
      return proveWhole((await readDelivery([{ name, bytes }, ...beside])).character);
    case "target": {
      const before = encodeCharacter(full);
      for (const t of await bringTargets(full, [{ name, bytes }], { smoothRounds: 0, smoothStrength: 0 }))
        if (!t.refused)
          await proveWhole(
            applyStep(
              full,
              {
                op: "add shapes",
                source: "files",
                items: [{ name: "brought", label: "brought", blob: "0".repeat(64) }],
              },
              () => encodeDeltas(full, t.deltas),
            ),
          );
      if (encodeCharacter(full).some((x, i) => x !== before[i])) throw new Error("the character was changed");
      await bringAdditions(full, [{ name, bytes }]);
      return;
    }
    case "scan":
      return void (await openScan(full, { name, bytes }, true));
    case "textures":
      return void shrinkImage(bytes, 2, name);
    case "ledger": {
      const file = readLedgerFile(new TextDecoder().decode(bytes), name);
      return proveWhole((await replay(full, file.names, file.steps, () => undefined, PROFILES.realtime)).character);
    }
    case "joint map":
      return void readJointMap(new TextDecoder().decode(bytes), name, full.skeleton!);
    case "profile": {
      const profile = profileSchema.safeParse(parse(bytes));
      if (profile.success) await runChecks(full, profile.data);
      return;
    }
    case "deltas": {
      const deltas = decodeDeltas(full, bytes);
      return proveWhole({ ...full, shapes: [...full.shapes, { name: "brought", label: "brought", deltas }] });
    }
    case "paint":
      return proveWhole(applyPaint(full, "limb", bytes));
    case "added part":
      return proveWhole(addPart(full, bytes));
    case "added clip":
      return proveWhole(addClip(full, bytes));
    case "container":
      return void decodeCharacter(bytes);
    case "step": {
      const step = stepSchema.safeParse(parse(bytes));
      if (step.success) await proveWhole(applyStep(full, step.data, () => encodeDeltas(full, full.shapes[0]!.deltas)));
    }
  }
}

/** Words that come from a library or the language and tell a person nothing. */
const FOREIGN_WORDS =
  /Cannot read prop|is not a function|is not iterable|undefined|\[object|at .*\.ts|Maximum call|Invalid (array|typed)|out of memory|not defined|Unexpected token|JSON at position|assertCharacter|NaN mm|Infinity mm|null mm/i;

/** Reads a file as the program would, and says what became of it. */
export async function outcomeOf(seed: Seed): Promise<Outcome> {
  try {
    await read(seed);
    return { kind: "read" };
  } catch (error) {
    if (!isUserError(error))
      return { kind: "fault", stack: error instanceof Error ? (error.stack ?? error.message) : String(error) };
    if (FOREIGN_WORDS.test(error.message))
      return { kind: "fault", stack: `words of a library are told: ${error.message}` };
    return { kind: "refused", words: error.message };
  }
}
