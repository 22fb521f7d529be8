import { CHECKS } from "../checks/runChecks";
import type { Character, Driver, Mix, Shape, ShapeDriver } from "../model/character";
import { withTerms } from "../formats/vrm/vrmTerms";
import { mend, type MendPlace } from "../mend/mend";
import { withoutShape } from "../model/withoutShape";
import { mergeJoints } from "../additions/mergeJoints";
import { addClip, addPart } from "../additions/addThings";
import { applyRepair, describeRepair } from "../repairs/repairs";
import { renameThings } from "../names/renameThings";
import { rebind } from "../skeleton/rebind";
import { applyPaint } from "../weights/paintWeights";
import { changeWeights } from "../weights/changeWeights";
import { bakeMix } from "../shapes/bakeMix";
import { chooseShapes } from "../shapes/choice/chooseShapes";
import { deriveShapes, sourcesOf, withNewShape } from "../shapes/deriveShapes";
import { keepFollowing } from "../shapes/keepFollowing";
import { followSkin } from "../shapes/followSkin";
import { takeTextures } from "../textures/madeTextures";
import { untold, within, type ShareDone } from "../model/shareDone";
import { isUserError, UserError } from "../model/userError";
import { movedBase } from "../wrap/newIdentity";
import { boneLabel } from "../skeleton/humanoidBones";
import { decodeDeltas } from "./deltasBlob";
import type { Step } from "./steps";

export type BlobSource = (hash: string) => Uint8Array | undefined;

/**
 * Applies one step, and lets what follows the skin for good follow again.
 * @param tell how much of a long step is done; not all tell it.
 * @throws UserError when it cannot; then nothing has changed.
 */
export const applyStep = (character: Character, step: Step, blobs: BlobSource, tell: ShareDone = untold): Character =>
  keepFollowing(character, applied(character, step, blobs, tell));

function applied(character: Character, step: Step, blobs: BlobSource, tell: ShareDone): Character {
  const blob = (hash: string): Uint8Array => {
    const bytes = blobs(hash);
    if (!bytes)
      throw new UserError("The geometry of the step is missing.", step.op, "Restore the database from a copy.");
    return bytes;
  };
  const need = (name: string): Shape => {
    const shape = character.shapes.find((s) => s.name === name);
    if (!shape) throw new UserError(`There is no shape named ${name}.`, step.op, "");
    return shape;
  };
  switch (step.op) {
    case "map joint":
      if (!character.skeleton?.joints.some((j) => j.name === step.joint))
        throw new UserError(`There is no joint named ${step.joint}.`, step.op, "");
      return { ...character, jointMap: { ...withoutBone(character.jointMap, step.bone), [step.joint]: step.bone } };
    case "map joints": {
      const unknown = Object.keys(step.map).find((name) => !character.skeleton?.joints.some((j) => j.name === name));
      if (unknown !== undefined) throw new UserError(`There is no joint named ${unknown}.`, step.op, "");
      const bones = new Set(Object.values(step.map));
      return {
        ...character,
        jointMap: {
          ...Object.fromEntries(Object.entries(character.jointMap).filter(([, b]) => b === null || !bones.has(b))),
          ...step.map,
        },
      };
    }
    case "make correctives": {
      const made = step.items.map((item): { shape: Shape; driver: Driver } => {
        if (character.shapes.some((s) => s.name === item.name))
          throw new UserError(`A shape named ${item.name} exists already.`, step.op, "Choose another name.");
        if (!character.skeleton?.joints.some((j) => j.name === item.driver.joint))
          throw new UserError(`There is no joint named ${item.driver.joint}.`, step.op, "");
        return {
          shape: { name: item.name, label: item.label, deltas: decodeDeltas(character, blob(item.blob)) },
          driver: { ...item.driver, shape: item.name },
        };
      });
      const edited = new Map(
        (step.edits ?? []).map((e) => [need(e.name).name, { ...e, deltas: decodeDeltas(character, blob(e.blob)) }]),
      );
      const shapes = character.shapes.map((s) =>
        edited.has(s.name) ? { ...s, deltas: edited.get(s.name)!.deltas } : s,
      );
      const drivers = character.drivers.map((d) =>
        typeof edited.get(d.shape)?.fromDegrees === "number"
          ? { ...d, fromDegrees: edited.get(d.shape)!.fromDegrees! }
          : d,
      );
      return {
        ...character,
        shapes: [...shapes, ...made.map((m) => m.shape)],
        drivers: [...drivers, ...made.map((m) => m.driver)],
      };
    }
    case "edit corrective": {
      const old = need(step.name);
      return {
        ...character,
        shapes: character.shapes.map((s) =>
          s === old ? { ...old, deltas: decodeDeltas(character, blob(step.blob)) } : s,
        ),
      };
    }
    case "set driver":
      need(step.name);
      return {
        ...character,
        drivers: character.drivers.map((d) =>
          d.shape === step.name ? ({ ...d, ...given(step.driver) } as Driver) : d,
        ),
      };
    case "remove corrective":
      need(step.name);
      return withoutShape(character, step.name);
    case "add shapes":
      return step.items.reduce(
        (c, { name, label, blob: hash, driver }) =>
          withNewShape(c, { name, label, deltas: decodeDeltas(character, blob(hash)) }, driver),
        character,
      );
    case "derive shapes":
      return deriveShapes(character, step.items);
    case "edit shapes": {
      const edited = new Map(step.items.map((i) => [need(i.name), decodeDeltas(character, blob(i.blob))]));
      return {
        ...character,
        shapes: character.shapes.map((s) => (edited.has(s) ? { ...s, deltas: edited.get(s)! } : s)),
      };
    }
    case "set shape driver": {
      need(step.name);
      if (!character.shapeDrivers.some((d) => d.shape === step.name))
        throw new UserError(`${step.name} is set by no other shape.`, step.op, "");
      for (const n of step.driver.of ?? []) need(n);
      return {
        ...character,
        shapeDrivers: character.shapeDrivers.map((d) =>
          d.shape === step.name ? ({ ...d, ...given(step.driver) } as ShapeDriver) : d,
        ),
      };
    }
    case "set mix": {
      for (const m of step.mixes) for (const share of m.shares) need(share.shape);
      const made = new Map(
        step.mixes.map(({ blocks, ...m }): [string, Mix] => [m.name, blocks?.length ? { ...m, blocks } : m]),
      );
      const old = (character.mixes ?? []).map((m) => made.get(m.name) ?? m);
      return { ...character, mixes: [...old, ...[...made.values()].filter((m) => !old.includes(m))] };
    }
    case "remove mix":
      if (!character.mixes?.some((m) => m.name === step.name))
        throw new UserError(`There is no mix named ${step.name}.`, step.op, "");
      return { ...character, mixes: character.mixes.filter((m) => m.name !== step.name) };
    case "bake":
      return bakeMix(character, step.weights, step.keep);
    case "new face": {
      const unknown = step.jointOffsets.find((o) => !character.skeleton?.joints.some((j) => j.name === o.joint));
      if (unknown) throw new UserError(`There is no joint named ${unknown.joint}.`, step.op, "");
      const based = movedBase(character, decodeDeltas(character, blob(step.base)), step.jointOffsets);
      const carried = new Map(step.shapes.map((s) => [need(s.name).name, decodeDeltas(based, blob(s.blob))]));
      return {
        ...based,
        shapes: based.shapes.map((s) => (carried.has(s.name) ? { ...s, deltas: carried.get(s.name)! } : s)),
      };
    }
    case "choose shapes":
      return chooseShapes(character, step.choice);
    case "follow skin":
      return followSkin(character, step.follow);
    case "stop following":
      if (!character.follows?.some((f) => f.part === step.part))
        throw new UserError(`${step.part} follows nothing for good.`, step.op, "");
      return { ...character, follows: character.follows.filter((f) => f.part !== step.part) };
    case "remove shapes":
      for (const n of step.names) need(n);
      return step.names.reduce(withoutShape, character);
    case "mend":
      return step.made
        ? takeTextures(
            character,
            step.made.map((m) => ({ material: m.material, bytes: blob(m.blob) })),
          )
        : mend(character, step, tell);
    case "mend all":
      return mendAll(character, step.check, step.places, tell);
    case "remove clips": {
      const unknown = step.names.find((n) => !character.clips.some((c) => c.name === n));
      if (unknown !== undefined) throw new UserError(`There is no clip named ${unknown}.`, step.op, "");
      return { ...character, clips: character.clips.filter((c) => !step.names.includes(c.name)) };
    }
    case "vrm terms":
      return withTerms(character, step.terms);
    case "drive shapes":
      return step.items.reduce((c, i) => driveShape(c, need(i.name).name, i.driver, i.rule), character);
    case "bind in pose": {
      const unknown = Object.keys(step.pose).find((name) => !character.skeleton?.joints.some((j) => j.name === name));
      if (unknown !== undefined) throw new UserError(`There is no joint named ${unknown}.`, step.op, "");
      // turns away from the old rest say nothing in the new one
      return without(rebind(character, step.pose), "retargetPose");
    }
    case "retarget pose": {
      const unknown = Object.keys(step.turns ?? {}).find(
        (name) => !character.skeleton?.joints.some((j) => j.name === name),
      );
      if (unknown !== undefined) throw new UserError(`There is no joint named ${unknown}.`, step.op, "");
      return step.turns ? { ...character, retargetPose: step.turns } : without(character, "retargetPose");
    }
    case "add parts":
      return step.items.reduce((c, { blob: hash }) => addPart(c, blob(hash)), character);
    case "add joints":
      return mergeJoints(character, step.joints);
    case "add clips":
      return step.items.reduce((c, { blob: hash }) => addClip(c, blob(hash)), character);
    case "repair":
      return step.made
        ? takeTextures(
            character,
            step.made.map((m) => ({ material: m.material, bytes: blob(m.blob) })),
          )
        : applyRepair(character, step.repair, tell);
    case "part kind":
      if (!character.parts.some((p) => p.name === step.part))
        throw new UserError(`There is no part named ${step.part}.`, step.op, "");
      return {
        ...character,
        parts: character.parts.map((p) => (p.name === step.part ? { ...p, kind: step.kind } : p)),
      };
    case "change weights":
      return changeWeights(character, step.part, step.change);
    case "paint weights":
      return applyPaint(character, step.part, blob(step.blob));
    case "rename":
      return renameThings(character, step.kind, new Map(step.names.map((n) => [n.from, n.to])));
    case "accept finding":
    case "reopen finding":
      return character;
    default:
      // a ledger of a later version
      throw new UserError(
        `This version does not know the operation "${(step as { op: string }).op}".`,
        "ledger",
        "Open it with the version that made it.",
      );
  }
}

/**
 * Repairs at many places in one step; those that another of them has mended already are passed over. @throws UserError
 * when none could be made.
 */
function mendAll(
  character: Character,
  check: string,
  places: readonly Omit<MendPlace, "check">[],
  tell: ShareDone,
): Character {
  let [now, refused, made] = [character, null as unknown, 0];
  for (const [i, place] of places.entries()) {
    try {
      now = mend(now, { check, ...place }, within(tell, i / places.length, (i + 1) / places.length));
      made++;
    } catch (error) {
      if (!isUserError(error)) throw error;
      refused ??= error;
    }
    tell((i + 1) / places.length);
  }
  if (made === 0) throw refused;
  return now;
}

/**
 * A shape driven by a joint, set by other shapes, or by neither: then the hand sets it. @throws UserError for both at
 * once, or for what is not there.
 */
function driveShape(
  character: Character,
  name: string,
  driver: Omit<Driver, "shape"> | null,
  rule: Omit<ShapeDriver, "shape"> | null,
): Character {
  if (driver && rule)
    throw new UserError(
      "A shape is driven by a joint or set by other shapes, not both.",
      "drive shapes",
      "Choose one.",
    );
  if (driver && !character.skeleton?.joints.some((j) => j.name === driver.joint))
    throw new UserError(`There is no joint named ${driver.joint}.`, "drive shapes", "");
  const missing = rule?.of.find((n) => n === name || !character.shapes.some((s) => s.name === n));
  if (missing !== undefined)
    throw new UserError(
      missing === name ? `${name} cannot set itself.` : `There is no shape named ${missing}.`,
      "drive shapes",
      "",
    );
  return {
    ...character,
    drivers: [...character.drivers.filter((d) => d.shape !== name), ...(driver ? [{ ...driver, shape: name }] : [])],
    shapeDrivers: [
      ...character.shapeDrivers.filter((d) => d.shape !== name),
      ...(rule ? [{ ...rule, shape: name }] : []),
    ],
  };
}

const without = (character: Character, key: "retargetPose"): Character =>
  Object.fromEntries(Object.entries(character).filter(([k]) => k !== key)) as unknown as Character;

/** What a change of several settings sets. */
const given = <T extends object>(change: T): Partial<T> =>
  Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined)) as Partial<T>;

const withoutBone = (map: Character["jointMap"], bone: string | null): Character["jointMap"] =>
  bone === null ? map : Object.fromEntries(Object.entries(map).filter(([, b]) => b !== bone));

/** Runs steps in order on a base. */
export const applySteps = (base: Character, steps: readonly Step[], blobs: BlobSource): Character =>
  steps.reduce((c, s) => applyStep(c, s, blobs), base);

const placeWords = (f: {
  part: string | null;
  joint: string | null;
  shape: string | null;
  clip: string | null;
}): string =>
  `${f.part ? ` on ${f.part}` : ""}${f.joint ? ` at ${f.joint}` : ""}${f.shape ? ` for ${f.shape}` : ""}${f.clip ? ` in ${f.clip}` : ""}`;

/** What a check looks at, in words that go on in a sentence. */
const titleOf = (check: string): string => {
  const title = CHECKS.find((c) => c.id === check)?.title ?? check;
  return title[0]!.toLowerCase() + title.slice(1);
};

/** Up to two names, or how many there are. */
const few = (names: readonly string[], things: string): string =>
  names.length <= 2 ? names.join(" and ") : `${names.length} ${things}`;

/** A step as a sentence for the ledger. */
export function describeStep(step: Step): string {
  switch (step.op) {
    case "map joint":
      return step.bone ? `mapped ${step.joint} to ${boneLabel(step.bone)}` : `took ${step.joint} out of the joint map`;
    case "map joints":
      return `mapped ${Object.keys(step.map).length} joints by a saved map`;
    case "make correctives":
      return `${step.items.length > 2 ? `made ${step.items.length} correctives` : `made ${step.items.length > 1 ? "2 correctives" : "corrective"} ${step.items.map((i) => i.label).join(" and ")}`}${
        step.edits?.length
          ? `, and let ${few(
              step.edits.map((e) => e.name),
              "correctives",
            )} give way to ${step.items.length > 1 ? "them" : "it"}`
          : ""
      }`;
    case "edit corrective":
      return `sculpted corrective ${step.name} again`;
    case "set driver": {
      const d = step.driver;
      if (Object.keys(d).length === 1 && d.enabled !== undefined)
        return `switched corrective ${step.name} ${d.enabled ? "on" : "off"}`;
      if (Object.keys(d).length === 1 && d.intensity !== undefined)
        return `set the intensity of ${step.name} to ${d.intensity}`;
      return `changed what drives ${step.name}`;
    }
    case "remove corrective":
      return `removed corrective ${step.name}`;
    case "add shapes":
      return `took in ${few(
        step.items.map((i) => i.name),
        "shapes",
      )} from ${step.source}`;
    case "derive shapes":
      return `made ${few(
        step.items.map((i) => i.name),
        "shapes",
      )} from ${few([...new Set(step.items.flatMap((i) => sourcesOf(i.from)))], "shapes")}`;
    case "edit shapes":
      return `sculpted ${few(
        step.items.map((i) => i.name),
        "shapes",
      )} again`;
    case "set shape driver":
      return Object.keys(step.driver).length === 1 && step.driver.enabled !== undefined
        ? `switched ${step.name} ${step.driver.enabled ? "on" : "off"}`
        : `changed what sets ${step.name}`;
    case "set mix":
      return `set the mix of ${few(
        step.mixes.map((m) => m.name),
        "expressions",
      )}`;
    case "remove mix":
      return `removed the mix of ${step.name}`;
    case "bake":
      return `baked ${few(
        Object.keys(step.weights).filter((n) => step.weights[n] !== 0),
        "shapes",
      )} into the base${step.keep ? ", shapes kept" : ""}`;
    case "new face":
      return `took on the face of ${step.source}${step.shapes.length ? `, ${step.shapes.length} shapes carried to it` : ""}`;
    case "choose shapes":
      return `chose shapes by ${step.choice.rules.length === 1 ? "1 rule" : `${step.choice.rules.length} rules`}${step.choice.favourites.length ? ` and ${step.choice.favourites.length} favourites` : ""}`;
    case "follow skin":
      return `let ${step.follow.part} follow the skin in ${step.follow.shapes ? few(step.follow.shapes, "shapes") : "every shape"}, within ${step.follow.reachMm} mm${step.follow.keep ? ", for good" : ""}`;
    case "stop following":
      return `let ${step.part} follow no more`;
    case "remove shapes":
      return `removed ${few(step.names, "shapes")}`;
    case "mend":
      return `mended ${titleOf(step.check)}${placeWords(step)}`;
    case "mend all":
      return `mended ${step.places.length} of ${titleOf(step.check)}`;
    case "remove clips":
      return `removed ${few(step.names, "clips")}`;
    case "vrm terms":
      return `set the terms of the VRM, by ${few(step.terms.authors, "authors")}`;
    case "drive shapes": {
      const [only, ...more] = step.items;
      if (more.length) return `let joints and shapes set ${step.items.length} shapes`;
      return only!.driver
        ? `let ${only!.driver.joint} drive ${only!.name}`
        : only!.rule
          ? `let ${few(only!.rule.of, "shapes")} set ${only!.name}`
          : `left ${only!.name} to the hand`;
    }
    case "bind in pose":
      return `bound in a pose of ${Object.keys(step.pose).length} joints: ${Object.keys(step.pose).slice(0, 3).join(", ")}${Object.keys(step.pose).length > 3 ? " and others" : ""}`;
    case "retarget pose":
      return step.turns
        ? `kept a pose of ${Object.keys(step.turns).length} joints for clips of other skeletons`
        : "dropped the pose for clips of other skeletons";
    case "add parts":
      return `added ${few(
        step.items.map((i) => i.name),
        "parts",
      )} from ${step.source}`;
    case "add joints":
      return `added ${few(
        step.joints.map((j) => j.name),
        "joints",
      )} from ${step.source}`;
    case "add clips":
      return `added ${few(
        step.items.map((i) => i.name),
        "clips",
      )} from ${step.source}`;
    case "repair":
      return describeRepair(step.repair);
    case "part kind":
      return `took ${step.part} for ${step.kind}`;
    case "change weights": {
      const { tool, rounds, from, reachMm, source, way, most, locked } = step.change;
      const what = {
        smooth: `smoothed the weights of ${step.part}, ${rounds} rounds`,
        mirror: `mirrored the weights of ${step.part} from the ${from}`,
        "take from skin": `took the weights of ${step.part} from ${source || "the skin"} within ${reachMm} mm`,
        "bind afresh": `bound ${step.part} afresh ${way === "surface" ? "along the surface" : "through the volume"}, ${rounds} rounds evened out`,
        limit: `limited ${step.part} to ${most} joints a vertex`,
      }[tool];
      return locked.length ? `${what}, ${locked.join(" and ")} locked` : what;
    }
    case "paint weights":
      return `painted weights of ${step.part}${step.joints.length ? `, ${few(step.joints, "joints")}` : ""}`;
    case "rename": {
      const [first, ...more] = step.names;
      return `renamed ${first!.from} to ${first!.to}${more.length ? ` and ${more.length} more ${step.kind}` : ` among the ${step.kind}`}`;
    }
    case "accept finding":
      return `accepted ${titleOf(step.check)}${placeWords(step)}: ${step.reason}`;
    case "reopen finding":
      return `took back the acceptance of ${titleOf(step.check)}${placeWords(step)}`;
  }
}

/** Names that a sentence leaves out: what a step made or changed, one by one; empty where the sentence says all. */
export function namesInStep(step: Step): string[] {
  switch (step.op) {
    case "make correctives":
      return step.items.length > 2 ? step.items.map((i) => i.label) : [];
    case "add shapes":
    case "derive shapes":
    case "edit shapes":
    case "add parts":
    case "add clips":
      return step.items.length > 2 ? step.items.map((i) => i.name) : [];
    case "drive shapes":
      return step.items.length > 1
        ? step.items.map(
            (i) =>
              `${i.name}: ${i.driver ? `${i.driver.joint} ${i.driver.fromDegrees}° to ${i.driver.toDegrees}°` : i.rule ? i.rule.of.join(" × ") : "the hand"}`,
          )
        : [];
    case "set mix":
      return step.mixes.length > 2 ? step.mixes.map((m) => m.name) : [];
    case "remove shapes":
    case "remove clips":
      return step.names.length > 2 ? [...step.names] : [];
    case "new face":
      return step.shapes.map((s) => s.name);
    case "add joints":
      return step.joints.length > 2 ? step.joints.map((j) => j.name) : [];
    case "map joints":
      return Object.entries(step.map).map(([joint, bone]) => `${joint}: ${boneLabel(bone)}`);
    case "rename":
      return step.names.length > 1 ? step.names.map((n) => `${n.from} → ${n.to}`) : [];
    case "bind in pose":
      return Object.entries(step.pose).map(([joint, a]) => `${joint} ${a.map((x) => x.toFixed(1)).join(", ")}°`);
    case "mend all":
      return step.places.map((p) => placeWords(p).trim());
    case "bake":
      return Object.entries(step.weights)
        .filter(([, w]) => w !== 0)
        .map(([n, w]) => `${n} ${w}`);
    default:
      return [];
  }
}
