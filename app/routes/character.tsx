import type { ReactNode } from "react";
import { forPage } from "~server/pageErrors";
import { characterId } from "~server/parsed";
import { notThere } from "~server/refusals";
import { listBranches } from "~server/services/branches";
import type { PageContext } from "~server/context";
import { getCharacter, openFindings, stationsOf } from "~server/services/characters";
import { listDeliveries } from "~server/services/deliveries";
import { readLedger } from "~server/services/ledger";
import { readTrials } from "~server/services/trials";
import { Desk } from "../desk/Desk";
import type { Route } from "./+types/character";

/** Everything the six stations share: the character's row, its ledger, findings and trials of the present state. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { db, uploadLimitMb } = context as unknown as PageContext;
  return forPage(async () => {
    const id = characterId(params.id);
    const [character, ledger] = await Promise.all([getCharacter(db, id), readLedger(db, id)]);
    if (!character || !ledger) throw notThere();
    const [open, deliveries, trials, branches] = await Promise.all([
      openFindings(db, id, ledger),
      listDeliveries(db, id),
      readTrials(db, id, ledger.state),
      listBranches(db, id),
    ]);
    if (!open) throw notThere();
    return {
      character: {
        id: character.id,
        name: character.name,
        role: character.role,
        fileName: character.fileName,
        fileHash: character.fileHash,
        summary: character.summary,
      },
      ledger,
      branches,
      deliveries,
      trials,
      uploadLimitMb,
      findings: open.findings,
      accepted: open.accepted,
      poseFindings: open.pose,
      trialCount: open.trialCount,
      checked: open.checked,
      stations: stationsOf(open),
    };
  });
}
export type CharacterPage = Awaited<ReturnType<typeof loader>>;

/** View changes in the address do not touch the data. */
export const shouldRevalidate = ({
  currentUrl,
  nextUrl,
  formMethod,
  defaultShouldRevalidate,
}: {
  currentUrl: URL;
  nextUrl: URL;
  formMethod?: string;
  defaultShouldRevalidate: boolean;
}): boolean =>
  !formMethod && currentUrl.pathname === nextUrl.pathname && currentUrl.search !== nextUrl.search
    ? false
    : defaultShouldRevalidate;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.character.name ?? "Character"} · Yxomorph` },
];

export default function CharacterLayout({ loaderData }: Route.ComponentProps): ReactNode {
  return <Desk key={loaderData.character.id} page={loaderData} />;
}
