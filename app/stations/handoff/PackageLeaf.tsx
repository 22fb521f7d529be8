import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { HandOff } from "~server/services/handOffs";
import { followJob } from "../../session/jobs/serverJobs";
import { useWork } from "../../session/jobs/useWork";
import { ask } from "../../session/ledgerClient";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { Progress } from "../../ui/Progress";
import { PlainFigure } from "./PlainFigure";
import { VrmTermsForm } from "./VrmTermsForm";
import { Slip } from "./Slip";
import { counted } from "../../ui/counted";
import { notPlayed } from "~core/ledger/notPlayed";
import type { Character } from "~core/model/character";
import { jointCount } from "~core/model/skinJoints";
import { poseDriven } from "~core/model/drivenShapes";
import reader from "../../../reader/drivers.mjs?raw";
import { saveFile } from "../../ui/saveFile";
import { Refused } from "../../ui/Refused";

/** What will be written as it stands now, the button that writes and proves it, and the newest receipt. */
export function PackageLeaf({ handOffs }: { handOffs: readonly HandOff[] }): ReactNode {
  const page = useCharacterPage();
  const loaded = useSession((s) => s.loaded);
  const { revalidate } = useRevalidator();
  const work = useWork("It could not be written.");
  const newest = handOffs[0];
  const current = newest?.state === page.ledger.state;
  const write = async (): Promise<void> => {
    await work.during("Writing, reading back, comparing", async (tell, signal) => {
      const { job } = (await ask(`/api/characters/${encodeURIComponent(page.character.id)}/handoffs`, {
        method: "POST",
      })) as { job: string };
      await followJob(job, tell, signal);
      await revalidate();
    });
  };

  const character = loaded?.character;
  return (
    <>
      <div className="p-12-18">
        <Contents character={character} />
        {character && <VrmTermsForm key={page.ledger.state} character={character} />}
        <div className="mt-12">
          {!work.running ? (
            <Button variant={current ? "text" : "contained"} onClick={() => void write()}>
              {current
                ? "Write it again"
                : newest
                  ? `Write and prove version ${newest.version + 1}`
                  : "Write and prove"}
            </Button>
          ) : (
            <Progress {...work.running} onCancel={work.cancel} />
          )}
          {current && <span className="muted ml-8">Nothing has changed since version {newest.version}.</span>}
        </div>
        <Refused why={work.refusal} place="mt-8" />
        <PlainFigure />
      </div>
      {newest ? (
        <Slip handOff={newest} character={page.character.name} />
      ) : (
        <p className="muted p-0-18">
          Nothing has been handed off yet. The file is read back at once and compared with the character on your desk;
          the receipt says what was proved.
        </p>
      )}
    </>
  );
}

interface ContentsProps {
  readonly character: Character | undefined;
}
/** What the file will hold, by whom it was made, and what was tried. */
function Contents({ character }: ContentsProps): ReactNode {
  const page = useCharacterPage();
  const severity = (s: string): number =>
    [...page.findings, ...page.poseFindings].filter((f) => f.severity === s).length;
  return (
    <table className="plain">
      <tbody>
        <tr>
          <td>Character</td>
          <td>one GLB (glTF 2.0) with skin, shapes and correctives as morph targets</td>
        </tr>
        <tr>
          <td>Drivers</td>
          <td>in the GLB's extras and in a JSON file beside it</td>
        </tr>
        {character && (
          <tr>
            <td>Holds</td>
            <td>
              {counted(character.parts.length, "parts")}, {counted(jointCount(character), "joints")},{" "}
              {counted(character.shapes.length, "shapes")}, {poseDriven(character).size} of them driven by joints and{" "}
              {character.shapeDrivers.length} by other shapes
            </td>
          </tr>
        )}
        <tr>
          <td>Made by</td>
          <td>
            {counted(page.ledger.head, "ledger steps")} on <span className="mono">{page.character.fileName}</span>
          </td>
        </tr>
        {character && notPlayed(character).length > 0 && (
          <tr>
            <td>Not played</td>
            <td>by a plain glTF player: {notPlayed(character).join(", ")}</td>
          </tr>
        )}
        {character && poseDriven(character).size + character.shapeDrivers.length > 0 && (
          <tr>
            <td>For the web</td>
            <td>
              drivers are evaluated by one small script without dependencies{" "}
              <Button
                title="Reads the GLB's extras and sets the morph weights from the joints, in three.js or anywhere else"
                onClick={() => saveFile("drivers.mjs", new Blob([reader], { type: "text/javascript" }))}>
                Save drivers.mjs
              </Button>
            </td>
          </tr>
        )}
        <tr>
          <td>Tried</td>
          <td>
            {page.trialCount === 0
              ? "no motion was swept in this state"
              : `${counted(page.trialCount, "motions")} swept in this state`}
            ; the receipt sweeps every motion by itself
          </td>
        </tr>
        <tr>
          <td>Open findings</td>
          <td>
            {counted(severity("error"), "errors")}, {counted(severity("warn"), "warnings")},{" "}
            {counted(severity("note"), "notes")}; {page.accepted.length} accepted with a reason. The receipt adds those
            of the poses that it sweeps.
          </td>
        </tr>
      </tbody>
    </table>
  );
}
