import { PerspectiveCamera, Ray, Vector3 } from "three";
import { boxPart } from "../../tests/helpers/characters";
import { placeNormals } from "~core/deform/placeNormals";
import { triangulate } from "~core/model/character";
import { listenToBrush, makeRing, placeRing, SurfaceFinder, type BrushHandlers, type Hit } from "./brushPointer";

const box = boxPart();
const { triangles } = triangulate(box);
const normals = placeNormals(box)(box.positions);

describe("the surface under the pointer", () => {
  const finder = new SurfaceFinder();
  it("is met from the front, nearest first", () => {
    const hit = finder.find(
      new Ray(new Vector3(0.1, 0.2, 3), new Vector3(0, 0, -1)),
      0,
      triangles,
      box.positions,
      normals,
    )!;
    hit.point.toArray().forEach((x, c) => expect(x).toBeCloseTo([0.1, 0.2, 0.5][c]!, 6));
    expect(hit.normal.z).toBeGreaterThan(0);
    expect(box.positions[3 * hit.vertex + 2]).toBe(0.5);
  });
  it("is none beside it, behind the eye, or from inside", () => {
    for (const [from, to] of [
      [
        [2, 0, 3],
        [0, 0, -1],
      ],
      [
        [0, 0, 3],
        [0, 0, 1],
      ],
      [
        [0, 0, 0],
        [0, 0, -1],
      ],
    ] as const)
      expect(
        finder.find(new Ray(new Vector3(...from), new Vector3(...to)), 0, triangles, box.positions, normals),
      ).toBeNull();
  });
  it("is found where it has moved to since, and anew for another part", () => {
    const moved = box.positions.map((x, i) => (i % 3 === 2 ? x + 1 : x));
    const ray = new Ray(new Vector3(0, 0.1, 3), new Vector3(0, 0, -1));
    expect(finder.find(ray, 0, triangles, moved, normals)!.point.z).toBeCloseTo(1.5, 6);
    const small = boxPart("small", [0.1, 0.2, 0.1]);
    expect(finder.find(ray, 1, triangulate(small).triangles, small.positions, normals)!.point.z).toBeCloseTo(0.1, 6);
  });
});

it("the ring lies in the surface's plane, about the place, at the radius", () => {
  const ring = makeRing("#000000");
  expect(ring.visible).toBe(false);
  for (const normal of [new Vector3(0, 0, 1), new Vector3(1, 0, 0), new Vector3(1, 2, 3).normalize()]) {
    placeRing(ring, new Vector3(1, 2, 3), normal, 0.25);
    const at = ring.geometry.getAttribute("position");
    for (let i = 0; i < at.count; i++) {
      const out = new Vector3(at.getX(i) - 1, at.getY(i) - 2, at.getZ(i) - 3);
      expect(out.length()).toBeCloseTo(0.25, 5);
      expect(out.dot(normal)).toBeCloseTo(0, 5);
    }
  }
  expect(ring.visible).toBe(true);
});

/** A stage of 100 x 100 pixels, a camera 2 m before a wall at z = 0, and what the brush was told. */
function stage(drags = false): {
  send: (type: string, x: number, y: number, more?: object) => Event;
  told: string[];
  stop: () => void;
  orbit: { enabled: boolean };
} {
  const canvas = Object.assign(new EventTarget(), {
    getBoundingClientRect: () => ({ left: 0, top: 0, width: 100, height: 100 }),
    setPointerCapture: () => {},
    hasPointerCapture: () => true,
    releasePointerCapture: () => {},
  });
  const camera = new PerspectiveCamera(90, 1, 0.1, 10);
  camera.position.set(0, 0, 2);
  camera.updateMatrixWorld();
  const told: string[] = [];
  const orbit = { enabled: true };
  let radius = 50;
  const short = (v: Vector3): string =>
    v
      .toArray()
      .map((x) => Number(x.toFixed(2)) + 0)
      .join(" ");
  const on: BrushHandlers = {
    // a wall from -1 to 1
    find: (ray): Hit | null => {
      const t = -ray.origin.z / ray.direction.z;
      const point = ray.origin.clone().addScaledVector(ray.direction, t);
      return Math.abs(point.x) > 1 || Math.abs(point.y) > 1 ? null : { point, normal: new Vector3(0, 0, 1), vertex: 0 };
    },
    showRing: (hit) => void told.push(hit ? `ring ${short(hit.point)}` : "no ring"),
    radius: () => radius,
    setRadius: (mm) => void (radius = mm),
    drags: () => drags,
    begin: () => void told.push("begin"),
    dab: (centre, drag, invert) =>
      void told.push(`dab ${short(centre)}${drags ? ` by ${short(drag)}` : ""}${invert ? " inverted" : ""}`),
    end: () => void told.push("end"),
  };
  const stop = listenToBrush(canvas as unknown as HTMLCanvasElement, camera, () => orbit as never, on);
  const send = (type: string, x: number, y: number, more: object = {}): Event => {
    const event = Object.assign(new Event(type, { cancelable: true }), {
      clientX: x,
      clientY: y,
      button: 0,
      pointerId: 1,
      altKey: false,
      shiftKey: false,
      deltaY: 0,
      ...more,
    });
    canvas.dispatchEvent(event);
    return event;
  };
  return { send, told, stop, orbit };
}

describe("strokes", () => {
  it("dab where the button goes down and again after a share of the radius; the view stands still meanwhile", () => {
    const { send, told, orbit } = stage();
    send("pointerdown", 50, 50);
    expect(orbit.enabled).toBe(false);
    send("pointermove", 50.05, 50);
    send("pointermove", 60, 50, { shiftKey: true });
    send("pointerup", 60, 50);
    // the wall is 4 m wide in 100 pixels: 10 pixels are 0.4 m
    expect(told).toEqual(["begin", "dab 0 0 0", "dab 0.4 0 0 inverted", "ring 0.4 0 0", "end"]);
    expect(orbit.enabled).toBe(true);
  });
  it("take the surface along at the depth where they began", () => {
    const { send, told } = stage(true);
    send("pointerdown", 50, 50);
    send("pointermove", 50, 40);
    send("pointermove", 60, 40);
    send("pointercancel", 60, 40);
    expect(told.filter((t) => t.startsWith("dab")).length).toBe(2);
    // rays aside meet the same distance from the camera a little nearer to the wall's middle
    expect(told[1]).toMatch(/^dab 0 0 0 by 0 0\.\d+ 0\.\d+$/);
    expect(told.at(-1)).toBe("end");
  });
  it("do not begin beside the surface, with another button, or with Alt, which turns the view", () => {
    const { send, told, orbit } = stage();
    send("pointerdown", 5, 50);
    send("pointerdown", 50, 50, { button: 2 });
    send("pointerdown", 50, 50, { altKey: true });
    send("pointerup", 50, 50);
    expect(told).toEqual([]);
    expect(orbit.enabled).toBe(true);
    send("pointermove", 5, 50);
    expect(told).toEqual(["no ring"]);
  });
  it("have their radius from the wheel, within limits, over the surface only", () => {
    const { send, told } = stage();
    const over = send("wheel", 50, 50, { deltaY: -1 });
    expect(over.defaultPrevented).toBe(true);
    expect(send("wheel", 5, 50, { deltaY: -1 }).defaultPrevented).toBe(false);
    for (let i = 0; i < 60; i++) send("wheel", 50, 50, { deltaY: 1 });
    send("pointerdown", 50, 50);
    // at the least radius, 2 mm, dabs come every quarter of a millimetre
    send("pointermove", 50.01, 50);
    expect(told.filter((t) => t.startsWith("dab")).length).toBe(2);
  });
  it("end with the listening", () => {
    const { send, told, stop } = stage();
    stop();
    for (const type of ["pointerdown", "pointermove", "pointerup", "wheel"]) send(type, 50, 50);
    expect(told).toEqual([]);
  });
});
