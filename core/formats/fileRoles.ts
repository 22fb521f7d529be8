/** What one of several files that came together is. */
export const FILE_ROLES = ["character", "goes with it", "target", "clip", "left out"] as const;
export type FileRole = (typeof FILE_ROLES)[number];

/** What follows the last point of a file name, in lower case. */
export const extension = (name: string): string => (/\.([a-z0-9]+)$/i.exec(name)?.[1] ?? "").toLowerCase();
const stem = (name: string): string => name.replace(/\.[^.]*$/, "").toLowerCase();

/** Roles that a file can have by its kind; a file that cannot be read can only be left out. */
export function possibleRoles(name: string): readonly FileRole[] {
  switch (extension(name)) {
    case "glb":
    case "vrm":
      return ["character", "goes with it", "left out"];
    case "obj":
      return ["character", "goes with it", "target", "left out"];
    case "mtl":
    case "png":
    case "jpg":
    case "jpeg":
      return ["goes with it", "left out"];
    case "bvh":
      return ["clip", "left out"];
    default:
      return ["left out"];
  }
}

/** Material libraries and images: they are read with the OBJ they came beside. */
export const goesWithObj = (name: string): boolean => ["mtl", "png", "jpg", "jpeg"].includes(extension(name));

/**
 * Of OBJ files the base: the one whose name is the start of most others, or holds a word such as base or neutral; else
 * the first by name.
 */
export function chooseBase<T extends { readonly name: string }>(objs: readonly T[]): T {
  const score = (f: T): number =>
    (/(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(stem(f.name)) ? 1000 : 0) +
    objs.filter((o) => o !== f && stem(o.name).startsWith(stem(f.name))).length;
  return [...objs].sort((a, b) => score(b) - score(a) || a.name.localeCompare(b.name))[0]!;
}

/**
 * Roles proposed by kind, size in bytes and name: the largest GLB is the character and the rest goes with it; without
 * one an OBJ is the base and the others are its targets.
 */
export function proposeRoles(files: readonly { readonly name: string; readonly size: number }[]): FileRole[] {
  const glbs = files.filter((f) => ["glb", "vrm"].includes(extension(f.name)));
  const objs = files.filter((f) => extension(f.name) === "obj");
  const main = glbs.length
    ? [...glbs].sort((a, b) => b.size - a.size || a.name.localeCompare(b.name))[0]
    : objs.length
      ? chooseBase(objs)
      : undefined;
  return files.map((f) =>
    f === main
      ? "character"
      : extension(f.name) === "bvh"
        ? "clip"
        : glbs.includes(f) || goesWithObj(f.name)
          ? "goes with it"
          : objs.includes(f)
            ? glbs.length
              ? "goes with it"
              : "target"
            : "left out",
  );
}
