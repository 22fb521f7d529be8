import type { ReactNode } from "react";
import { DRIVER_GROUPS, type DriverGroup } from "~core/model/poseDriver";
import type { Character } from "~core/model/character";
import { useSession, useSessionStore } from "../../session/session";
import { toggleDrivers } from "../../session/slices/view";

/** Names of groups as they stand on the stage's chips. */
const WORDS: Record<DriverGroup, string> = { corrective: "correctives", muscle: "muscles", expression: "combinations" };

/** Groups of which the character has some. */
const groupsIn = ({ drivers, poseDrivers = [], sampleSets = [], shapeDrivers }: Character): DriverGroup[] => {
  const there = new Set<DriverGroup>([
    ...drivers.map((d) => d.group ?? "corrective"),
    ...[...poseDrivers, ...sampleSets].map((d) => d.group),
    ...(shapeDrivers.length ? (["expression"] as const) : []),
  ]);
  return DRIVER_GROUPS.filter((g) => there.has(g));
};

/** Switches of the groups of drivers, where there is more than one. */
export function DriverGroups(): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character ?? null);
  const off = useSession((s) => s.driversOff);
  const groups = character ? groupsIn(character) : [];
  if (groups.length < 2) return null;
  return (
    <div className="line t-small p-4-18-12" role="group" aria-label="Groups of drivers">
      <span className="muted">at work</span>
      {groups.map((g) => (
        <button
          key={g}
          type="button"
          className="chip"
          aria-pressed={!off.includes(g)}
          onClick={() => toggleDrivers(store, g)}>
          {WORDS[g]}
        </button>
      ))}
    </div>
  );
}
