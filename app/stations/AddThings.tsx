import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState, type ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import { encodeAdded } from "~core/intake/addThings";
import { clipSeconds } from "~core/clips/motion";
import type { UnsureJoint } from "~core/clips/bringClip";
import { boneLabel } from "~core/names/humanoidBones";
import { hungOn, type Addition, type Brought, type ClipMaps } from "~core/intake/bringAdditions";
import type { ComingJoint } from "~core/skeleton/mergeJoints";
import { vertexCountOf } from "~core/model/character";
import { hashOf, type StepWithBlobs } from "../session/ledgerClient";
import { keepClipMap, knownClipMaps } from "../session/kept/keptClipMaps";
import { givenFile } from "../session/jobs/givenFile";
import { startJob } from "../session/jobs/pageJobs";
import { useWork } from "../session/jobs/useWork";
import { useSession } from "../session/session";
import { useDesk } from "../session/useDesk";
import { counted } from "../ui/counted";
import { Refused } from "../ui/Refused";

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
  const { addSteps } = useDesk();
  const [found, setFound] = useState<(Brought & { chosen: readonly boolean[] }) | null>(null);
  const [under, setUnder] = useState<Readonly<Record<string, string>>>({});
  const [adding, setAdding] = useState(false);
  const [told, setTold] = useState("");
  const work = useWork("The files could not be read.");
  const busy = work.running?.title ?? (adding ? "Adding" : "");
  const [maps, setMaps] = useState<ClipMaps>({});
  const [dropped, setDropped] = useState<readonly File[]>([]);
  const read = async (files: readonly File[], asked: ClipMaps = {}): Promise<void> => {
    if (!loaded || files.length === 0) return;
    setTold("");
    setDropped(files);
    setMaps(asked);
    const brought = await work.during("Reading", async (progress, signal) =>
      startJob(
        loaded,
        "additions",
        {
          files: await Promise.all(files.map(givenFile)),
          maps: asked as Record<string, Record<string, string | null>>,
        },
        { progress, signal },
      ),
    );
    if (!brought) return;
    const known = await knownClipMaps(brought.additions, asked);
    if (Object.keys(known).length) return read(files, { ...asked, ...known });
    setUnder({});
    setFound({ ...brought, chosen: brought.additions.map((a) => a.wanted) });
  };
  /** A bone of a clip's skeleton given to another joint: the file is read anew with it. */
  const mapBone = (file: string, { joint, bone }: UnsureJoint, to: string, joints: readonly string[]): void => {
    const map = { ...maps[file], [joint]: null, [to]: bone };
    void keepClipMap(joints, map);
    void read(dropped, { ...maps, [file]: map });
  };
  const take = async (): Promise<void> => {
    if (!found) return;
    setAdding(true);
    const chosen = found.additions.filter((_, i) => found.chosen[i]);
    const source = [...new Set(chosen.map((a) => a.file))].join(", ").slice(0, 200);
    const steps: StepWithBlobs[] = [];
    const joints = chosen.flatMap((a) =>
      a.what === "joints" ? (under[a.file] ? hungOn(a.joints, under[a.file]!) : a.joints) : [],
    );
    if (joints.length)
      steps.push({
        step: { op: "add joints", source, joints: joints.map((j) => ({ ...j, rest: [...j.rest] })) },
        blobs: [],
      });
    for (const what of ["part", "clip"] as const) {
      const list = chosen.filter((a) => a.what === what);
      const blobs = list.flatMap((a) =>
        a.what === "part"
          ? [encodeAdded(a.added)]
          : a.what === "clip"
            ? [encodeAdded({ ...a.clip, fitting: a.fitting })]
            : [],
      );
      const items = await Promise.all(
        list.map(async (a, i) => ({ name: a.name.slice(0, 200), blob: await hashOf(blobs[i]!) })),
      );
      if (items.length) steps.push({ step: { op: what === "part" ? "add parts" : "add clips", source, items }, blobs });
    }
    const done = await addSteps(steps);
    setAdding(false);
    if (done) {
      setTold(`${counted(chosen.length, "things")} added.`);
      setFound(null);
    }
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void read(files),
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
      <Refused why={work.refusal} />
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
      {found && found.additions.length > 0 && (
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
                      onChange={() => setFound({ ...found, chosen: found.chosen.map((c, k) => (k === i ? !c : c)) })}
                    />
                  </td>
                  <td>{a.name}</td>
                  <td className="muted nowrap">{sizeWords(a)}</td>
                  <td>
                    {a.what === "joints" ? (
                      <Hanging
                        joints={a.joints}
                        here={loaded?.character.skeleton?.joints.map((j) => j.name) ?? []}
                        value={under[a.file]}
                        onChange={(joint) => setUnder({ ...under, [a.file]: joint })}
                      />
                    ) : (
                      <>
                        {a.note}
                        {a.what === "clip" && maps[a.file] && <div>joints as you said they are; kept for the next</div>}
                        {a.what === "clip" &&
                          a.report?.unsure.map((u) => (
                            <UnsureBone
                              key={u.bone}
                              unsure={u}
                              joints={a.report!.jointNames}
                              onChange={(to) => mapBone(a.file, u, to, a.report!.jointNames)}
                            />
                          ))}
                      </>
                    )}
                  </td>
                  <td className="muted">{a.file}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="line mt-6">
            <Button
              variant="contained"
              disabled={busy !== "" || !found.chosen.some(Boolean)}
              onClick={() => void take()}>
              Add {found.chosen.filter(Boolean).length} of {found.additions.length}
            </Button>
            <Button onClick={() => setFound(null)}>Leave them</Button>
          </div>
        </div>
      )}
    </div>
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
      <Select
        variant="standard"
        disableUnderline
        value={joint}
        onChange={(e) => onChange(e.target.value)}
        sx={{ fontFamily: "var(--mono)", fontSize: 12 }}
        inputProps={{ "aria-label": `Joint of the clip for ${boneLabel(bone)}` }}
        MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}>
        {joints.map((name) => (
          <MenuItem key={name} value={name}>
            <span className="mono">{name}</span>
          </MenuItem>
        ))}
      </Select>
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
      <Select
        variant="standard"
        disableUnderline
        value={value ?? tops[0]!}
        onChange={(e) => onChange(e.target.value)}
        sx={{ fontFamily: "var(--mono)", fontSize: 12 }}
        inputProps={{ "aria-label": "Joint that the coming joints hang on" }}
        MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}>
        {here.map((name) => (
          <MenuItem key={name} value={name}>
            <span className="mono">{name}</span>
          </MenuItem>
        ))}
      </Select>
    </span>
  );
}

const sizeWords = (a: Addition): string =>
  a.what === "joints"
    ? counted(a.joints.length, "joints")
    : a.what === "part"
      ? `${a.added.part.kind}, ${counted(vertexCountOf(a.added.part), "vertices")}`
      : `clip, ${clipSeconds(a.clip).toFixed(1)} s`;
