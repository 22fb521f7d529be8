import { DirectionalLight, Group, HemisphereLight } from "three";
import { KEY, RIM, SKY, type Lamp } from "./roomLight";

export interface Lights {
  readonly group: Group;
  /** Even light under a measured colour, so that the scale can be read; else form-giving light. */
  readonly even: (on: boolean) => void;
}

function lampOf({ color, strength, from }: Lamp): DirectionalLight {
  const lamp = new DirectionalLight(color, strength);
  lamp.position.set(...from);
  return lamp;
}

export function makeLights(): Lights {
  const group = new Group();
  const sky = new HemisphereLight(SKY.above, SKY.below, SKY.strength);
  const key = lampOf(KEY);
  const rim = lampOf(RIM);
  group.add(sky, key, rim);
  return {
    group,
    even: (on) => {
      sky.intensity = on ? 2.9 : SKY.strength;
      sky.groundColor.set(on ? "#cfc8bd" : SKY.below);
      key.intensity = on ? 0.9 : KEY.strength;
      rim.intensity = on ? 0.3 : RIM.strength;
    },
  };
}
