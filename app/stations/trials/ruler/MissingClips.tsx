import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { encodeAdded } from "~core/intake/addThings";
import { missingClips } from "~core/trials/momentAt";
import { startJob } from "../../../session/jobs/pageJobs";
import { useWork } from "../../../session/jobs/useWork";
import { hashOf } from "../../../session/ledgerClient";
import { fetchCharacter } from "../../../session/otherCharacter";
import { useSession } from "../../../session/session";
import { useCharacterPage, useDesk } from "../../../session/useDesk";
import { Progress } from "../../../ui/Progress";
import { Refused } from "../../../ui/Refused";

/** Clips that the trial plays and that are not here; those of the character it was made with can be brought over. */
export function MissingClips(): ReactNode {
  const { arrangements, character } = useCharacterPage();
  const { addStep } = useDesk();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const id = useSession((s) => s.trialId);
  const work = useWork("The clips could not be brought over.");
  const missing = loaded && trial ? missingClips(loaded.character, trial) : [];
  if (!loaded || missing.length === 0) return null;
  const kept = arrangements.find((a) => a.id === id);
  const giver = kept && kept.characterId !== character.id ? kept : null;
  const bring = async (): Promise<void> => {
    if (!giver) return;
    await work.during("Bringing clips over", async (progress, signal) => {
      const { ref } = await fetchCharacter(giver.characterId);
      const clips = await startJob(loaded, "borrow clips", { from: ref, names: missing }, { progress, signal });
      const blobs = clips.map(({ name, tracks, weights, fit }) =>
        fit
          ? encodeAdded({
              name,
              tracks: fit.tracks,
              fitting: fit.fitting,
              ...(fit.weights && { weights: fit.weights }),
            })
          : encodeAdded({ name, tracks, ...(weights && { weights }) }),
      );
      const items = await Promise.all(clips.map(async ({ name }, i) => ({ name, blob: await hashOf(blobs[i]!) })));
      if (items.length) await addStep({ op: "add clips", source: giver.of, items }, blobs);
    });
  };
  return (
    <div className="p-0-18 t-small" role="group" aria-label="Clips that are not here">
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <div className="line">
          <span className="take-rest">
            Not here: {missing.join(", ")}. {giver ? "" : "Nothing plays in their place."}
          </span>
          {giver && (
            <Button variant="outlined" onClick={() => void bring()}>
              Bring them over from {giver.of}
            </Button>
          )}
        </div>
      )}
      <Refused why={work.refusal} />
    </div>
  );
}
