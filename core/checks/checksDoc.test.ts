import { readFileSync } from "node:fs";
import { checksDoc } from "./checksDoc";
import { CHECK_ENTRIES, CHECKS } from "./entries";
import { PROFILES, profileSchema } from "./profile";

describe("what is said of the checks", () => {
  it("docs/checks.md is as the checks have it (npm run docs writes it anew)", () =>
    expect(readFileSync("docs/checks.md", "utf8")).toBe(checksDoc()));
  it("every check stands once, and says what it measures and by whose word", () => {
    expect(new Set(CHECK_ENTRIES.map((c) => c.id)).size).toBe(CHECK_ENTRIES.length);
    expect(CHECKS.length).toBeGreaterThan(45);
    for (const c of CHECK_ENTRIES) {
      expect([c.id, c.measures.length > 10, c.source.length > 5, c.title.length > 5]).toEqual([c.id, true, true, true]);
      expect(c.id).toMatch(/^[a-z]+\.[a-z-]+$/);
    }
  });
  it("a profile of one's own takes the limits of film where it says nothing, and null where one is turned off", () => {
    const own = profileSchema.parse({ name: "ours", limits: { "weights.count": 6, "shapes.noise": null } });
    expect(own.limits["weights.count"]).toBe(6);
    expect(own.limits["shapes.noise"]).toBeNull();
    expect(own.limits["mesh.budget"]).toBe(PROFILES.film.limits["mesh.budget"]);
    // a stature is asked of everybody
    expect(profileSchema.safeParse({ name: "ours", limits: { "scale.stature": null } }).success).toBe(false);
    expect(PROFILES.realtime.limits["weights.count"]).toBe(4);
    expect(PROFILES.crowd.limits["shapes.coverage"]).toBeNull();
  });
});
