import * as facts from "./checkFacts";
import { CHECK_ENTRIES, CHECKS } from "./entries";
import { PROFILES } from "./profile";
import { stationOfCheck } from "./stationOfCheck";

test("are the same after they were written as JSON, as pages hold them", () => {
  expect(JSON.parse(JSON.stringify({ ...facts }))).toEqual({ ...facts });
  expect(facts.PROFILES).toEqual(PROFILES);
  expect(facts.REST_CHECKS).toEqual(CHECKS.map((c) => c.id));
});

test("tell every check's station; of a check that is gone it is Intake", () => {
  expect(CHECK_ENTRIES.length).toBeGreaterThan(50);
  for (const { id, station } of CHECK_ENTRIES) expect(stationOfCheck(id)).toBe(station);
  expect(stationOfCheck("shapes.of-long-ago")).toBe("intake");
});
