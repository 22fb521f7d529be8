/**
 * Drivers of a hand-off, for players that know none: the weights of correctives, muscles and combinations from the
 * joints' local rotations and the weights that are set. One file without dependencies; types in drivers.d.mts.
 *
 *   const gltf = await new GLTFLoader().loadAsync("figure.glb");
 *   const drivers = readDrivers(gltf.userData.yxomorph);
 *   const figure = bindThree(drivers, gltf.scene);
 *   figure.update({ AU12_left: 0.5 });   // after every change of the pose, before it is drawn
 *
 * Anywhere else give `weightsOf` each joint's turn away from rest: conjugate(rest rotation) x present local rotation.
 * Quaternions are x, y, z, w; angles degrees; vectors are in the joint's own frame.
 */

const DEGREES = 180 / Math.PI;
const REST = [0, 0, 0, 1];
const clamp = (x, low = 0, high = 1) => Math.min(high, Math.max(low, x));
const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a, b) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const normalize = (v) => v.map((x) => x / Math.hypot(...v));
const multiply = (a, b) => [
  a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
  a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
  a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
  a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
];
const rotate = (q, v) => {
  const t = cross(q, v);
  const u = cross(q, t);
  return [0, 1, 2].map((k) => v[k] + 2 * (q[3] * t[k] + u[k]));
};
/** Signed turn about a unit axis, -180..180 (the twist of the swing-twist decomposition). */
const twist = (q, axis) => {
  const turn = DEGREES * 2 * Math.atan2(dot(q, axis), q[3]);
  return turn > 180 ? turn - 360 : turn < -180 ? turn + 360 : turn;
};
const smooth = (t) => t * t * (3 - 2 * t);
const EASINGS = { linear: (t) => t, smooth, "slow start": (t) => t * t, "slow end": (t) => t * (2 - t) };

/** A shape by the turn of one joint between two angles. */
const turnDriver = (d) => (view, add) => {
  if (!d.enabled) return;
  const angle = twist(view.turn(d.joint), d.axis);
  const span = d.toDegrees - d.fromDegrees;
  const t = Math.abs(span) < 1e-9 ? Number(angle >= d.fromDegrees) : clamp((angle - d.fromDegrees) / span);
  add(d.shape, d.intensity * EASINGS[d.easing](t));
};

/** Slopes of a curve that never leaves the heights of its points (Fritsch & Butland 1984). */
function slopesOf(points) {
  const spans = points.slice(1).map((p, i) => p.degrees - points[i].degrees);
  const rises = points.slice(1).map((p, i) => (p.weight - points[i].weight) / spans[i]);
  return points.map((_, i) => {
    const [before, after] = [rises[i - 1], rises[i]];
    if (before === undefined || after === undefined || before * after <= 0) return 0;
    const [u, v] = [2 * spans[i] + spans[i - 1], spans[i] + 2 * spans[i - 1]];
    return (u + v) / (u / before + v / after);
  });
}
function onCurve(points, slopes, angle) {
  const last = points.length - 1;
  if (!(angle > points[0].degrees)) return points[0].weight;
  if (angle >= points[last].degrees) return points[last].weight;
  const i = points.findIndex((p, k) => k < last && points[k + 1].degrees > angle);
  const [a, b] = [points[i], points[i + 1]];
  const span = b.degrees - a.degrees;
  const t = (angle - a.degrees) / span;
  const s = 1 - t;
  if (!slopes) return a.weight + (b.weight - a.weight) * t;
  const [m, n] = [slopes[i] * span, slopes[i + 1] * span];
  return a.weight * (1 + 2 * t) * s * s + m * t * s * s + b.weight * t * t * (3 - 2 * t) - n * t * t * s;
}

/** One reading of a pose. */
function term(t) {
  if (t.kind === "weight") return (view) => t.atNone + (1 - t.atNone) * clamp(view.weight(t.shape));
  if (t.kind === "angle") {
    const slopes = t.between === "smooth" ? slopesOf(t.points) : null;
    return (view) => onCurve(t.points, slopes, twist(view.turn(t.joint), t.axis));
  }
  return (view) => {
    const q = view.turn(t.joint);
    const now = rotate(q, t.along);
    const off = DEGREES * Math.atan2(Math.hypot(...cross(now, t.towards)), dot(now, t.towards));
    const span = t.noneDegrees - t.fullDegrees;
    const near = span > 1e-9 ? smooth(clamp((t.noneDegrees - off) / span)) : Number(off <= t.fullDegrees);
    if (!t.twist || near === 0) return near;
    const angle = twist(q, t.along);
    const beyond = Math.max(t.twist.fromDegrees - angle, angle - t.twist.toDegrees, 0);
    if (beyond === 0) return near;
    return t.twist.fadeDegrees > 1e-9 ? near * smooth(clamp(1 - beyond / t.twist.fadeDegrees)) : 0;
  };
}

/** A shape by one to four readings together. */
function poseDriver(d) {
  const terms = d.terms.map(term);
  return (view, add) => {
    if (!d.enabled) return;
    const values = terms.map((value) => value(view));
    const all = d.rule === "least" ? Math.min(...values) : values.reduce((a, b) => a * b, 1);
    add(d.shape, d.intensity * all);
  };
}

const KERNELS = {
  gaussian: (d, r) => Math.exp(-((d / r) ** 2)),
  compact: (d, r) => (d >= r ? 0 : (1 - d / r) ** 4 * (1 + (4 * d) / r)),
  linear: (d) => d,
};

/** Inverse of a small matrix, rows as arrays (Gauss-Jordan, largest pivot first). */
function inverse(rows) {
  const n = rows.length;
  const m = rows.map((row, i) => [...row, ...rows.map((_, k) => Number(i === k))]);
  for (let c = 0; c < n; c++) {
    let best = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r][c]) > Math.abs(m[best][c])) best = r;
    [m[c], m[best]] = [m[best], m[c]];
    if (!(Math.abs(m[c][c]) > 1e-12)) return null;
    m[c] = m[c].map((x) => x / m[c][c]);
    for (let r = 0; r < n; r++) if (r !== c) m[r] = m[r].map((x, k) => x - m[r][c] * m[c][k]);
  }
  return m.map((row) => row.slice(n));
}

/** Two unit directions square to a bone. */
function sidesOf(along) {
  const least = [0, 1, 2].reduce((k, i) => (Math.abs(along[i]) < Math.abs(along[k]) ? i : k), 0);
  const one = normalize(
    cross(
      along,
      [0, 1, 2].map((k) => Number(k === least)),
    ),
  );
  return [one, cross(along, one)];
}

/**
 * Shapes by sampled poses: radial basis functions over where each bone and, by a share, its sides point (Lewis, Cordner
 * & Fong 2000). Weights below 0 are left out and all are brought to a sum of 1; rest is one of the samples.
 */
function sampleDriver(set) {
  const share = set.twistShare * Math.SQRT1_2;
  const sides = set.joints.map((j) => sidesOf(j.along));
  const place = (turnOf) =>
    set.joints.flatMap(({ along }, j) => {
      const q = turnOf(j);
      return [...rotate(q, along), ...sides[j].flatMap((s) => rotate(q, s).map((x) => share * x))];
    });
  const apart = (a, b) => Math.hypot(...a.map((x, k) => x - b[k]));
  const places = [place(() => REST), ...set.samples.map((s) => place((j) => s.turns[j]))];
  const radius = 2 * Math.sin(clamp(set.radiusDegrees, 1, 180) / DEGREES / 2);
  const kernel = (d) => KERNELS[set.kernel](d, radius);
  const solved = places.length === 1 ? [[1]] : inverse(places.map((a) => places.map((b) => kernel(apart(a, b)))));
  return (view, add) => {
    if (!set.enabled || !solved) return;
    const here = place((j) => view.turn(set.joints[j].joint));
    const distances = places.map((p) => apart(here, p));
    const least = Math.min(...distances);
    const near = distances.map((d) => (least === 0 ? Number(d === 0) : (least / d) ** 4));
    const all = near.reduce((a, b) => a + b, 0);
    const values = distances.map(kernel);
    const raw = places.map((_, i) => {
      const w = values.reduce((sum, v, j) => sum + v * solved[j][i], 0);
      return Math.max(0, w) + (1e-3 * near[i]) / all;
    });
    const sum = raw.reduce((a, b) => a + b, 0);
    set.samples.forEach((s, i) => s.shape !== null && add(s.shape, raw[i + 1] / sum));
  };
}

/** A combination or an in-between of other shapes. */
const shapeDriver = (d) => (view, add) => {
  const w = d.of.map((name) => Math.max(0, view.weight(name)));
  if (!d.enabled || w.length === 0) return;
  if (d.rule === "product")
    add(
      d.shape,
      w.reduce((a, b) => a * b, 1),
    );
  else if (d.rule === "minimum") add(d.shape, Math.min(...w));
  else if (d.rule === "beyond one") add(d.shape, clamp(w.reduce((a, b) => a + b, 0) - 1));
  else {
    const { from, peak, to } = d.span ?? { from: 0, peak: 0.5, to: 1 };
    const t = w[0] <= peak ? (peak - w[0]) / (peak - from) : (w[0] - peak) / (to - peak);
    add(d.shape, Math.max(0, 1 - t * t));
  }
};

/** The turn of a joint that shares another's twist. */
const sharedTwist = ({ of, axis, about, share }, turnOf) => {
  const half = (share * twist(turnOf(of) ?? REST, axis)) / DEGREES / 2;
  return [...about.map((x) => x * Math.sin(half)), Math.cos(half)];
};

/** Drivers of `extras.yxomorph` of a hand-off, or of its sidecar JSON, made ready. */
export function readDrivers(extras) {
  if (extras?.version !== 1) throw new Error("These are no extras of version 1 of a Yxomorph hand-off.");
  const drivers = [
    ...(extras.drivers ?? []).map(turnDriver),
    ...(extras.sampleSets ?? []).map(sampleDriver),
    ...(extras.poseDrivers ?? []).map(poseDriver),
    ...(extras.shapeDrivers ?? []).map(shapeDriver),
  ];
  return {
    /** Turns away from rest of the joints that share a twist, by name. @param turnOf as for `weightsOf`. */
    twistsOf: (turnOf) => new Map((extras.twistJoints ?? []).map((t) => [t.joint, sharedTwist(t, turnOf)])),
    /**
     * Weights of all shapes that are set or driven. @param turnOf a joint's turn away from rest by its name.
     * @param set weights that the animator sets, by shape.
     */
    weightsOf(turnOf, set = {}) {
      const weights = new Map(Object.entries(set));
      const view = { turn: (joint) => turnOf(joint) ?? REST, weight: (shape) => weights.get(shape) ?? 0 };
      const add = (shape, w) => weights.set(shape, (weights.get(shape) ?? 0) + w);
      for (const driver of drivers) driver(view, add);
      return weights;
    },
  };
}

/** Binds drivers to a scene of three.js as its glTF loader makes it; rest is the pose that the scene is in now. */
export function bindThree(drivers, root) {
  const joints = new Map();
  const meshes = [];
  root.traverse((o) => {
    const name = o.userData?.name ?? o.name;
    if (name && !joints.has(name))
      joints.set(name, {
        node: o,
        rest: [o.quaternion.x, o.quaternion.y, o.quaternion.z, o.quaternion.w],
        back: [-o.quaternion.x, -o.quaternion.y, -o.quaternion.z, o.quaternion.w],
      });
    if (o.morphTargetDictionary) meshes.push(o);
  });
  const turnOf = (name) => {
    const joint = joints.get(name);
    if (!joint) return REST;
    const { x, y, z, w } = joint.node.quaternion;
    return multiply(joint.back, [x, y, z, w]);
  };
  return {
    /** Turns joints that share a twist and sets the influences of every mesh. @returns the weights by shape. */
    update(set = {}) {
      for (const [name, turn] of drivers.twistsOf(turnOf)) {
        const joint = joints.get(name);
        if (joint) joint.node.quaternion.set(...multiply(joint.rest, turn));
      }
      const weights = drivers.weightsOf(turnOf, set);
      for (const mesh of meshes)
        for (const [shape, at] of Object.entries(mesh.morphTargetDictionary))
          mesh.morphTargetInfluences[at] = weights.get(shape) ?? 0;
      return weights;
    },
  };
}
