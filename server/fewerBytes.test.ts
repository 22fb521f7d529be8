import { isOwnMachine } from "./fewerBytes";

const from = (remoteAddress: string | undefined, headers: Record<string, string> = {}): boolean =>
  isOwnMachine({ socket: { remoteAddress }, headers } as never);

describe("bytes are packed", () => {
  it("not for this machine itself, by whatever address it calls", () => {
    expect(["127.0.0.1", "127.8.0.1", "::1", "::ffff:127.0.0.1"].map((a) => from(a))).toEqual([true, true, true, true]);
  });
  it("for every other, also behind a proxy here", () => {
    expect(["10.0.0.7", "::ffff:10.127.0.1", "fe80::1", undefined].map((a) => from(a))).toEqual(Array(4).fill(false));
    expect(from("127.0.0.1", { "x-forwarded-for": "10.0.0.7" })).toBe(false);
  });
});
