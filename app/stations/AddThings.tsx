import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import type { ReactNode } from "react";
import { NameSelect } from "../ui/NameSelect";
import { useDropzone } from "react-dropzone";
import type { UnsureJoint } from "~core/clips/bringClip";
import { clipSeconds } from "~core/clips/motion";
import type { Addition } from "~core/intake/bringAdditions";
import { vertexCountOf } from "~core/model/character";
import { boneLabel } from "~core/names/humanoidBones";
import type { ComingJoint } from "~core/skeleton/mergeJoints";
import { useSession } from "../session/session";
import { counted } from "../ui/counted";
import { Refused } from "../ui/Refused";
import { useAdditions, type Additions, type Found } from "./useAdditions";

const PARTS_AND_CLIPS =
  "Parts as GLB or OBJ, clips as BVH or in a GLB, any number at once. They are added to the character as it stands.";

/**
 * Hair, garments or clips that come by themselves: read, told one by one, and those that are wanted added to the
 * character as it stands.
 */
export function AddThings({
  title = "Hair, garments or clips alone",
  words = PARTS_AND_CLIPS,
}: {
  title?: string;
  words?: string;
}): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const additions = useAdditions();
  const { found, busy, refusal, told } = additions;
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void additions.read(files),
    noClick: true,
    noKeyboard: true,
    disabled: busy !== "",
  });
  return (
    <div
      {...getRootProps()}
      className={`drop${isDragActive ? " over" : ""} cursor-default`}
      role="region"
      aria-label="Add parts or clips">
      <input {...getInputProps()} aria-label="Files: Add parts or clips" />
      <b>{title}</b>
      <span className="muted t-small">{words}</span>
      <Button onClick={open} disabled={!loaded || busy !== ""}>
        {busy || "Choose files to add"}
      </Button>
      <Refused why={refusal} />
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
      {found?.refused.map((r) => (
        <div key={r.file} className="refusal to-left break-words" role="alert">
          <b>{r.file}</b> {r.why}
        </div>
      ))}
      {found && found.additions.length > 0 && <FoundTable additions={additions} found={found} />}
    </div>
  );
}

interface FoundTableProps {
  readonly additions: Additions;
  readonly found: Found;
}

/** What the files bring, one by one. */
function FoundTable({ additions, found }: FoundTableProps): ReactNode {
  const { setFound, busy, take } = additions;
  const wanted = found.chosen.filter(Boolean).length;
  const turn = (i: number): void => setFound({ ...found, chosen: found.chosen.map((c, k) => (k === i ? !c : c)) });
  return (
    <div className="wide to-left">
      <table className="plain t-small" aria-label="What the files bring">
        <thead>
          <tr>
            <th />
            <th>Name</th>
            <th>What</th>
            <th>Of it</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {found.additions.map((a, i) => (
            <tr key={`${a.file} ${a.name} ${i}`}>
              <td>
                <Checkbox
                  size="small"
                  checked={found.chosen[i]!}
                  slotProps={{ input: { "aria-label": `Take ${a.name}` } }}
                  onChange={() => turn(i)}
                />
              </td>
              <td>{a.name}</td>
              <td className="muted nowrap">{sizeWords(a)}</td>
              <td>
                <OfIt of={a} additions={additions} />
              </td>
              <td className="muted">{a.file}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="line mt-6">
        <Button variant="contained" disabled={busy !== "" || wanted === 0} onClick={() => void take()}>
          Add {wanted} of {found.additions.length}
        </Button>
        <Button onClick={() => setFound(null)}>Leave them</Button>
      </div>
    </div>
  );
}

/** What is to be known of an addition, and what is asked of it. */
function OfIt({ of: a, additions }: { readonly of: Addition; readonly additions: Additions }): ReactNode {
  const here = useSession((s) => s.loaded?.character.skeleton?.joints);
  if (a.what === "joints")
    return (
      <Hanging
        joints={a.joints}
        here={here?.map((j) => j.name) ?? []}
        value={additions.under[a.file]}
        onChange={(joint) => additions.hang(a.file, joint)}
      />
    );
  if (a.what === "part") return a.note;
  const names = a.report?.jointNames ?? [];
  return (
    <>
      {a.note}
      {additions.maps[a.file] && <div>joints as you said they are; kept for the next</div>}
      {a.report?.unsure.map((u) => (
        <UnsureBone key={u.bone} unsure={u} joints={names} onChange={(to) => additions.mapBone(a.file, u, to, names)} />
      ))}
    </>
  );
}

/** A bone of a clip's skeleton whose name and place speak for different joints: asked, with the name's taken. */
function UnsureBone({
  unsure: { joint, bone, rival },
  joints,
  onChange,
}: {
  unsure: UnsureJoint;
  joints: readonly string[];
  onChange: (joint: string) => void;
}): ReactNode {
  return (
    <span className="line gap-4 one-row">
      <span className="ink-brick">◆</span> {boneLabel(bone)} is
      <NameSelect label={`Joint of the clip for ${boneLabel(bone)}`} value={joint} names={joints} onChange={onChange} />
      {rival && <span className="muted">its place says {rival}</span>}
    </span>
  );
}

/** What coming joints are hung on; where they bring a root of their own, any joint can be chosen. */
function Hanging({
  joints,
  here,
  value,
  onChange,
}: {
  joints: readonly ComingJoint[];
  here: readonly string[];
  value: string | undefined;
  onChange: (joint: string) => void;
}): ReactNode {
  const own = new Set(joints.map((j) => j.name));
  const tops = [...new Set(joints.filter((j) => !own.has(j.parent)).map((j) => j.parent))];
  if (tops.length !== 1)
    return `hung on ${tops.slice(0, 3).join(", ")}${tops.length > 3 ? ` and ${tops.length - 3} more` : ""}`;
  return (
    <span className="line gap-4 one-row">
      hung on
      <NameSelect
        label="Joint that the coming joints hang on"
        value={value ?? tops[0]!}
        names={here}
        onChange={onChange}
      />
    </span>
  );
}

const sizeWords = (a: Addition): string =>
  a.what === "joints"
    ? counted(a.joints.length, "joints")
    : a.what === "part"
      ? `${a.added.part.kind}, ${counted(vertexCountOf(a.added.part), "vertices")}`
      : `clip, ${clipSeconds(a.clip).toFixed(1)} s`;
