import { request } from "node:http";
import { stationOfCheck } from "../core/checks/stationOfCheck";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { writeObj } from "../core/formats/obj/writeObj";
import { encodeDeltas } from "../core/ledger/deltasBlob";
import { readLedgerFile } from "../core/ledger/ledgerFile";
import type { Step } from "../core/ledger/steps";
import { renameJoints } from "../core/skeleton/renameJoints";
import { boxPart, characterWith, shapeOf, tube } from "../tests/helpers/characters";
import { RealServer, type JobEnd } from "../tests/helpers/realServer";
import { makeApp } from "./app";
import { sha256 } from "./blobs/blobStore";
import type { Db } from "./db/connect";
import { machineTrouble } from "./db/trouble";
import { listArrangements } from "./services/arrangements";
import { getCharacter, listCast, openFindings, stationState } from "./services/characters";
import { listDeliveries } from "./services/deliveries";
import { listHandOffs } from "./services/handOffs";
import { currentCharacter, readLedger } from "./services/ledger";
import { readTrials } from "./services/trials";

const real = new RealServer();
let db: Db;
let base = "";
const limb = { ...tube(), name: "Limb" };

beforeAll(async () => {
  await real.start({ uploadLimitMb: 1 });
  ({ db, base } = real);
});
afterAll(() => real.stop());

const ask = (url: string, init?: RequestInit): ReturnType<RealServer["ask"]> => real.ask(url, init);
const post = (url: string, body: unknown): ReturnType<RealServer["ask"]> => real.post(url, body);
const finish = (job: string): Promise<JobEnd> => real.finish(job);
const upload = (...files: [string, Uint8Array | string][]): ReturnType<RealServer["postFiles"]> =>
  real.postFiles(files);
const takeIn = (...files: [string, Uint8Array | string][]): Promise<string> => real.takeIn(...files);
const delta = encodeDeltas(limb, shapeOf("x", { 10: [0.01, 0, 0] }).deltas);
const make = (name: string): Step => ({
  op: "make correctives",
  items: [
    {
      name,
      label: name,
      blob: sha256(delta),
      driver: {
        shape: name,
        joint: "lower",
        axis: [1, 0, 0],
        fromDegrees: 0,
        toDegrees: 90,
        easing: "smooth",
        intensity: 1,
        enabled: true,
      },
    },
  ],
});
const send = (id: string, step: unknown, revision: number, blobs: Uint8Array[] = []): ReturnType<RealServer["ask"]> =>
  real.send(id, step, revision, blobs);

describe("a character for others to build", () => {
  it("is listed, and its state gives base and steps in force, also after undo", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    await send(id, make("bulge"), 0, [delta]);
    await send(id, { op: "map joint", joint: "lower", bone: "leftLowerArm" }, 1);
    await post(`/api/characters/${id}/head`, { by: -1, revision: 2 });
    const { characters } = (await ask("/api/characters")).body as { characters: { id: string; name: string }[] };
    expect(characters.map((c) => c.id)).toContain(id);
    const state = (await ask(`/api/characters/${id}/state`)).body as { baseBlob: string; steps: Step[] };
    expect(state.steps.map((s) => s.op)).toEqual(["make correctives"]);
    expect(state.baseBlob).toMatch(/^[0-9a-f]{64}$/);
    expect((await ask("/api/characters/gone/state")).status).toBe(404);
  });
  it("takes a hundred shapes in one step, and refuses all of them when one does not fit", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    const blobs = Array.from({ length: 100 }, (_, i) => encodeDeltas(limb, shapeOf("x", { [i]: [0.01, 0, 0] }).deltas));
    const items = blobs.map((b, i) => ({ name: `shape ${i}`, label: `shape ${i}`, blob: sha256(b) }));
    const twice = await send(
      id,
      { op: "add shapes", source: "files", items: [...items, { ...items[0]!, name: "shape 1" }] },
      0,
      blobs,
    );
    expect((twice.body as { error: { what: string } }).error.what).toMatch(/shape 1 exists already/);
    expect((await currentCharacter(db, (await readLedger(db, id))!)).shapes).toEqual([]);
    expect((await send(id, { op: "add shapes", source: "files", items }, 0, blobs)).status).toBe(200);
    expect((await currentCharacter(db, (await readLedger(db, id))!)).shapes.length).toBe(100);
    const { entries } = (await readLedger(db, id))!;
    expect(entries[0]!.sentence).toBe("took in 100 shapes from files");
  });
  it("is not given as VRM while bones are missing, and says which", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    const { job } = (await ask(`/api/characters/${id}/handoffs`, { method: "POST" })).body as { job: string };
    expect((await finish(job)).error).toBeNull();
    const [entry] = await listHandOffs(db, id);
    const { status, body } = await ask(`/api/handoffs/${entry!.id}/vrm`);
    expect(status).toBe(422);
    expect((body as { error: { what: string; todo: string } }).error).toMatchObject({
      what: expect.stringMatching(/VRM 1.0 needs hips/) as string,
      todo: expect.stringMatching(/Map the joints/) as string,
    });
  });
});

describe("the next delivery of a character", () => {
  const relinkTo = (id: string, name: string, bytes: Uint8Array): Promise<JobEnd> =>
    real.upload([[name, bytes]], `/api/characters/${id}/deliveries`);
  const prefixed = renameJoints(limb, new Map(limb.skeleton!.joints.map((j) => [j.name, `quay:${j.name}`])));
  it("is compared, the ledger runs on it, and one can go back", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    await send(id, make("bulge"), 0, [delta]);
    await send(id, { op: "map joint", joint: "lower", bone: "leftLowerArm" }, 1);
    const before = (await readLedger(db, id))!;
    const view = await relinkTo(id, "limb-2.glb", await writeGlb(prefixed));
    expect(view.result).toEqual({ applied: 2, waits: 0 });
    const [entry] = await listDeliveries(db, id);
    expect(entry).toMatchObject({
      fileName: "limb-2.glb",
      before: "limb.glb",
      comparison: { joints: { came: [], went: [] }, moved: [] },
    });
    expect(entry!.comparison.joints.renamed).toContainEqual({ from: "lower", to: "quay:lower" });
    const now = await currentCharacter(db, (await readLedger(db, id))!);
    expect(now.drivers[0]!.joint).toBe("quay:lower");
    expect(now.jointMap).toEqual({ "quay:lower": "leftLowerArm" });
    expect((await openFindings(db, id))!.checked).toBe(true);
    expect((await ask(`/api/characters/${id}/deliveries/${entry!.id}?revision=3`, { method: "DELETE" })).status).toBe(
      200,
    );
    const back = (await readLedger(db, id))!;
    expect([back.state, back.head, (await getCharacter(db, id))!.fileName]).toEqual([
      before.state,
      before.head,
      "limb.glb",
    ]);
    expect(await listDeliveries(db, id)).toEqual([]);
  });
  it("that is another character is refused, and nothing changes", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    const view = await relinkTo(
      id,
      "box.glb",
      await writeGlb(characterWith({ name: "box", parts: [boxPart("crate", [1, 1, 1], [0, 0, 0], "other")] })),
    );
    expect(view.error!.what).toMatch(/Only \d+ % of the parts/);
    expect((await getCharacter(db, id))!.fileName).toBe("limb.glb");
  });
  it("only the newest can be taken back", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    expect((await ask(`/api/characters/${id}/deliveries/999?revision=0`, { method: "DELETE" })).status).toBe(422);
  });
  it("its ledger is saved with names and geometry, and reads as a ledger file", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    await send(id, make("bulge"), 0, [delta]);
    const text = await (await fetch(`${base}/api/characters/${id}/ledger.json`)).text();
    const file = readLedgerFile(text, "ledger.json");
    expect(file.steps).toEqual([make("bulge")]);
    expect(file.names.joints.map((j) => j.name)).toEqual(["upper", "lower"]);
    expect(Buffer.from(file.blobs[sha256(delta)]!, "base64").equals(Buffer.from(delta))).toBe(true);
  });
});

describe("taking in a delivery", () => {
  it("reads, checks and stores a GLB", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    const row = (await getCharacter(db, id))!;
    expect(row).toMatchObject({ name: "limb", fileName: "limb.glb", head: 0 });
    expect(row.summary.joints).toBe(2);
    const open = (await openFindings(db, id))!;
    expect(open.checked).toBe(true);
    expect(open.findings.some((f) => f.check === "skeleton.required")).toBe(true);
    expect((await listCast(db)).map((c) => c.id)).toContain(id);
  });
  it("takes an OBJ base with targets", async () => {
    const P = limb.parts[0]!.positions;
    const id = await takeIn(
      ["base.obj", writeObj(limb, [P])],
      ["smile.obj", writeObj(limb, [P.map((x, i) => (i === 4 ? x + 0.01 : x))])],
    );
    expect((await getCharacter(db, id))!.summary.shapes).toBe(1);
  });
  it("gives a second one of the same name an id of its own", async () => {
    const [a, b] = [
      await takeIn(["twin.glb", await writeGlb({ ...limb, name: "Twin" })]),
      await takeIn(["twin.glb", await writeGlb({ ...limb, name: "Twin" })]),
    ];
    expect(a).not.toBe(b);
    expect(b.startsWith("twin-")).toBe(true);
  });
  it.each<[string, [string, Uint8Array | string][], RegExp]>([
    ["a cut file", [["a.glb", new Uint8Array(40)]], /not a GLB/],
    ["another kind", [["a.txt", "x"]], /\.txt/],
    ["nothing", [], /No file/],
  ])("refuses %s and stores nothing", async (_what, files, pattern) => {
    const before = (await listCast(db)).length;
    const { body } = await upload(...files);
    const view = body.job ? await finish(body.job) : { error: body.error! };
    expect(view.error!.what).toMatch(pattern);
    expect((await listCast(db)).length).toBe(before);
  });
  it("refuses what is over the limit before holding it", async () => {
    const { status, body } = await upload(["big.glb", new Uint8Array(3 * 1024 * 1024)]);
    expect(status).toBe(413);
    expect(body.error!.what).toMatch(/over 1 MB/);
  });
  it("can be cancelled", async () => {
    const { body } = await upload(["limb.glb", await writeGlb(limb)]);
    await ask(`/api/jobs/${body.job}`, { method: "DELETE" });
    expect(["cancelled", "done"]).toContain((await finish(body.job!)).state);
  });
  it("keeps names of any kind as text", async () => {
    const name = `'; drop table characters; -- 😀 ${"x".repeat(150)}`;
    const id = await takeIn([`${name}.glb`, await writeGlb(limb)]);
    expect((await getCharacter(db, id))!.name).toBe(name);
  });
});

describe("the ledger", () => {
  let id = "";
  beforeAll(async () => {
    id = await takeIn(["ledger.glb", await writeGlb({ ...limb, name: "Ledger" })]);
  });
  it("adds a step with its geometry, in one piece", async () => {
    expect((await send(id, make("elbow"), 0, [delta])).status).toBe(200);
    const ledger = (await readLedger(db, id))!;
    expect(ledger).toMatchObject({ head: 1, revision: 1 });
    expect((await currentCharacter(db, ledger)).drivers[0]!.shape).toBe("elbow");
    expect((await stationState(db, id)).correctives).toBe(1);
    const blob = await fetch(`${base}/api/blobs/${sha256(delta)}`);
    expect(new Uint8Array(await blob.arrayBuffer())).toEqual(new Uint8Array(delta));
    expect(blob.headers.get("cache-control")).toMatch(/immutable/);
  });
  it("goes back and forth, and names the same state the same", async () => {
    const before = (await readLedger(db, id))!.state;
    await post(`/api/characters/${id}/head`, { by: -1, revision: 1 });
    const undone = (await readLedger(db, id))!;
    expect([undone.head, undone.entries.length]).toEqual([0, 1]);
    expect((await currentCharacter(db, undone)).shapes).toEqual([]);
    await post(`/api/characters/${id}/head`, { by: 5, revision: 2 });
    expect((await readLedger(db, id))!).toMatchObject({ head: 1, state: before });
  });
  it("drops undone steps when another is added", async () => {
    const { revision } = (await readLedger(db, id))!;
    await post(`/api/characters/${id}/head`, { by: -1, revision });
    expect((await send(id, { op: "map joint", joint: "upper", bone: "leftUpperArm" }, revision + 1)).status).toBe(200);
    expect((await readLedger(db, id))!.entries.map((e) => e.sentence)).toEqual(["mapped upper to left upper arm"]);
  });
  it("refuses a step made on an older state, and leaves everything as it is", async () => {
    const before = await readLedger(db, id);
    const { status, body } = await send(id, make("late"), 0, [delta]);
    expect(status).toBe(409);
    expect((body as { error: { what: string } }).error.what).toMatch(/Another window/);
    expect(await readLedger(db, id)).toEqual(before);
  });
  it.each<[string, unknown, Uint8Array[]]>([
    ["unknown", { op: "dance" }, []],
    [
      "without its geometry",
      { ...make("y"), items: [{ ...(make("y") as { items: object[] }).items[0], blob: "0".repeat(64) }] },
      [],
    ],
    ["on a joint that is not there", { op: "map joint", joint: "tail", bone: "hips" }, []],
  ])("refuses a step that is %s", async (_what, step, blobs) => {
    const before = await readLedger(db, id);
    expect((await send(id, step, before!.revision, blobs)).status).toBe(422);
    expect(await readLedger(db, id)).toEqual(before);
  });
  it("is not harmed by two steps at once: one of them wins", async () => {
    const { revision } = (await readLedger(db, id))!;
    const results = await Promise.all(["a", "b", "c"].map((n) => send(id, make(n), revision, [delta])));
    expect(results.filter((r) => r.status === 200).length).toBe(1);
    expect((await readLedger(db, id))!.revision).toBe(revision + 1);
  });
  it("leaves accepted findings out, with their reason", async () => {
    const open = (await openFindings(db, id))!;
    const { revision } = (await readLedger(db, id))!;
    const f = open.findings[0]!;
    await send(
      id,
      { op: "accept finding", check: f.check, part: f.part, joint: f.joint, shape: f.shape, reason: "a test limb" },
      revision,
    );
    const after = (await openFindings(db, id))!;
    expect(after.findings.length).toBe(open.findings.length - 1);
    expect(after.accepted[0]).toMatchObject({ reason: "a test limb" });
    expect(after.checked).toBe(false);
  });
});

describe("arrangements of pieces", () => {
  const trial = (name: string): object => ({ name, lanes: { body: [] } });
  const put = (url: string, body: unknown): ReturnType<RealServer["ask"]> =>
    ask(url, { method: "PUT", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
  it("are kept, changed under their revision, listed for every character, and dropped", async () => {
    const id = await takeIn(["limb.glb", await writeGlb(limb)]);
    const url = `/api/characters/${id}/arrangements/one`;
    expect(await put(url, { trial: trial("step"), revision: 0 })).toMatchObject({ status: 200, body: { revision: 1 } });
    expect(await put(url, { trial: trial("two steps"), revision: 1 })).toMatchObject({ body: { revision: 2 } });
    expect(await put(url, { trial: trial("late"), revision: 1 })).toMatchObject({ status: 409 });
    expect((await listArrangements(db)).filter((a) => a.id === "one")).toMatchObject([
      { characterId: id, of: "limb", revision: 2, trial: { name: "two steps", fps: 30 } },
    ]);
    const bad = { name: "x", lanes: { body: [{ kind: "clip", id: "a", clip: "b", start: -1, to: 2 }] } };
    expect(await put(url, { trial: bad, revision: 2 })).toMatchObject({ status: 422 });
    expect((await put("/api/characters/nobody/arrangements/x", { trial: trial("x"), revision: 0 })).status).toBe(404);
    expect((await ask(url, { method: "DELETE" })).status).toBe(200);
    expect((await ask(url, { method: "DELETE" })).status).toBe(404);
  });
});

describe("trials, checks and hand-offs", () => {
  let id = "";
  beforeAll(async () => {
    id = await takeIn(["hand.glb", await writeGlb({ ...limb, name: "Hand", skeleton: { ...limb.skeleton! } })]);
  });
  it("keep a sweep for its state and method, the newest one", async () => {
    const { state } = (await readLedger(db, id))!;
    const reading = { volume: -0.1, depth: 1, stretch: 1.2, flips: 0 };
    const trial = {
      state,
      motion: "lower/bend",
      method: "linear",
      rows: [{ joint: "lower", motion: "bend", angle: 90, without: reading, with: reading }],
      findings: [],
    };
    expect((await post(`/api/characters/${id}/trials`, trial)).status).toBe(200);
    expect((await post(`/api/characters/${id}/trials`, { ...trial, rows: [] })).status).toBe(200);
    expect(await readTrials(db, id, state)).toEqual([
      { motion: "lower/bend", method: "linear", rows: [], findings: [] },
    ]);
    expect(await readTrials(db, id, "another state")).toEqual([]);
    expect((await post(`/api/characters/${id}/trials`, { ...trial, method: "magic" })).status).toBe(422);
    expect((await post("/api/characters/nobody/trials", trial)).status).toBe(404);
  });
  it("write, read back, validate and keep versions", async () => {
    for (const version of [1, 2]) {
      const { body } = await post(`/api/characters/${id}/handoffs`, {});
      expect((await finish((body as { job: string }).job)).result).toEqual({ version });
    }
    const [newest] = await listHandOffs(db, id);
    expect(newest).toMatchObject({ version: 2 });
    expect(newest!.receipt).toMatchObject({
      validator: { errors: 0, warnings: 0 },
      readBack: { joints: true, weights: true, shapes: true, drivers: true, differences: [] },
    });
    const glb = await fetch(`${base}/api/handoffs/${newest!.id}/glb`);
    expect(glb.headers.get("content-disposition")).toMatch(/hand-v2\.glb/);
    expect(sha256(new Uint8Array(await glb.arrayBuffer()))).toBe(newest!.receipt.sha256);
    expect(await (await fetch(`${base}/api/handoffs/${newest!.id}/sidecar`)).json()).toMatchObject({ version: 1 });
    expect((await stationState(db, id)).handoff).toBe(2);
  });
  it("are deleted with their character", async () => {
    expect((await ask(`/api/characters/${id}`, { method: "DELETE" })).status).toBe(200);
    expect(await getCharacter(db, id)).toBeNull();
    expect(await listHandOffs(db, id)).toEqual([]);
  });
});

describe("keeping others out", () => {
  it("refuses posts of other sites", async () => {
    for (const headers of [{ origin: "http://elsewhere.example" }, { "sec-fetch-site": "cross-site" }])
      expect((await ask("/api/deliveries", { method: "POST", headers: headers as never })).status).toBe(403);
  });
  it("answers to names it is known by alone, whatever is read, posted or deleted", async () => {
    const asked = (method: string, host: string): Promise<number> =>
      new Promise((resolve) => {
        const out = request(
          `${base}/api/characters`,
          { method, headers: { host, origin: `http://${host}` } },
          (response) => {
            response.resume();
            resolve(response.statusCode ?? 0);
          },
        );
        out.end();
      });
    for (const method of ["GET", "POST", "DELETE"])
      for (const host of ["elsewhere.example", "elsewhere.example:80", "127.0.0.1.elsewhere.example"])
        expect([400, 421]).toContain(await asked(method, host));
    const port = new URL(base).port;
    for (const host of [`127.0.0.1:${port}`, `localhost:${port}`, "[::1]:80"])
      expect(await asked("GET", host)).toBe(200);
  });
  it("sets a content security policy with a fresh nonce", async () => {
    const csp = async (): Promise<string> =>
      (await fetch(`${base}/api/jobs/x`)).headers.get("content-security-policy") ?? "";
    const [a, b] = [await csp(), await csp()];
    expect(a).toMatch(/script-src 'self' 'nonce-/);
    expect(a).not.toBe(b);
  });
  it("asks for the token off loopback, and remembers it", async () => {
    const gated = makeApp(real.settings({ token: "secret-token" }));
    const open = gated.handler.listen(0, "127.0.0.1");
    await new Promise((r) => open.once("listening", r));
    const url = `http://127.0.0.1:${(open.address() as { port: number }).port}/api/jobs/x`;
    expect((await fetch(url)).status).toBe(401);
    expect((await fetch(`${url}?token=wrong-token!`)).status).toBe(401);
    expect((await fetch(`${url}?token=${encodeURIComponent("gehëimes-wört")}`)).status).toBe(401);
    const first = await fetch(`${url}?token=secret-token&x=1`, { redirect: "manual" });
    expect([first.status, first.headers.get("location")]).toEqual([303, "/api/jobs/x?x=1"]);
    expect((await fetch(url, { headers: { cookie: first.headers.get("set-cookie")!.split(";")[0]! } })).status).toBe(
      404,
    );
    open.close();
    open.closeAllConnections();
    gated.close();
  });
  it("answers unknown addresses in words", async () =>
    expect((await ask("/api/nothing")).body).toMatchObject({ error: { what: "There is no such address." } }));
  it.each(["short", "../../etc/passwd", "0".repeat(64)])("has no blob %s", async (hash) =>
    expect((await fetch(`${base}/api/blobs/${encodeURIComponent(hash)}`)).status).toBe(404),
  );
});

describe("stations of checks", () => {
  it.each([
    ["mesh.loose", "intake"],
    ["weights.sum", "skeleton"],
    ["skeleton.required", "skeleton"],
    ["shapes.flip", "shapes"],
    ["pose.volume", "trials"],
  ])("%s belongs to %s", (check, station) => expect(stationOfCheck(check)).toBe(station));
});

describe("when the database goes away", () => {
  it("says so plainly, and serves again when it is back", async () => {
    const id = await takeIn(["gone.glb", await writeGlb({ ...limb, name: "Gone" })]);
    const { revision } = (await readLedger(db, id))!;
    await real.cluster.stop();
    const { status, body } = await send(id, make("meanwhile"), revision, [delta]);
    expect(status).toBe(503);
    expect((body as { error: { what: string } }).error.what).toMatch(/database does not answer/);
    await expect(
      listCast(db).catch((error: unknown) => {
        throw machineTrouble(error);
      }),
    ).rejects.toThrow(/does not answer/);
    await real.startDatabase(Number(new URL(real.cluster.url).port));
    expect((await send(id, make("meanwhile"), revision, [delta])).status).toBe(200);
    expect((await readLedger(db, id))!.head).toBe(1);
  });
});
