import MenuItem from "@mui/material/MenuItem";
import type { ReactNode } from "react";
import { SmallSelect } from "../../../ui/SmallSelect";
import { changeCurves } from "~core/trials/keys";
import { EASES, type Curve, type Keys } from "~core/trials/trial";
import { Segmented } from "../../../ui/Segmented";
import { KeyCurve } from "./KeyCurve";

/** The keys with one of their curves changed. @param shown which: its kind and name, as CurveChoice gives it. */
export const changeOne = (keys: Keys, shown: string, change: (c: Curve) => Curve): Keys => {
  const found = curveOf(keys, shown);
  return found ? changeCurves(keys, (c) => (c === found ? change(c) : c)) : keys;
};
const curveOf = (keys: Keys, shown: string | null): Curve | null => {
  if (!shown) return null;
  const [kind, name] = [shown[0], shown.slice(2)];
  if (kind === "h") return keys.hips;
  return (kind === "j" ? keys.joints[name] : keys.shapes[name]) ?? null;
};

/** Which curve of the keys is shown. */
export function CurveChoice({
  keys,
  shown,
  onShow,
  label,
}: {
  keys: Keys;
  shown: string | null;
  onShow: (shown: string) => void;
  label: (joint: string) => string;
}): ReactNode {
  const all: readonly (readonly [string, string])[] = [
    ...(keys.hips ? [["h:", "hips' way"] as const] : []),
    ...Object.keys(keys.joints).map((n) => [`j:${n}`, label(n)] as const),
    ...Object.keys(keys.shapes).map((n) => [`s:${n}`, n] as const),
  ];
  if (all.length === 0) return null;
  return (
    <div className="line t-small mt-6">
      <span className="muted">curve of</span>
      <SmallSelect
        label="Curve that is shown"
        value={all.some(([id]) => id === shown) ? shown! : ""}
        onChange={onShow}
        size={13}>
        <MenuItem value="">none</MenuItem>
        {all.map(([id, name]) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </SmallSelect>
    </div>
  );
}

/** The curve that is shown, and how it goes from key to key. */
export function ShownCurve({
  keys,
  shown,
  at,
  onGo,
  onEase,
}: {
  keys: Keys;
  shown: string | null;
  at: number;
  onGo: (t: number) => void;
  onEase: (ease: Curve["ease"]) => void;
}): ReactNode {
  const curve = curveOf(keys, shown);
  if (!curve || !shown) return null;
  return (
    <>
      <div className="line t-small">
        <Segmented label="Between keys" options={EASES} value={curve.ease} onChange={onEase} />
      </div>
      <KeyCurve
        curve={curve}
        kind={shown[0] === "s" ? "weight" : shown[0] === "h" ? "metres" : "degrees"}
        at={at}
        onGo={onGo}
      />
    </>
  );
}
