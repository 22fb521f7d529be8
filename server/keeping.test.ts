import { randomUUID } from "node:crypto";
import { request } from "node:http";
import { sql } from "drizzle-orm";
import { encode as encodePng } from "fast-png";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { encodeDeltas } from "../core/ledger/deltasBlob";
import type { Step } from "../core/ledger/steps";
import { makeBombs } from "../tests/faults/bombs";
import { shapeOf, tube } from "../tests/helpers/characters";
import { RealServer } from "../tests/helpers/realServer";
import { collectBlobs } from "./blobs/collectBlobs";
import { blobSize, getBlob, PIECE_BYTES, putBlob, putStream, sha256 } from "./blobs/blobStore";
import type { JobView } from "./jobs/jobBoard";
import { listBranches } from "./services/branches";
import { listDeliveries } from "./services/deliveries";
import { listHandOffs } from "./services/handOffs";
import { currentCharacter, readLedger } from "./services/ledger";
import { listCast } from "./services/characters";

/** What a user made is lost by nothing that windows, networks and files do. */
const server = new RealServer();
const limb = { ...tube({ rings: 9, sides: 8 }), name: "Limb" };
let glb: Uint8Array;
beforeAll(async () => {
  glb = await writeGlb(limb);
  await server.start();
});
afterAll(() => server.stop());

const delta = (vertex: number): Uint8Array => encodeDeltas(limb, shapeOf("x", { [vertex]: [0.01, 0, 0] }).deltas);
const add = (name: string, blob: Uint8Array): Step => ({
  op: "add shapes",
  source: "test",
  items: [{ name, label: name, blob: sha256(blob) }],
});
const twice: Step = { op: "repair", repair: { what: "stand", factor: 2, up: "+Y", front: "+Z" } };
const heightOf = async (id: string): Promise<number> =>
  Math.max(...(await currentCharacter(server.db, (await readLedger(server.db, id))!)).parts[0]!.positions);
const sentences = async (id: string): Promise<string[]> =>
  (await readLedger(server.db, id))!.entries.map((e) => e.sentence);
const head = (id: string, by: number, revision: number): ReturnType<RealServer["post"]> =>
  server.post(`/api/characters/${id}/head`, { by, revision });

describe("a step with a key", () => {
  it("is applied once, however often it comes, one after the other or at once", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    const before = await heightOf(id);
    const answers = [
      await server.send<{ revision: number }>(id, twice, 0, [], "the same key"),
      await server.send<{ revision: number }>(id, twice, 0, [], "the same key"),
    ];
    expect(answers.map((a) => [a.status, a.body.revision])).toEqual([
      [200, 1],
      [200, 1],
    ]);
    expect((await heightOf(id)) / before).toBeCloseTo(2);
    const together = await Promise.all(
      [1, 2, 3, 4].map(() => server.send<{ revision: number }>(id, twice, 1, [], "another key")),
    );
    expect(together.map((a) => [a.status, a.body.revision])).toEqual([1, 2, 3, 4].map(() => [200, 2]));
    expect((await heightOf(id)) / before).toBeCloseTo(4);
  });
  it("is not taken for another step that comes with the same key", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    await server.send(id, twice, 0, [], "the same key");
    const { status, body } = await server.send<{ error: { what: string } }>(
      id,
      { op: "map joint", joint: "lower", bone: "leftLowerArm" },
      1,
      [],
      "the same key",
    );
    expect([status, body.error.what]).toEqual([409, expect.stringMatching(/earlier form/)]);
    expect(await sentences(id)).toHaveLength(1);
  });
});

describe("a step that takes long", () => {
  const side = 4000;
  const texture = {
    name: "skin",
    mimeType: "image/png",
    bytes: encodePng({
      width: side,
      height: side / 2,
      channels: 3,
      data: new Uint8Array(3 * side * (side / 2)).fill(90),
    }),
  };
  const painted = {
    ...limb,
    materials: limb.materials.map((m) => ({ ...m, texture })),
    parts: limb.parts.map((p) => ({ ...p, uvs: new Float32Array((2 * p.positions.length) / 3) })),
  };
  const smaller: Step = { op: "repair", repair: { what: "textures", longest: 64 } };
  /** What is told of the job until it ends, or until `enough`. */
  const watch = async (job: string, enough: (progress: number) => boolean): Promise<number[]> => {
    const told: number[] = [];
    for (;;) {
      const { status, body } = await server.ask<JobView>(`/api/jobs/${job}`);
      if (status === 200 && body.progress !== told[told.length - 1]) told.push(body.progress);
      if (status === 200 && (body.state !== "running" || enough(body.progress))) return told;
      await new Promise((r) => setTimeout(r, 10));
    }
  };
  it("tells how far it is while its answer is awaited, and leaves nothing behind when it is cancelled", async () => {
    const id = await server.takeIn(["painted.glb", await writeGlb(painted)]);
    const [first, second] = [randomUUID(), randomUUID()];
    const cancelled = server.send<{ error: { what: string } }>(id, smaller, 0, [], "a key of its own", first);
    await watch(first, (p) => p > 0);
    await server.ask(`/api/jobs/${first}`, { method: "DELETE" });
    const { status, body } = await cancelled;
    expect([status, body.error.what]).toEqual([499, "Cancelled."]);
    expect((await server.ask<JobView>(`/api/jobs/${first}`)).body.state).toBe("cancelled");
    expect(await sentences(id)).toEqual([]);
    // the same step can be sent again, with its key
    const done = server.send<{ revision: number }>(id, smaller, 0, [], "a key of its own", second);
    const told = await watch(second, () => false);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told.filter((p) => p > 0 && p < 1).length).toBeGreaterThan(1);
    expect([(await done).status, await sentences(id)]).toEqual([200, [expect.stringContaining("64")]]);
    // a name that is taken already is no second job
    expect((await server.send(id, smaller, 1, [], "another key", second)).status).toBe(422);
  });
});

describe("steps undone before others are made", () => {
  it("stay as a branch with their geometry, and are taken up again; what stood then becomes a branch", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    const [a, b, c] = [delta(1), delta(2), delta(3)];
    await server.send(id, add("a", a), 0, [a]);
    await server.send(id, add("b", b), 1, [b]);
    await head(id, -1, 2);
    const answer = await server.send<{ revision: number; branched: number }>(id, add("c", c), 3, [c]);
    expect(answer.body).toEqual({ revision: 4, branched: 1 });
    const [branch] = await listBranches(server.db, id);
    expect(branch).toMatchObject({ fork: 1, fits: true, sentences: [expect.stringContaining("b")] });
    expect((await collectBlobs(server.db)).count).toBe(0);
    expect(
      (await server.post<{ revision: number }>(`/api/characters/${id}/branches/${branch!.id}`, { revision: 3 })).status,
    ).toBe(409);
    expect(
      (await server.post<{ revision: number }>(`/api/characters/${id}/branches/${branch!.id}`, { revision: 4 })).body,
    ).toEqual({ revision: 5 });
    expect((await currentCharacter(server.db, (await readLedger(server.db, id))!)).shapes.map((s) => s.name)).toEqual([
      "a",
      "b",
    ]);
    const left = await listBranches(server.db, id);
    expect(left.map((l) => [l.fork, l.sentences.length])).toEqual([[1, 1]]);
    // thrown away for good its geometry goes
    expect((await server.ask(`/api/characters/${id}/branches/${left[0]!.id}`, { method: "DELETE" })).status).toBe(200);
    await collectBlobs(server.db);
    expect([await getBlob(server.db, sha256(c)), await getBlob(server.db, sha256(b))]).toEqual([
      null,
      new Uint8Array(b),
    ]);
  });
  it("are kept once, however often the same is undone and made otherwise", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    const map = (bone: string): Step => ({ op: "map joint", joint: "lower", bone });
    await server.send(id, map("leftLowerArm"), 0);
    await head(id, -1, 1);
    await server.send(id, map("rightLowerArm"), 2);
    await head(id, -1, 3);
    await server.send(id, map("leftLowerArm"), 4);
    await head(id, -1, 5);
    await server.send(id, map("rightLowerArm"), 6);
    expect((await listBranches(server.db, id)).map((b) => b.sentences)).toEqual([
      ["mapped lower to right lower arm"],
      ["mapped lower to left lower arm"],
    ]);
  });
  it("that stand on a delivery which was dropped say so, and fit again when it is taken in again", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    const next = await writeGlb({
      ...limb,
      parts: limb.parts.map((p) => ({ ...p, positions: p.positions.map((x) => 1.01 * x) })),
    });
    await server.upload([["limb-2.glb", next]], `/api/characters/${id}/deliveries`);
    await server.send(id, { op: "map joint", joint: "lower", bone: "leftLowerArm" }, 1);
    const [delivery] = await listDeliveries(server.db, id);
    // a window that does not know of the step yet cannot drop it
    expect(
      (await server.ask(`/api/characters/${id}/deliveries/${delivery!.id}?revision=1`, { method: "DELETE" })).status,
    ).toBe(409);
    expect(
      (await server.ask(`/api/characters/${id}/deliveries/${delivery!.id}?revision=2`, { method: "DELETE" })).status,
    ).toBe(200);
    const [branch] = await listBranches(server.db, id);
    expect(branch).toMatchObject({
      fits: false,
      fileName: "limb-2.glb",
      sentences: ["mapped lower to left lower arm"],
    });
    expect(
      (await server.post<{ error: { what: string } }>(`/api/characters/${id}/branches/${branch!.id}`, { revision: 3 }))
        .body.error.what,
    ).toMatch(/stand on limb-2\.glb/);
    await server.upload([["limb-2.glb", next]], `/api/characters/${id}/deliveries`);
    expect((await server.post(`/api/characters/${id}/branches/${branch!.id}`, { revision: 4 })).status).toBe(200);
    expect(await sentences(id)).toEqual(["mapped lower to left lower arm"]);
  });
});

describe("hand-offs", () => {
  it("that are asked for at once get versions of their own, each with a check of exactly its state", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    await server.send(id, { op: "map joint", joint: "lower", bone: "leftLowerArm" }, 0);
    const jobs = await Promise.all(
      Array.from({ length: 5 }, () => server.post<{ job: string }>(`/api/characters/${id}/handoffs`, {})),
    );
    const ends = await Promise.all(jobs.map((j) => server.finish(j.body.job)));
    expect(ends.map((e) => e.state)).toEqual(Array(5).fill("done"));
    const kept = await listHandOffs(server.db, id);
    expect(kept.map((h) => h.version).sort()).toEqual([1, 2, 3, 4, 5]);
    const { state } = (await readLedger(server.db, id))!;
    expect(kept.every((h) => h.state === state && h.receipt.openFindings.error > 0)).toBe(true);
  });
});

describe("files that do harm", () => {
  const bombs = makeBombs(new Uint8Array()).filter((b) =>
    ["runs.glb", "zeros.glb", "deep.glb", "long.glb"].includes(b.name),
  );
  it.each(bombs.map((b) => [b.what, b] as const))("leave the server as it was: %s", async (_what, bomb) => {
    const before = (await listCast(server.db)).length;
    const end = await server.upload([[bomb.name, bomb.bytes]]);
    expect(["done", "refused"]).toContain(end.state);
    if (end.state === "refused") expect((await listCast(server.db)).length).toBe(before);
    expect((await server.ask("/api/characters")).status).toBe(200);
  });
  it("and uploads that break off anywhere end alone", async () => {
    const whole = `--x\r\nContent-Disposition: form-data; name="files"; filename="a.glb"\r\n\r\n${"z".repeat(5000)}`;
    const send = (body: string, length = body.length): Promise<number> =>
      new Promise((resolve) => {
        const out = request(
          `${server.base}/api/deliveries`,
          { method: "POST", headers: { "Content-Type": "multipart/form-data; boundary=x", "Content-Length": length } },
          (response) => {
            response.resume();
            response.on("end", () => resolve(response.statusCode ?? 0));
          },
        );
        out.on("error", () => resolve(0));
        out.end(body);
        if (length > body.length) setTimeout(() => out.destroy(), 100);
      });
    // without its closing boundary; cut in the head of a part; closed in the middle of a file
    expect(await send(whole)).toBe(422);
    expect(await send(whole.slice(0, 60))).toBe(422);
    expect(await send(whole, whole.length + 9999)).toBe(0);
    expect((await server.ask("/api/characters")).status).toBe(200);
  });
});

describe("what cannot be kept or found", () => {
  it.each(["%00", "a%2f..%2fb", "%ff", "1.5", "x".repeat(5000), "%F0%9F%98%80"])(
    "is told in words: a character named %s",
    async (id) => {
      for (const url of [`/api/characters/${id}/state`, `/api/characters/${id}/ledger.json`]) {
        const { status, body } = await server.ask<{ error: { what: string } }>(url);
        expect([404, 422]).toContain(status);
        expect(body.error.what).not.toBe("");
      }
    },
  );
  it.each(["0", "-1", "1.5", "99999999999999999999", "2147483648", "1e3", "%00"])(
    "is told in words: number %s",
    async (n) => {
      for (const url of [`/api/handoffs/${n}/glb`, `/api/handoffs/${n}/vrm`])
        expect((await server.ask(url)).status).toBe(404);
      expect((await server.ask(`/api/characters/limb/branches/${n}`, { method: "DELETE" })).status).toBe(404);
      expect((await server.ask(`/api/characters/limb/deliveries/${n}?revision=0`, { method: "DELETE" })).status).toBe(
        404,
      );
    },
  );
  it("refuses names and texts with NUL or half of a surrogate pair, in steps, findings and sweeps", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    for (const bad of ["a\u0000b", "\ud800", "x\udc00y"]) {
      expect((await server.send(id, { op: "map joint", joint: bad, bone: "hips" }, 0)).status).toBe(422);
      expect(
        (
          await server.send(
            id,
            { op: "accept finding", check: "x", part: bad, joint: null, shape: null, reason: "y" },
            0,
          )
        ).status,
      ).toBe(422);
      expect(
        (await server.post(`/api/characters/${id}/checks`, { state: bad, profile: "realtime", findings: [] })).status,
      ).toBe(422);
      expect(
        (
          await server.post(`/api/characters/${id}/trials`, {
            state: "s",
            motion: bad,
            method: "linear",
            rows: [],
            findings: [],
          })
        ).status,
      ).toBe(422);
    }
  });
  it("takes in a file whose names hold them, with the places marked", async () => {
    const id = await server.takeIn([
      "odd.glb",
      await writeGlb({
        ...limb,
        parts: limb.parts.map((p) => ({ ...p, name: "li\u0000mb" })),
        shapes: [shapeOf("smi\ud800le", { 1: [0.01, 0, 0] })],
      }),
    ]);
    const character = await currentCharacter(server.db, (await readLedger(server.db, id))!);
    expect([character.parts[0]!.name, character.shapes[0]!.name]).toEqual(["li\ufffdmb", "smi\ufffdle"]);
  });
  it.each<[string, () => Uint8Array[], number]>([
    ["more geometry than the step names", () => [delta(1), delta(2)], 422],
    [
      "movement of vertices that are not there",
      () => [encodeDeltas(limb, [{ part: 0, vertices: Uint32Array.of(1e6), deltas: Float32Array.of(1, 0, 0) }])],
      422,
    ],
    ["what is no geometry", () => [Uint8Array.of(1, 2, 3)], 422],
  ])("refuses a step with %s, and keeps nothing of it", async (_what, blobs, wanted) => {
    const id = await server.takeIn(["limb.glb", glb]);
    const given = blobs();
    const stored = await Promise.all(given.map((b) => blobSize(server.db, sha256(b))));
    expect((await server.send(id, add("x", given[0]!), 0, given)).status).toBe(wanted);
    expect((await readLedger(server.db, id))!.entries).toEqual([]);
    expect(await Promise.all(given.map((b) => blobSize(server.db, sha256(b))))).toEqual(stored);
  });
  it("refuses a body that is too large with 413, and one that is no step with 422", async () => {
    const id = await server.takeIn(["limb.glb", glb]);
    const post = (body: Uint8Array): Promise<Response> =>
      fetch(`${server.base}/api/characters/${id}/steps`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream" },
        body: body as never,
      });
    expect((await post(new Uint8Array(65 * 1024 * 1024))).status).toBe(413);
    expect((await post(new Uint8Array(100))).status).toBe(422);
    expect((await post(new Uint8Array(0))).status).toBe(422);
  });
});

describe("geometry in the database", () => {
  it("is stored in pieces and read again as it was, also where it ends with a piece", async () => {
    for (const size of [0, 1, PIECE_BYTES - 1, PIECE_BYTES, PIECE_BYTES + 1, 2 * PIECE_BYTES]) {
      const bytes = Uint8Array.from({ length: size }, (_, i) => (i * 2654435761) >>> 24);
      const hash = await server.db.transaction((tx) => putBlob(tx, bytes));
      const back = await getBlob(server.db, hash);
      expect(back && sha256(back)).toBe(sha256(bytes));
      expect(await blobSize(server.db, hash)).toBe(size);
    }
  });
  it("is refused when other bytes come than were told, and nothing of it stays", async () => {
    const hash = "ab".repeat(32);
    await expect(server.db.transaction((tx) => putStream(tx, hash, 5, [Uint8Array.of(1, 2, 3)]))).rejects.toThrow(
      /other bytes/,
    );
    expect(await blobSize(server.db, hash)).toBeNull();
  });
  it("is collected when nothing refers to it any more", async () => {
    const id = await server.takeIn([
      "limb.glb",
      await writeGlb({ ...limb, parts: limb.parts.map((p) => ({ ...p, positions: p.positions.map((x) => 1.5 * x) })) }),
    ]);
    const { baseBlob } = (await readLedger(server.db, id))!;
    await collectBlobs(server.db);
    expect(await blobSize(server.db, baseBlob)).not.toBeNull();
    expect((await server.ask(`/api/characters/${id}`, { method: "DELETE" })).status).toBe(200);
    const gone = await collectBlobs(server.db);
    expect(gone.count).toBeGreaterThan(0);
    expect(await blobSize(server.db, baseBlob)).toBeNull();
    expect(
      (await server.db.execute(sql`select count(*)::int as n from blob_chunks where hash = ${baseBlob}`)).rows,
    ).toEqual([{ n: 0 }]);
  });
  it("that is being written waits for the collector and is not taken for dead", async () => {
    const bytes = delta(4);
    const id = await server.takeIn(["limb.glb", glb]);
    await Promise.all([
      server.send(id, add("kept", bytes), 0, [bytes]),
      ...Array.from({ length: 6 }, () => collectBlobs(server.db)),
    ]);
    await collectBlobs(server.db);
    expect((await currentCharacter(server.db, (await readLedger(server.db, id))!)).shapes.map((s) => s.name)).toEqual([
      "kept",
    ]);
  });
});
