import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { PROFILES } from "~core/checks/checkFacts";
import { boneLabel } from "~core/names/humanoidBones";
import { askJob } from "../../session/jobs/pageJobs";
import { momentOf, useSession, useSessionStore } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { lookAtJoint } from "../../session/slices/view";

const LIMBS = ["leftUpperArm", "rightUpperArm", "leftUpperLeg", "rightUpperLeg"] as const;
const LIMIT = PROFILES.realtime.limits["pose.penetration"] ?? Infinity;
const PAUSE = 200;

/**
 * How deep arms and legs cut into the body in the pose on the stage, as it is changed; showing one paints its overlap.
 */
export function LimbContacts(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const pose = useSession((s) => s.pose);
  const [read, setRead] = useState<{
    pose: typeof pose;
    rows: { bone: string; joint: string; depth: number }[];
  } | null>(null);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      void (async () => {
        const s = store.getState();
        const { loaded: now } = s;
        if (!now?.humanoid) return;
        const rows: { bone: string; joint: string; depth: number }[] = [];
        for (const bone of LIMBS) {
          const j = now.humanoid.jointOfBone.get(bone);
          const joint = j === undefined ? undefined : now.character.skeleton?.joints[j]?.name;
          if (joint === undefined) continue;
          const measured = await askJob(now, "measure joint", { joint, moment: momentOf(s), sketch: null });
          if (measured) rows.push({ bone, joint, depth: measured.reading.depth });
        }
        if (!gone) setRead({ pose, rows });
      })();
    }, PAUSE);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, loaded, pose]);
  if (!read) return null;
  return (
    <table
      className="plain"
      style={{ fontSize: 12.5, opacity: read.pose === pose ? 1 : 0.6 }}
      aria-label="Limbs into the body">
      <thead>
        <tr>
          <th>Skin into skin at</th>
          <th>Deepest</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {read.rows.map((r) => (
          <tr key={r.bone}>
            <td>{boneLabel(r.bone)}</td>
            <td>
              <LimitBar
                value={r.depth}
                limit={LIMIT}
                text={`${r.depth.toFixed(1)} mm`}
                verdict={r.depth > LIMIT ? "warn" : "fine"}
              />
            </td>
            <td className="to-right">
              <Button onClick={() => lookAtJoint(store, r.joint, { reading: "overlap" })}>Show</Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
