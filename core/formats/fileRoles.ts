import { formatOf } from "./formats";

/** What one of several files that came together is. */
export const FILE_ROLES = ["character", "goes with it", "target", "clip", "left out"] as const;
export type FileRole = (typeof FILE_ROLES)[number];

const stem = (name: string): string => name.replace(/\.[^.]*$/, "").toLowerCase();

/** Roles that a file can have by its format; a file that cannot be read can only be left out. */
export const possibleRoles = (name: string): readonly FileRole[] => [...(formatOf(name)?.roles ?? []), "left out"];

/** Whether a file is a whole scene, or one mesh that may be a base or a target. */
export const isScene = ({ name }: { readonly name: string }): boolean => formatOf(name)?.holds === "scene";
export const isBaseOrTarget = ({ name }: { readonly name: string }): boolean =>
  formatOf(name)?.holds === "base or target";

/** Material libraries and images: they are read with the OBJ they came beside. */
export const goesWithObj = (name: string): boolean => formatOf(name)?.holds === "beside an OBJ";

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
  const scenes = files.filter(isScene);
  const meshes = files.filter(isBaseOrTarget);
  const [largest] = [...scenes].sort((a, b) => b.size - a.size || a.name.localeCompare(b.name));
  const main = largest ?? (meshes.length ? chooseBase(meshes) : undefined);
  return files.map((file) => {
    if (file === main) return "character";
    if (meshes.includes(file) && !scenes.length) return "target";
    return possibleRoles(file.name).find((role) => role === "clip" || role === "goes with it") ?? "left out";
  });
}
