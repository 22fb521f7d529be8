import Button from "@mui/material/Button";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { ADDABLE, type Addable } from "~core/edits/repairs/addJoint";
import { isUserError } from "~core/model/userError";
import { readJointMap, writeJointMap } from "~core/skeleton/jointMapFile";
import { mapFaults } from "~core/skeleton/mapFaults";
import { mapConfidence, type BoneGround } from "~core/skeleton/mapConfidence";
import { boneLabel, HUMANOID_BONES, REQUIRED_BONES } from "~core/names/humanoidBones";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { saveFile } from "../../ui/saveFile";
import { FindField } from "../../ui/FindField";
import { pickJoints } from "../../session/slices/selection";
import { lookAtJoint } from "../../session/slices/view";

const REQUIRED = new Set<string>(REQUIRED_BONES);
const isAddable = (bone: string): bone is Addable => (ADDABLE as readonly string[]).includes(bone);
const NONE = "\u0000none";

/**
 * Every humanoid bone with the joint that plays it; missing required ones first. Choosing another joint is a ledger
 * step.
 */
export function JointMap(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const chosen = useSession((s) => s.joint);
  const { addStep } = useDesk();
  const [find, setFind] = useState("");
  const [picking, setPicking] = useState<string | null>(null);
  useEffect(() => () => pickJoints(store, null), [store]);
  const [told, setTold] = useState({ text: "", refused: false });
  const input = useRef<HTMLInputElement>(null);
  const owner = useCharacterPage().character.name;
  const sure = useMemo(
    () => (loaded?.character.skeleton ? mapConfidence(loaded.character.skeleton, loaded.character.jointMap) : null),
    [loaded],
  );
  const faults = useMemo(
    () =>
      loaded?.character.skeleton && loaded.humanoid
        ? new Map(mapFaults(loaded.character.skeleton, loaded.humanoid).map((f) => [f.bone, f.message]))
        : new Map<string, string>(),
    [loaded],
  );
  if (!loaded) return <p className="muted p-0-18">Fetching the character</p>;
  const { character, humanoid } = loaded;
  if (!character.skeleton || !humanoid)
    return (
      <p className="p-8-18">
        This delivery has no skeleton. Ask for the skinned character as one .glb; shapes can be looked at meanwhile.
      </p>
    );
  const { joints } = character.skeleton;
  const nameOf = (bone: string): string | null => {
    const j = humanoid.jointOfBone.get(bone);
    return j === undefined ? null : joints[j]!.name;
  };
  const rank = (bone: string): number => (REQUIRED.has(bone) && nameOf(bone) === null ? 0 : faults.has(bone) ? 1 : 2);
  const bones = HUMANOID_BONES.filter((b) =>
    `${boneLabel(b)} ${nameOf(b) ?? ""}`.toLowerCase().includes(find.toLowerCase()),
  ).sort((a, b) => rank(a) - rank(b));
  const choose = (bone: string, joint: string): void => {
    const old = nameOf(bone);
    if (joint === NONE) {
      if (old) void addStep({ op: "map joint", joint: old, bone: null });
    } else if (joint !== old) void addStep({ op: "map joint", joint, bone });
  };
  const pick = (bone: string | null): void => {
    setPicking(bone);
    pickJoints(
      store,
      bone === null
        ? null
        : (joint) => {
            pick(null);
            choose(bone, joint);
          },
    );
  };
  const { skeleton } = character;
  const save = (): void =>
    saveFile(
      `${owner} joint map.json`,
      new Blob([`${JSON.stringify(writeJointMap(skeleton, humanoid), null, 1)}\n`], { type: "application/json" }),
    );
  const load = async (file: File): Promise<void> => {
    try {
      const { map, missing } = readJointMap(await file.text(), file.name, skeleton);
      if (await addStep({ op: "map joints", map: { ...map } }))
        setTold({
          text:
            `${Object.keys(map).length} joints mapped by ` +
            `${file.name}.${missing.length ? ` Not here: ${missing.slice(0, 4).join(", ")}${missing.length > 4 ? ` and ${missing.length - 4} more` : ""}.` : ""}`,
          refused: false,
        });
    } catch (error) {
      setTold({ text: isUserError(error) ? error.message : `${file.name} could not be read.`, refused: true });
    } finally {
      if (input.current) input.current.value = "";
    }
  };
  const doubtful = bones.filter((b) => sure?.get(b)?.ground === "name against place").length;
  return (
    <>
      <div className="sheet-tools p-10-18-8 m-0">
        <FindField label="Find a bone or joint" value={find} onChange={setFind} />
        <span className="muted nowrap">
          {humanoid.jointOfBone.size} of {HUMANOID_BONES.length} mapped
          {humanoid.missingRequired.length ? `, ${humanoid.missingRequired.length} required missing` : ""}
          {doubtful ? `, ${doubtful} doubtful` : ""}
          {faults.size ? `, ${faults.size} against the tree` : ""}
        </span>
        <Button onClick={save} title="As a file, for characters with the same joint names">
          Save map
        </Button>
        <Button onClick={() => input.current?.click()}>Use a map</Button>
        <input
          ref={input}
          type="file"
          accept=".json"
          hidden
          aria-label="Joint map file"
          onChange={(e) => e.target.files?.[0] && void load(e.target.files[0])}
        />
      </div>
      <div className="sheet-body">
        {told.text && (
          <div
            className={told.refused ? "refusal" : "muted"}
            role={told.refused ? "alert" : "status"}
            style={{ margin: "4px 18px 8px", fontSize: 12.5 }}>
            {told.text}
          </div>
        )}
        <table className="plain">
          <thead>
            <tr>
              <th>Humanoid bone (VRM 1.0)</th>
              <th>Joint of this character</th>
              <th>Known by</th>
            </tr>
          </thead>
          <tbody>
            {bones.map((bone) => {
              const joint = nameOf(bone);
              const missing = !joint && REQUIRED.has(bone);
              return (
                <tr
                  key={bone}
                  className={`pick${joint && joint === chosen ? " on" : ""}`}
                  onClick={() => joint && lookAtJoint(store, joint, { joints: true })}>
                  <td style={missing ? { color: "var(--brick)" } : undefined}>
                    {boneLabel(bone)}{" "}
                    {REQUIRED.has(bone) && (
                      <span className="muted t-tiny">{missing ? "required, missing" : "required"}</span>
                    )}
                  </td>
                  <td onClick={(e) => e.stopPropagation()} className="py-1">
                    <Select
                      variant="standard"
                      disableUnderline
                      value={joint ?? NONE}
                      onChange={(e) => choose(bone, e.target.value)}
                      sx={{ fontFamily: "var(--mono)", fontSize: 12, minWidth: 120 }}
                      inputProps={{ "aria-label": `Joint for ${boneLabel(bone)}` }}
                      MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}>
                      <MenuItem value={NONE}>
                        <span className="muted">none</span>
                      </MenuItem>
                      {joints.map((j) => (
                        <MenuItem key={j.name} value={j.name}>
                          <span className="mono">{j.name}</span>
                        </MenuItem>
                      ))}
                    </Select>
                    <Button
                      aria-pressed={picking === bone}
                      color={picking === bone ? "primary" : "inherit"}
                      sx={{ px: 0.5 }}
                      title={`Click the joint of the ${boneLabel(bone)} on the stage`}
                      onClick={() => pick(picking === bone ? null : bone)}>
                      {picking === bone ? "Click a joint" : "Pick"}
                    </Button>
                    {!joint && isAddable(bone) && (
                      <Button
                        title="Adds a joint where the eyeballs say it belongs"
                        onClick={() => void addStep({ op: "repair", repair: { what: "add joint", bone } })}>
                        Add
                      </Button>
                    )}
                  </td>
                  <td className="t-12">
                    {faults.has(bone) ? (
                      <span className="ink-brick">▲ {faults.get(bone)}</span>
                    ) : (
                      <Ground of={sure?.get(bone)} joints={joints.map((j) => j.name)} />
                    )}
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

/** How sure a bone's joint is, as glyph and words. */
function Ground({ of, joints }: { of: BoneGround | undefined; joints: readonly string[] }): ReactNode {
  if (!of) return null;
  if (of.ground === "name against place")
    return (
      <span className="ink-amber" title={`By its place ${joints[of.rival!]} would be it`}>
        ◆ name; place says {joints[of.rival!]}
      </span>
    );
  return (
    <span className="muted">
      {of.ground === "name" || of.ground === "place" ? "○" : "●"} {of.ground}
    </span>
  );
}
