import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { startOf, takeFolder } from "./dataFolder";
import { hostName } from "./security";
import { BadSetting, readSettings } from "./settings";

const read = (env: NodeJS.ProcessEnv): ReturnType<typeof readSettings> => readSettings(env, "/program", false);

describe("settings", () => {
  it("have defaults that keep to this machine", () => {
    expect(read({})).toMatchObject({
      host: "127.0.0.1",
      port: 4180,
      loopback: true,
      uploadLimitMb: 256,
      token: null,
      databaseUrl: null,
      data: "/program/.data",
    });
    expect(readSettings({}, "/program", true).data).toBe("/var/lib/yxomorph");
    expect(read({ YXOMORPH_PORT: "", YXOMORPH_HOST: "" })).toMatchObject({ port: 4180, host: "127.0.0.1" });
  });
  it.each<[NodeJS.ProcessEnv, RegExp]>([
    [{ YXOMORPH_PORT: "http" }, /YXOMORPH_PORT is not a whole number \(it is "http"\)/],
    [{ YXOMORPH_PORT: "0" }, /not between 1 and 65535/],
    [{ YXOMORPH_PORT: "70000" }, /not between/],
    [{ YXOMORPH_MAX_UPLOAD_MB: "-5" }, /MAX_UPLOAD_MB is not a whole number/],
    [{ YXOMORPH_MAX_UPLOAD_MB: "1e9" }, /not a whole number/],
    [{ YXOMORPH_LOG: "loud" }, /YXOMORPH_LOG/],
    [{ DATABASE_URL: "mysql://x" }, /DATABASE_URL is not the address of a PostgreSQL database/],
    [{ YXOMORPH_TOKEN: "" }, /YXOMORPH_TOKEN is shorter than 16/],
    [{ YXOMORPH_TOKEN: "secret" }, /YXOMORPH_TOKEN is shorter than 16 characters\./],
  ])("that cannot be used are named, and a token is not printed: %j", (env, told) => {
    expect(() => read(env)).toThrow(BadSetting);
    expect(() => read(env)).toThrow(told);
    if (env["YXOMORPH_TOKEN"]) expect(() => read(env)).not.toThrow(env["YXOMORPH_TOKEN"]);
  });
  it(
    "name the hosts that may be asked for: the one it listens on, " +
      "those that are given, and on all addresses the machine's own",
    () => {
      expect(read({ YXOMORPH_HOST: "10.1.2.3", YXOMORPH_NAMES: "rigs.studio, rigs" }).names).toEqual([
        "10.1.2.3",
        "rigs.studio",
        "rigs",
      ]);
      expect(read({ YXOMORPH_HOST: "0.0.0.0" }).names).toContain("127.0.0.1");
    },
  );
});

describe("the name in a Host header", () => {
  it.each<[string | undefined, string | null]>([
    ["localhost:4180", "localhost"],
    ["127.0.0.1", "127.0.0.1"],
    ["[::1]:4180", "::1"],
    ["Example.COM.:80", "example.com"],
    ["", null],
    [undefined, null],
    ["a b", null],
    ["evil.example@localhost", null],
    ["localhost:port", null],
    ["[::1", null],
  ])("%s", (header, name) => expect(hostName(header)).toBe(name));
});

describe("a data folder", () => {
  const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-folder-"));
  afterAll(() => rmSync(dir, { recursive: true, force: true }));
  it("is one server's at a time; a lock whose server has gone is taken over", () => {
    const first = takeFolder(dir);
    expect(() => takeFolder(dir)).toThrow(new RegExp(`Another server \\(process ${process.pid}\\)`));
    first.release();
    // a number that another process has by now, and one that none has
    for (const left of [`${process.pid} 12345`, "999999999 1", "", "garbage"]) {
      writeFileSync(path.join(dir, "server.lock"), left);
      takeFolder(dir).release();
    }
    expect(startOf(process.pid)).toMatch(/^\d+$/);
    expect(startOf(999_999_999)).toBeNull();
  });
  it("that is no folder, or cannot be written, is named", () => {
    const file = path.join(dir, "file");
    writeFileSync(file, "");
    expect(() => takeFolder(file)).toThrow(/data folder .* cannot be used/);
    expect(() => takeFolder(path.join(file, "below"))).toThrow(BadSetting);
  });
});
