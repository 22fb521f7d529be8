import { z } from "zod";

/** Limits of the checks; null turns a limit off. Units stand with each check in docs/checks.md. */
const limit = z.number().nullable();
export const profileSchema = z.object({
  name: z.string().min(1),
  limits: z.object({
    "mesh.budget": limit,
    "weights.count": limit,
    "scale.stature": z.tuple([z.number(), z.number()]),
    "skeleton.rest-bind.degrees": limit,
    "skeleton.rest-bind.mm": limit,
    "skeleton.straight-hinge": z.tuple([z.number(), z.number()]),
    "weights.sum": limit,
    "shapes.empty": limit,
    "shapes.followers": limit,
    "pose.volume.warn": limit,
    "pose.volume.error": limit,
    "pose.penetration": limit,
    "pose.stretch": limit,
  }),
  /** Check ids that are not run. */
  off: z.array(z.string()).default([]),
});
export type Profile = z.infer<typeof profileSchema>;

const base: Profile["limits"] = {
  "mesh.budget": null,
  "weights.count": 8,
  "scale.stature": [0.4, 2.6],
  "skeleton.rest-bind.degrees": 0.1,
  "skeleton.rest-bind.mm": 0.1,
  "skeleton.straight-hinge": [1, 15],
  "weights.sum": 1e-4,
  "shapes.empty": 0.1,
  "shapes.followers": 1,
  "pose.volume.warn": -0.1,
  "pose.volume.error": -0.2,
  "pose.penetration": 5,
  "pose.stretch": 2,
};

/** Shipped profiles: offline film work, one character in real time, many at once. */
export const PROFILES: Readonly<Record<"film" | "realtime" | "crowd", Profile>> = {
  film: { name: "film", limits: base, off: [] },
  realtime: { name: "realtime", limits: { ...base, "mesh.budget": 40_000, "weights.count": 4 }, off: [] },
  crowd: { name: "crowd", limits: { ...base, "mesh.budget": 10_000, "weights.count": 4 }, off: [] },
};
export type ProfileName = keyof typeof PROFILES;
