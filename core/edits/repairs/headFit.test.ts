import { loadMember } from "../../../demo/cast";
import type { Character } from "../../model/character";
import { headFit, seatReading } from "./headFit";
import { seatPart } from "./seatPart";

describe.each(["oda", "tarn", "wick"] as const)("hair of %s put on the head", (who) => {
  let character: Character;
  beforeAll(async () => {
    character = await loadMember(who);
  });
  it.each([
    [0, 1500, 0, 1],
    [-900, -1500, 400, 1],
    [15, 30, -20, 1],
    [0, 0, 0, 100],
    [200, -300, 0, 0.01],
  ])("from %d, %d, %d mm off at size %d lies as it should", (x, y, z, scale) => {
    const off = seatPart(character, "hair", { moveMm: [x, y, z], turn: [0, 0, 0], scale });
    const seat = headFit(off, "hair");
    const seated = seatPart(off, "hair", seat);
    const P = character.parts.find((p) => p.name === "hair")!.positions;
    const Q = seated.parts.find((p) => p.name === "hair")!.positions;
    // found by form alone: within 12 mm of where it was made, and nowhere more uneven than there
    P.forEach((p, i) => {
      if (i % 97 === 0) expect(Math.abs(p - Q[i]!)).toBeLessThan(0.012);
    });
    const [then, made, before] = [
      seatReading(seated, "hair")!,
      seatReading(character, "hair")!,
      seatReading(off, "hair")!,
    ];
    expect(then.unevenMm).toBeLessThan(made.unevenMm + 0.1);
    expect(then.covered).toBeGreaterThanOrEqual(made.covered - 0.02);
    expect(then.out).toBeLessThan(0.03);
    expect(before.covered < 0.8 || before.unevenMm > 3 * then.unevenMm).toBe(true);
  });
});

it("is refused where there is no head", async () => {
  const oda = await loadMember("oda");
  expect(() => headFit({ ...oda, parts: oda.parts.filter((p) => p.kind !== "body") }, "hair")).toThrow(
    /no head to put it on/,
  );
});
