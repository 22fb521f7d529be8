import { z } from "zod";

/** Limits of the checks; null turns a limit off. Units stand with each check in docs/checks.md. */
const limit = z.number().nullable();
const range = z.tuple([z.number(), z.number()]).nullable();
const limitsSchema = z.object({
  "mesh.budget": limit,
  "weights.count": limit,
  "scale.stature": z.tuple([z.number(), z.number()]),
  "skeleton.rest-bind.degrees": limit,
  "skeleton.rest-bind.mm": limit,
  "skeleton.straight-hinge": z.tuple([z.number(), z.number()]),
  "skeleton.hinge-axis": limit,
  "skeleton.symmetry": limit,
  "skeleton.eye-centre": limit,
  "scale.proportion": limit,
  "eyes.spacing": range,
  "eyes.diameter": range,
  "parts.texture-size": limit,
  "weights.sum": limit,
  "weights.symmetry": limit,
  "shapes.empty": limit,
  "shapes.noise": limit,
  "shapes.joints": limit,
  "shapes.pose-baked": limit,
  "shapes.alike": limit,
  "shapes.double": limit,
  "shapes.coverage": limit,
  "shapes.side-leak": limit,
  "shapes.symmetry": limit,
  "face.eye-through-lid": limit,
  "face.through-skin": limit,
  "face.lip-cross": limit,
  "pair.stretch": limit,
  "face.lid-gap": limit,
  "face.lip-seal": limit,
  "face.lip-teeth": limit,
  "face.jaw-range": range,
  "clip.loop": limit,
  "shapes.followers": limit,
  "pose.volume.warn": limit,
  "pose.volume.error": limit,
  "pose.penetration": limit,
  "pose.stretch": limit,
});

const FILM_LIMITS: z.infer<typeof limitsSchema> = {
  "mesh.budget": null,
  "weights.count": 8,
  "scale.stature": [0.4, 2.6],
  "skeleton.rest-bind.degrees": 0.1,
  "skeleton.rest-bind.mm": 0.1,
  "skeleton.straight-hinge": [1, 15],
  "skeleton.hinge-axis": 5,
  "skeleton.symmetry": 1,
  "skeleton.eye-centre": 1,
  "scale.proportion": 25,
  "eyes.spacing": [52, 78],
  "eyes.diameter": [22, 27],
  "parts.texture-size": null,
  "weights.sum": 1e-4,
  "weights.symmetry": 0.05,
  "shapes.empty": 0.1,
  "shapes.noise": 0.3,
  "shapes.joints": 5,
  "shapes.pose-baked": 50,
  "shapes.alike": 1,
  "shapes.double": 0.5,
  "shapes.coverage": 0,
  "shapes.side-leak": 2,
  "shapes.symmetry": 1,
  "face.eye-through-lid": 0.1,
  "face.through-skin": 0.2,
  "face.lip-cross": 1,
  "pair.stretch": 3,
  "face.lid-gap": 0.3,
  "face.lip-seal": 0.5,
  "face.lip-teeth": 1.5,
  "face.jaw-range": [35, 60],
  "clip.loop": 2,
  "shapes.followers": 1,
  "pose.volume.warn": -0.1,
  "pose.volume.error": -0.2,
  "pose.penetration": 5,
  "pose.stretch": 2,
};

/** A profile as it is written: limits that it leaves out are those of `film`. */
export const profileSchema = z.object({
  name: z.string().min(1),
  limits: limitsSchema.partial().transform((given) => ({ ...FILM_LIMITS, ...given })),
  /** Check ids that are not run. */
  off: z.array(z.string()).default([]),
});
export type Profile = z.infer<typeof profileSchema>;

/** Shipped profiles: offline film work, one character in real time, many at once. */
export const PROFILES: Readonly<Record<"film" | "realtime" | "crowd", Profile>> = {
  film: { name: "film", limits: FILM_LIMITS, off: [] },
  realtime: {
    name: "realtime",
    limits: { ...FILM_LIMITS, "mesh.budget": 40_000, "weights.count": 4, "parts.texture-size": 4096 },
    off: [],
  },
  crowd: {
    name: "crowd",
    limits: {
      ...FILM_LIMITS,
      "mesh.budget": 10_000,
      "weights.count": 4,
      "parts.texture-size": 2048,
      "face.lip-teeth": 3,
      "shapes.coverage": null,
    },
    off: [],
  },
};
export type ProfileName = keyof typeof PROFILES;
