import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { useSession } from "../../session/session";
import { Progress } from "../../ui/Progress";
import { saveFile } from "../../ui/saveFile";
import { Refused } from "../../ui/Refused";

/** A GLB without shapes, those that stand on the stage in its rest places; what reading it back proved is told. */
export function PlainFigure(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const weights = useSession((s) => s.weights);
  const work = useWork("It could not be written.");
  const [told, setTold] = useState("");
  if (!loaded?.character.shapes.length) return null;
  const named = Object.entries(weights).filter(([, w]) => w !== 0);
  const save = async (): Promise<void> => {
    setTold("");
    await work.during("Writing without shapes, comparing poses", async (progress, signal) => {
      const { glb, proved } = await startJob(loaded, "plain figure", { weights }, { progress, signal });
      saveFile(`${loaded.character.name} without shapes.glb`, new Blob([glb as BlobPart]));
      setTold(
        `Read back: ${proved.moments} poses, ${proved.clips} clips among them; joints stand where they stood to ` +
          `${proved.jointMm.toFixed(4)} mm, skin to ${proved.vertexMm.toFixed(4)} mm.`,
      );
    });
  };
  return (
    <div className="mt-12 t-small" role="group" aria-label="Without shapes">
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <div className="line">
          <Button variant="outlined" onClick={() => void save()}>
            Save a GLB without shapes
          </Button>
          <span className="muted take-rest">
            {named.length
              ? `${named.map(([n, w]) => `${n} ${w.toFixed(2)}`).join(", ")} stand in its rest places, joints too`
              : "as the figure rests; shapes that are set on the stage would stand in its rest places"}
          </span>
        </div>
      )}
      {told && <p role="status">{told}</p>}
      <Refused why={work.refusal} />
    </div>
  );
}
