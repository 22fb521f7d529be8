import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import { followJob } from "../session/jobs/serverJobs";
import { useWork } from "../session/jobs/useWork";
import { ask, Refusal } from "../session/ledgerClient";
import type { FileRole } from "~core/formats/fileRoles";
import { FileSorting } from "./FileSorting";
import { Progress } from "../ui/Progress";

export interface FileDropProps {
  readonly uploadLimitMb: number;
  /** Where the files are sent; the answer names a job. */
  readonly url: string;
  readonly label: string;
  readonly title: string;
  readonly hint: string;
  readonly working: string;
  readonly refused: string;
  readonly onDone: (result: unknown, files: readonly File[]) => void | Promise<void>;
}

/** Drop zone for files that become a job. Refusals say what, where and what to do; nothing is taken by half. */
export function FileDrop({
  uploadLimitMb,
  url,
  label,
  title,
  hint,
  working,
  refused,
  onDone,
}: FileDropProps): ReactNode {
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const work = useWork("");
  const [sorting, setSorting] = useState<readonly File[]>([]);
  const drop = (files: File[]): void => {
    setRefusal(null);
    if (files.length > 1) setSorting(files);
    else if (files.length) void take(files, null);
  };
  const take = async (files: readonly File[], roles: readonly FileRole[] | null): Promise<void> => {
    setSorting([]);
    setRefusal(null);
    const total = files.reduce((n, f) => n + f.size, 0);
    if (total > uploadLimitMb * 1048576)
      return setRefusal(
        new Refusal(
          `These files have ${Math.ceil(total / 1048576)} MB; up to ${uploadLimitMb} MB are taken.`,
          "Send the character without its scene.",
        ),
      );
    await work.during(working, async (tell, signal) => {
      const form = new FormData();
      for (const file of files) form.append("files", file, file.name);
      if (roles) form.append("roles", JSON.stringify(roles));
      try {
        const { job } = (await ask(url, { method: "POST", body: form })) as { job: string };
        await onDone(await followJob(job, tell, signal), files);
      } catch (error) {
        if (!signal.aborted)
          setRefusal(
            error instanceof Refusal ? error : new Refusal("The delivery could not be taken in.", "Try again."),
          );
      }
    });
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: drop,
    noClick: true,
    noKeyboard: true,
    noDrag: work.running !== null || sorting.length > 0,
  });
  return (
    <div
      {...getRootProps()}
      className={`drop${isDragActive ? " over" : ""}`}
      style={{ cursor: "default", ...(sorting.length ? { gridColumn: "span 2" } : {}) }}
      role="region"
      aria-label={label}>
      <input {...getInputProps()} aria-label={`Files: ${label}`} />
      {sorting.length > 0 ? (
        <FileSorting
          files={sorting}
          onTake={(files, roles) => void take(files, roles)}
          onCancel={() => setSorting([])}
        />
      ) : !work.running ? (
        <>
          <b>{title}</b>
          <span className="muted t-small">
            {hint} Up to {uploadLimitMb} MB.
          </span>
          <Button variant="contained" onClick={open}>
            Choose files
          </Button>
        </>
      ) : (
        <Progress {...work.running} onCancel={work.cancel} />
      )}
      {refusal && (
        <div className="refusal to-left break-words" role="alert">
          <b>{refused}</b> {refusal.what} {refusal.todo && <span className="muted">{refusal.todo}</span>}
        </div>
      )}
    </div>
  );
}
