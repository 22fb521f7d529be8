import type { Pose } from "~core/evaluate/poseSkeleton";
import { clamp, type Vec3 } from "~core/math/vec3";
import { DRIVER_GROUPS, type DriverGroup } from "~core/model/poseDriver";

export const READINGS = ["skin", "clay", "weights", "stretch", "overlap"] as const;
export type Reading = (typeof READINGS)[number];
export const COMPARES = ["now", "before", "wipe", "side by side"] as const;
export type Compare = (typeof COMPARES)[number];

/**
 * Everything about the view that a link can bring back. Station, leaf and open row are in the path and their own
 * parameters.
 */
export interface ViewState {
  readonly pose: Pose;
  readonly weights: Readonly<Record<string, number>>;
  readonly method: "linear" | "dual";
  readonly drivers: boolean;
  /** Groups of drivers that are switched off. */
  readonly driversOff: readonly DriverGroup[];
  /** Name of a framing, or `joint NAME`. */
  readonly framing: string;
  readonly reading: Reading;
  readonly compare: Compare;
  readonly wires: boolean;
  readonly joints: boolean;
  readonly dressed: boolean;
  /** Joint the readings and the needle belong to. */
  readonly joint: string | null;
  /** Camera turned by hand: position and target, metres. */
  readonly camera: readonly number[] | null;
}

export const START_VIEW: ViewState = {
  pose: {},
  weights: {},
  method: "linear",
  drivers: true,
  driversOff: [],
  framing: "whole",
  reading: "skin",
  compare: "now",
  wires: false,
  joints: false,
  dressed: true,
  joint: null,
  camera: null,
};

const number = (text: string): number => {
  const x = Number(text);
  return Number.isFinite(x) ? x : 0;
};
const tidy = (x: number, digits = 3): string => String(Number(x.toFixed(digits)));
const oneOf = <T extends string>(list: readonly T[], value: string | null, fallback: T): T =>
  list.find((one) => one === value) ?? fallback;
const pairs = (text: string | null): [string, string][] =>
  (text ?? "")
    .split("~")
    .filter(Boolean)
    .slice(0, 400)
    .flatMap((item) => {
      const at = item.lastIndexOf("=");
      return at > 0 ? [[item.slice(0, at), item.slice(at + 1)] as [string, string]] : [];
    });

/** Reads the view from a query string; whatever does not fit falls back to the start view. */
export function viewFromQuery(query: URLSearchParams): ViewState {
  const camera = query.get("cam")?.split(",").map(number) ?? null;
  return {
    pose: Object.fromEntries(
      pairs(query.get("pose")).map(([joint, v]) => [
        joint,
        [0, 1, 2].map((k) => number(v.split(",")[k] ?? "0")) as unknown as Vec3,
      ]),
    ),
    weights: Object.fromEntries(pairs(query.get("w")).map(([shape, v]) => [shape, clamp(number(v), 0, 1)])),
    method: oneOf(["linear", "dual"], query.get("method"), "linear"),
    drivers: query.get("drivers") !== "off",
    driversOff: DRIVER_GROUPS.filter((g) => (query.get("off") ?? "").split("~").includes(g)),
    framing: query.get("frame")?.slice(0, 300) ?? START_VIEW.framing,
    reading: oneOf(READINGS, query.get("read"), "skin"),
    compare: oneOf(COMPARES, query.get("cmp"), "now"),
    wires: query.get("wires") === "on",
    joints: query.get("joints") === "on",
    dressed: query.get("cloth") !== "off",
    joint: query.get("joint"),
    camera: camera && camera.length === 6 ? camera : null,
  };
}

/** Writes the view into a query, leaving other parameters alone; what is at its start value is left out. */
export function viewToQuery(view: ViewState, query: URLSearchParams): URLSearchParams {
  const out = new URLSearchParams(query);
  const set = (key: string, value: string, start: string): void => {
    if (value === start) out.delete(key);
    else out.set(key, value);
  };
  set(
    "pose",
    Object.entries(view.pose)
      .filter(([, a]) => a.some((x) => x !== 0))
      .map(([j, a]) => `${j}=${a.map((x) => tidy(x)).join(",")}`)
      .join("~"),
    "",
  );
  set(
    "w",
    Object.entries(view.weights)
      .filter(([, x]) => x !== 0)
      .map(([s, x]) => `${s}=${tidy(x)}`)
      .join("~"),
    "",
  );
  set("method", view.method, "linear");
  set("drivers", view.drivers ? "on" : "off", "on");
  set("off", view.driversOff.join("~"), "");
  set("frame", view.framing, START_VIEW.framing);
  set("read", view.reading, "skin");
  set("cmp", view.compare, "now");
  set("wires", view.wires ? "on" : "off", "off");
  set("joints", view.joints ? "on" : "off", "off");
  set("cloth", view.dressed ? "on" : "off", "on");
  set("joint", view.joint ?? "", "");
  set("cam", view.camera ? view.camera.map((x) => tidy(x, 4)).join(",") : "", "");
  return out;
}
