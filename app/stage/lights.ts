import { DirectionalLight, Group, HemisphereLight } from "three";

/** A plaster room: soft sky, a key from the upper left in front, a weak rim from behind. */
export function makeLights(): Group {
  const group = new Group();
  const key = new DirectionalLight("#fff4e6", 2.3);
  key.position.set(-1.6, 2.6, 2.4);
  const rim = new DirectionalLight("#dfe9f2", 0.9);
  rim.position.set(2, 1.6, -2.2);
  group.add(new HemisphereLight("#f4f1ea", "#8d8274", 1.35), key, rim);
  return group;
}
