import Button from "@mui/material/Button";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { NameSelect } from "../../ui/NameSelect";
import { ADDABLE, type Addable } from "~core/edits/repairs/addJoint";
import type { Skeleton } from "~core/model/character";
import { isUserError } from "~core/model/userError";
import type { HumanoidMap } from "~core/skeleton/humanoidMap";
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
  const loaded = useSession((s) => s.loaded);
  if (!loaded) return <p className="muted p-0-18">Fetching the character</p>;
  const { skeleton } = loaded.character;
  if (!skeleton || !loaded.humanoid)
    return (
      <p className="p-8-18">
        This delivery has no skeleton. Ask for the skinned character as one .glb; shapes can be looked at meanwhile.
      </p>
    );
  return <BoneMap skeleton={skeleton} humanoid={loaded.humanoid} />;
}

interface BoneMapProps {
  readonly skeleton: Skeleton;
  readonly humanoid: HumanoidMap;
}

const jointNameOf = ({ skeleton, humanoid }: BoneMapProps, bone: string): string | null => {
  const j = humanoid.jointOfBone.get(bone);
  return j === undefined ? null : skeleton.joints[j]!.name;
};

function BoneMap({ skeleton, humanoid }: BoneMapProps): ReactNode {
  const jointMap = useSession((s) => s.loaded!.character.jointMap);
  const [find, setFind] = useState("");
  const sure = useMemo(() => mapConfidence(skeleton, jointMap), [skeleton, jointMap]);
  const faults = useMemo(
    () => new Map(mapFaults(skeleton, humanoid).map((f) => [f.bone, f.message])),
    [skeleton, humanoid],
  );
  const { picking, pick, choose } = useJointChoice({ skeleton, humanoid });
  const nameOf = (bone: string): string | null => jointNameOf({ skeleton, humanoid }, bone);
  const rank = (bone: string): number => {
    if (REQUIRED.has(bone) && nameOf(bone) === null) return 0;
    return faults.has(bone) ? 1 : 2;
  };
  const bones = HUMANOID_BONES.filter((b) =>
    `${boneLabel(b)} ${nameOf(b) ?? ""}`.toLowerCase().includes(find.toLowerCase()),
  ).sort((a, b) => rank(a) - rank(b));
  const doubtful = bones.filter((b) => sure.get(b)?.ground === "name against place").length;
  const file = useMapFile({ skeleton, humanoid });
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
        <Button onClick={file.save} title="As a file, for characters with the same joint names">
          Save map
        </Button>
        <FileButton label="Joint map file" onFile={(f) => void file.load(f)} />
      </div>
      <div className="sheet-body">
        {file.told.text && (
          <div
            className={file.told.refused ? "refusal" : "muted"}
            role={file.told.refused ? "alert" : "status"}
            style={{ margin: "4px 18px 8px", fontSize: 12.5 }}>
            {file.told.text}
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
            {bones.map((bone) => (
              <BoneRow
                key={bone}
                bone={bone}
                joint={nameOf(bone)}
                joints={skeleton.joints.map((j) => j.name)}
                ground={sure.get(bone)}
                fault={faults.get(bone)}
                picking={picking === bone}
                onPick={pick}
                onChoose={(joint) => choose(bone, joint)}
              />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** The map as a file, and from one. */
function useMapFile({ skeleton, humanoid }: BoneMapProps) {
  const { addStep } = useDesk();
  const owner = useCharacterPage().character.name;
  const [told, setTold] = useState({ text: "", refused: false });
  const save = (): void =>
    saveFile(
      `${owner} joint map.json`,
      new Blob([`${JSON.stringify(writeJointMap(skeleton, humanoid), null, 1)}\n`], { type: "application/json" }),
    );
  const load = async (file: File): Promise<void> => {
    try {
      const { map, missing } = readJointMap(await file.text(), file.name, skeleton);
      if (!(await addStep({ op: "map joints", map: { ...map } }))) return;
      const more = missing.length > 4 ? ` and ${missing.length - 4} more` : "";
      const lacks = missing.length ? ` Not here: ${missing.slice(0, 4).join(", ")}${more}.` : "";
      setTold({ text: `${Object.keys(map).length} joints mapped by ${file.name}.${lacks}`, refused: false });
    } catch (error) {
      setTold({ text: isUserError(error) ? error.message : `${file.name} could not be read.`, refused: true });
    }
  };
  return { told, save, load };
}

function FileButton({ label, onFile }: { readonly label: string; readonly onFile: (file: File) => void }): ReactNode {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>Use a map</Button>
      <input
        ref={input}
        type="file"
        accept=".json"
        hidden
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) onFile(file);
          // the same file can be chosen again
          e.target.value = "";
        }}
      />
    </>
  );
}

/** Giving a bone another joint, from the list or by a click on the stage. */
function useJointChoice(of: BoneMapProps) {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const [picking, setPicking] = useState<string | null>(null);
  useEffect(() => () => pickJoints(store, null), [store]);
  const choose = (bone: string, joint: string): void => {
    const old = jointNameOf(of, bone);
    if (joint === NONE) {
      if (old) void addStep({ op: "map joint", joint: old, bone: null });
    } else if (joint !== old) void addStep({ op: "map joint", joint, bone });
  };
  const pick = (bone: string | null): void => {
    setPicking(bone);
    const take = (joint: string): void => {
      pick(null);
      choose(bone!, joint);
    };
    pickJoints(store, bone === null ? null : take);
  };
  return { picking, pick, choose };
}

interface BoneRowProps {
  readonly bone: string;
  readonly joint: string | null;
  /** Names of all joints. */
  readonly joints: readonly string[];
  readonly ground: BoneGround | undefined;
  readonly fault: string | undefined;
  readonly picking: boolean;
  readonly onPick: (bone: string | null) => void;
  readonly onChoose: (joint: string) => void;
}

function BoneRow({ bone, joint, joints, ground, fault, picking, onPick, onChoose }: BoneRowProps): ReactNode {
  const store = useSessionStore();
  const isChosen = useSession((s) => joint !== null && s.joint === joint);
  const { addStep } = useDesk();
  const missing = joint === null && REQUIRED.has(bone);
  return (
    <tr className={`pick${isChosen ? " on" : ""}`} onClick={() => joint && lookAtJoint(store, joint, { joints: true })}>
      <td style={missing ? { color: "var(--brick)" } : undefined}>
        {boneLabel(bone)}{" "}
        {REQUIRED.has(bone) && <span className="muted t-tiny">{missing ? "required, missing" : "required"}</span>}
      </td>
      <td onClick={(e) => e.stopPropagation()} className="py-1">
        <NameSelect
          label={`Joint for ${boneLabel(bone)}`}
          value={joint ?? NONE}
          names={joints}
          none={[NONE, "none"]}
          onChange={onChoose}
        />
        <Button
          aria-pressed={picking}
          color={picking ? "primary" : "inherit"}
          sx={{ px: 0.5 }}
          title={`Click the joint of the ${boneLabel(bone)} on the stage`}
          onClick={() => onPick(picking ? null : bone)}>
          {picking ? "Click a joint" : "Pick"}
        </Button>
        {joint === null && isAddable(bone) && (
          <Button
            title="Adds a joint where the eyeballs say it belongs"
            onClick={() => void addStep({ op: "repair", repair: { what: "add joint", bone } })}>
            Add
          </Button>
        )}
      </td>
      <td className="t-12">
        {fault ? <span className="ink-brick">▲ {fault}</span> : <Ground of={ground} joints={joints} />}
      </td>
    </tr>
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
