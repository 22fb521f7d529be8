import type { Character, Part } from "./character";

/** A character of one part and nothing else, for tools that work on characters. */
export const onlyPart = (part: Part): Character => ({
  name: part.name,
  parts: [part],
  materials: [],
  skeleton: null,
  shapes: [],
  drivers: [],
  shapeDrivers: [],
  clips: [],
  jointMap: {},
  notes: [],
});
