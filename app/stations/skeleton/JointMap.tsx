import { useState, type ReactNode } from "react";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { boneLabel, HUMANOID_BONES, REQUIRED_BONES } from "~core/skeleton/humanoidBones";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { FindField } from "../../ui/FindField";

const REQUIRED = new Set<string>(REQUIRED_BONES);
const NONE = "\u0000none";

/** Every humanoid bone with the joint that plays it; missing required ones first. Choosing another joint is a ledger step. */
export function JointMap(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const chosen = useSession((s) => s.joint);
  const { addStep } = useDesk();
  const [find, setFind] = useState("");
  if (!loaded) return <p className="muted" style={{ padding: "0 18px" }}>Fetching the character</p>;
  const { character, humanoid } = loaded;
  if (!character.skeleton || !humanoid) return <p style={{ padding: "8px 18px" }}>This delivery has no skeleton. Ask for the skinned character as one .glb; shapes can be looked at meanwhile.</p>;
  const { joints } = character.skeleton;
  const nameOf = (bone: string): string | null => {
    const j = humanoid.jointOfBone.get(bone);
    return j === undefined ? null : joints[j]!.name;
  };
  const rank = (bone: string): number => (REQUIRED.has(bone) && nameOf(bone) === null ? 0 : 1);
  const bones = HUMANOID_BONES.filter((b) => `${boneLabel(b)} ${nameOf(b) ?? ""}`.toLowerCase().includes(find.toLowerCase())).sort((a, b) => rank(a) - rank(b));
  const choose = (bone: string, joint: string): void => {
    const old = nameOf(bone);
    if (joint === NONE) {
      if (old) void addStep({ op: "map joint", joint: old, bone: null });
    } else if (joint !== old) void addStep({ op: "map joint", joint, bone });
  };
  return (
    <>
      <div className="sheet-tools" style={{ padding: "10px 18px 8px", margin: 0 }}>
        <FindField label="Find a bone or joint" value={find} onChange={setFind} />
        <span className="muted nowrap">{humanoid.jointOfBone.size} of {HUMANOID_BONES.length} mapped, {humanoid.missingRequired.length} required missing</span>
      </div>
      <div className="sheet-body">
        <table className="plain">
          <thead><tr><th>Humanoid bone (VRM 1.0)</th><th>Joint of this character</th></tr></thead>
          <tbody>
            {bones.map((bone) => {
              const joint = nameOf(bone);
              const missing = !joint && REQUIRED.has(bone);
              return (
                <tr key={bone} className={`pick${joint && joint === chosen ? " on" : ""}`} onClick={() => joint && store.setState({ joint, joints: true, framing: `joint ${joint}`, camera: null, place: null })}>
                  <td style={missing ? { color: "var(--brick)" } : undefined}>{boneLabel(bone)} {REQUIRED.has(bone) && <span className="muted" style={{ fontSize: 11 }}>{missing ? "required, missing" : "required"}</span>}</td>
                  <td onClick={(e) => e.stopPropagation()} style={{ paddingBlock: 1 }}>
                    <Select variant="standard" disableUnderline value={joint ?? NONE} onChange={(e) => choose(bone, e.target.value)} sx={{ fontFamily: "var(--mono)", fontSize: 12, minWidth: 170 }} inputProps={{ "aria-label": `Joint for ${boneLabel(bone)}` }} MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}>
                      <MenuItem value={NONE}><span className="muted">none</span></MenuItem>
                      {joints.map((j) => <MenuItem key={j.name} value={j.name}><span className="mono">{j.name}</span></MenuItem>)}
                    </Select>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}
