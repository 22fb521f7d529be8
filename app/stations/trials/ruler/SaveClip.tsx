import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import type { Clip } from "~core/model/character";
import { askJob } from "../../../session/jobs/pageJobs";
import { useSession } from "../../../session/session";
import { saveFile } from "../../../ui/saveFile";

/** The clip alone as files: of joints as BVH and GLB, of shapes' weights as a table. */
export function SaveClip({ clip }: { clip: Clip }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const save = async (kind: "bvh" | "glb" | "csv"): Promise<void> => {
    const made = await askJob(loaded!, "clip file", { clip: clip.name, kind });
    saveFile(`${clip.name}.${kind}`, new Blob([made as BlobPart]));
  };
  const kinds = [...(clip.tracks.length ? (["bvh", "glb"] as const) : []), ...(clip.weights ? (["csv"] as const) : [])];
  return (
    <>
      {kinds.map((kind) => (
        <Button
          key={kind}
          disabled={!loaded}
          title={kind === "csv" ? "Weights of its shapes over time" : "The clip alone, on this skeleton, as it is kept"}
          onClick={() => void save(kind)}>
          {kind.toUpperCase()}
        </Button>
      ))}
    </>
  );
}
