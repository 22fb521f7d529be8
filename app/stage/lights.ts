import { DirectionalLight, Group, HemisphereLight } from "three";

export interface Lights {
  readonly group: Group;
  /** Even light under a measured colour, so that the scale can be read; else form-giving light. */
  readonly even: (on: boolean) => void;
}

/** A plaster room: soft sky, a key from the upper left in front, a weak rim from behind. */
export function makeLights(): Lights {
  const group = new Group();
  const sky = new HemisphereLight("#f4f1ea", "#8d8274", 1.35);
  const key = new DirectionalLight("#fff4e6", 2.3);
  key.position.set(-1.6, 2.6, 2.4);
  const rim = new DirectionalLight("#dfe9f2", 0.9);
  rim.position.set(2, 1.6, -2.2);
  group.add(sky, key, rim);
  return {
    group,
    even: (on) => {
      sky.intensity = on ? 2.9 : 1.35;
      sky.groundColor.set(on ? "#cfc8bd" : "#8d8274");
      key.intensity = on ? 0.9 : 2.3;
      rim.intensity = on ? 0.3 : 0.9;
    },
  };
}
