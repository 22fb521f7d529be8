import Checkbox from "@mui/material/Checkbox";
import { useEffect, useState, type ReactNode } from "react";
import type { BuildShape } from "~core/edits/skeleton/refitJoints";
import { askJob } from "../../session/jobs/pageJobs";
import { useSession } from "../../session/session";
import { counted } from "../../ui/counted";
import { RepairTool } from "../RepairTool";

/** Shapes that change the build: every joint goes with the ring of skin round it, for all ticked shapes in one step. */
export function RefitShapes(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const [found, setFound] = useState<{ of: unknown; rows: readonly BuildShape[] } | null>(null);
  const [own, setOwn] = useState<ReadonlyMap<string, boolean>>(new Map());
  useEffect(() => {
    if (!loaded) return;
    let gone = false;
    void askJob(loaded, "builds", {}).then((rows) => {
      if (!gone) setFound({ of: loaded.character, rows });
    });
    return () => {
      gone = true;
    };
  }, [loaded]);
  if (!loaded || found?.of !== loaded.character)
    return <p className="muted m-0">Reading what the shapes do to the joints…</p>;
  const { rows } = found;
  if (rows.length === 0) return <p className="muted m-0">No shape takes joints of the body along.</p>;
  const ticked = (r: BuildShape): boolean => own.get(r.name) ?? !r.has;
  const chosen = rows.filter(ticked).map((r) => r.name);
  return (
    <div className="stack gap-6">
      <div className="max-h-260 over-y-auto">
        <table className="plain t-small">
          <thead>
            <tr>
              <th />
              <th>Shape</th>
              <th className="to-right">Joints</th>
              <th>Furthest</th>
              <th className="to-right">mm</th>
              <th className="to-right">off now, mm</th>
              <th>has offsets</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.name}>
                <td>
                  <Checkbox
                    size="small"
                    checked={ticked(r)}
                    onChange={(_, on) => setOwn(new Map(own).set(r.name, on))}
                    sx={{ p: 0 }}
                    slotProps={{ input: { "aria-label": `Refit ${r.name}` } }}
                  />
                </td>
                <td className="mono">{r.name}</td>
                <td className="num">{r.joints}</td>
                <td className="mono">{r.worst.joint}</td>
                <td className="num">{(1000 * r.worst.metres).toFixed(1)}</td>
                <td className="num">{(1000 * r.off).toFixed(1)}</td>
                <td>{r.has ? "yes" : "no"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <RepairTool
        title="Joint refit"
        button={chosen.length ? `Refit ${counted(chosen.length, "shapes")}` : "Refit"}
        repair={chosen.length ? { what: "refit", shapes: chosen } : null}
        onDone={() => setOwn(new Map())}>
        <span className="muted">each joint goes with the ring of skin round it</span>
      </RepairTool>
    </div>
  );
}
