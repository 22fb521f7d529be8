import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../ui/SmallSelect";
import { possibleRoles, proposeRoles, type FileRole } from "~core/formats/fileRoles";
import { counted } from "../ui/counted";
import { fileSize } from "../ui/fileSize";

const WORDS: Readonly<Record<FileRole, string>> = {
  character: "the character",
  "goes with it": "goes with it",
  target: "target of the base",
  clip: "clip",
  "left out": "left out",
};

export interface FileSortingProps {
  readonly files: readonly File[];
  readonly onTake: (files: readonly File[], roles: readonly FileRole[]) => void;
  readonly onCancel: () => void;
}

/**
 * Files that came together, with what each is taken for; that can be set right before anything is sent. Files that are
 * left out stay on this side.
 */
export function FileSorting({ files, onTake, onCancel }: FileSortingProps): ReactNode {
  const [roles, setRoles] = useState<readonly FileRole[]>(() => proposeRoles(files));
  // naming another file as the character makes the former one go along
  const choose = (i: number, role: FileRole): void =>
    setRoles(roles.map((r, k) => (k === i ? role : role === "character" && r === "character" ? "goes with it" : r)));
  const taken = files.flatMap((file, i) => (roles[i] === "left out" ? [] : [{ file, role: roles[i]! }]));
  const complete = roles.includes("character");
  return (
    <div role="group" aria-label="What goes together" className="stack gap-8 wide to-left">
      <b>What goes together</b>
      <div className="max-h-280 over-y-auto">
        <table className="plain t-small wide">
          <tbody>
            {files.map((file, i) => (
              <tr key={i}>
                <td className="mono" style={{ overflowWrap: "anywhere", width: "60%" }}>
                  {file.name}
                </td>
                <td className="num nowrap">{fileSize(file.size)}</td>
                <td>
                  <SmallSelect
                    label={`What ${file.name} is`}
                    value={roles[i]!}
                    onChange={(value) => choose(i, value)}
                    options={possibleRoles(file.name)}
                    words={(r) => WORDS[r]}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {!complete && (
        <span className="muted t-small">
          No file is the character yet. What came alone is added to a character under Intake, Deliveries.
        </span>
      )}
      <div className="line justify-flex-end">
        <Button onClick={onCancel}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!complete}
          onClick={() =>
            onTake(
              taken.map((t) => t.file),
              taken.map((t) => t.role),
            )
          }>
          Take in {counted(taken.length, "files")}
        </Button>
      </div>
    </div>
  );
}
