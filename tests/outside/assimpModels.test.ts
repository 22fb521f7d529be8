import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { Matrix3, Vector3, type BufferAttribute, type Mesh } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { readCharacter } from "../../cli/readCharacter";
import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { translationOf } from "../../core/math/mat4";
import { readObj, characterFromObj } from "../../core/formats/obj/readObj";
import { faceCountOf, vertexCountOf } from "../../core/model/character";
import { isUserError } from "../../core/model/userError";
import { threeInNode } from "../helpers/threeInNode";

/** Files of Debian's assimp-testmodels package, read where they are installed. */
const MODELS = "/usr/share/assimp/models";
const model = (name: string): string => {
  const file = path.join(MODELS, name);
  if (!existsSync(file)) throw new Error(`${file} is missing: apt-get install assimp-testmodels`);
  return file;
};
const refusal = async (name: string): Promise<string> => {
  try {
    await readCharacter(model(name));
  } catch (error) {
    if (isUserError(error)) return error.message;
    throw error;
  }
  return "read";
};

threeInNode();

describe("real glTF files", () => {
  it("simple_skin: two joints hold ten vertices; rotated 90 degrees the upper half lies down", async () => {
    const { character } = await readCharacter(model("glTF2/simple_skin/simple_skin.gltf"));
    expect(character.skeleton!.joints.length).toBeGreaterThanOrEqual(2);
    const part = character.parts.find((p) => p.skin)!;
    expect(vertexCountOf(part)).toBe(10);
    const top = character.skeleton!.joints[character.skeleton!.joints.length - 1]!.name;
    const { positions } = deform(makeRig(character), { ...REST_MOMENT, pose: { [top]: [0, 0, 90] } });
    const rest = part.positions;
    const P = positions[character.parts.indexOf(part)]!;
    // by hand from the numbers in the file: the joint stands at (0, 1), its inverse bind matrix moves by (-0.5, -1);
    // a vertex at (x, y) that it holds wholly goes a quarter turn round to (-(y - 1), 1 + x - 0.5)
    for (let v = 0; v < 10; v++)
      if (rest[3 * v + 1]! > 1.9) {
        expect(P[3 * v]).toBeCloseTo(-(rest[3 * v + 1]! - 1), 4);
        expect(P[3 * v + 1]).toBeCloseTo(0.5 + rest[3 * v]!, 4);
      }
    expect(character.clips[0]!.tracks.length).toBeGreaterThan(0);
  });
  it("AnimatedMorphCube: two targets, as three's own loader reads them", async () => {
    const file = model("glTF2/glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf");
    const { character } = await readCharacter(file);
    expect(character.shapes.length).toBe(2);
    const dir = path.dirname(file);
    const json = JSON.parse(readFileSync(file, "utf8")) as { buffers: { uri: string }[] };
    json.buffers.forEach(
      (b) => (b.uri = `data:application/octet-stream;base64,${readFileSync(path.join(dir, b.uri)).toString("base64")}`),
    );
    const loaded = await new GLTFLoader().parseAsync(JSON.stringify(json), "");
    const found: Mesh[] = [];
    loaded.scene.updateMatrixWorld(true);
    loaded.scene.traverse((o) => (o as Mesh).isMesh && found.push(o as Mesh));
    const theirs = found[0]!.geometry.morphAttributes["position"]!;
    // the mesh's node turns and scales it: positions of an unskinned part are read in character space
    const turn = new Matrix3().setFromMatrix4(found[0]!.matrixWorld);
    expect(theirs.length).toBe(2);
    character.shapes.forEach((shape, s) => {
      const dense = new Float32Array(theirs[s]!.array.length);
      shape.deltas[0]!.vertices.forEach((v, k) => dense.set(shape.deltas[0]!.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
      for (let v = 0; v < dense.length / 3; v++) {
        const d = new Vector3().fromBufferAttribute(theirs[s] as BufferAttribute, v).applyMatrix3(turn);
        expect(Math.hypot(dense[3 * v]! - d.x, dense[3 * v + 1]! - d.y, dense[3 * v + 2]! - d.z)).toBeLessThan(1e-5);
      }
    });
  });
  it("joints of simple_skin stand where three's loader puts them", async () => {
    const file = model("glTF2/simple_skin/simple_skin.gltf");
    const { character } = await readCharacter(file);
    const loaded = await new GLTFLoader().parseAsync(readFileSync(file, "utf8"), "");
    loaded.scene.updateMatrixWorld(true);
    const bones: { matrixWorld: { elements: number[] } }[] = [];
    loaded.scene.traverse((o) => (o as { isBone?: boolean }).isBone && bones.push(o));
    const world = worldMatrices(character.skeleton!, {});
    const ours = character.skeleton!.joints.flatMap((_, j) =>
      character.skeleton!.inSkin[j] ? [translationOf(world, 16 * j)] : [],
    );
    expect(ours.length).toBe(bones.length);
    ours.forEach((p, i) => p.forEach((x, k) => expect(x).toBeCloseTo(bones[i]!.matrixWorld.elements[12 + k]!, 5)));
  });
});

describe("broken glTF files, each with the fault the Khronos validator names", () => {
  it.each([
    ["glTF2/RecursiveNodes/RecursiveNodes.gltf", /loop|ancestor|two parents/],
    ["glTF2/IndexOutOfRange/IndexOutOfRange.gltf", /vert|index/i],
    ["glTF2/IndexOutOfRange/AllIndicesOutOfRange.gltf", /vert|index/i],
    ["glTF2/BoxWithInfinites-glTF-Binary/BoxWithInfinites.glb", /number|finite/i],
    ["glTF2/MissingBin/BoxTextured.gltf", /missing/],
    ["glTF2/SchemaFailures/sceneWrongType.gltf", /./],
    ["glTF2/IncorrectVertexArrays/Cube.gltf", /./],
    ...["badArray", "badNumber", "badObject", "badString", "badUint", "badExtension"].map((f): [string, RegExp] => [
      `glTF2/wrongTypes/${f}.gltf`,
      /./,
    ]),
  ])("%s", async (name, pattern) => {
    // a fault that hurts nothing we use may be read; what is refused is refused in words
    expect(await refusal(name)).toMatch(pattern);
  });
});

describe("real OBJ files", () => {
  const obj = (name: string): ReturnType<typeof readObj> => readObj(readFileSync(model(`OBJ/${name}`)), name);
  it("spider.obj: 762 vertices, 1368 faces, 19 groups (its own comment lines and `assimp info`)", () => {
    const character = characterFromObj(obj("spider.obj"), "spider.obj");
    expect(character.parts.reduce((n, p) => n + vertexCountOf(p), 0)).toBe(762);
    expect(character.parts.reduce((n, p) => n + faceCountOf(p), 0)).toBe(1368);
    expect(new Set(character.parts.flatMap((p) => p.groups.map((g) => g.name))).size).toBe(19);
  });
  it.each([
    ["box.obj", 8, 6],
    ["box_UTF16BE.obj", 8, 6],
    ["box_longline.obj", 8, 6],
    ["box_without_lineending.obj", 8, 6],
    ["cube_usemtl.obj", 8, 12],
    ["concave_polygon.obj", 64, 1],
  ])("%s: %d vertices, %d faces (counted by grep)", (name, vertices, faces) => {
    const read = obj(name);
    expect([read.positions.length / 3, read.faceStarts.length - 1]).toEqual([vertices, faces]);
  });
  it.each(["invalid/malformed.obj", "invalid/malformed2.obj", "invalid/empty.obj", "OBJ/point_cloud.obj"])(
    "%s is refused in words",
    async (name) => expect(await refusal(name)).toMatch(/malformed|empty|point_cloud/),
  );
});
