import { data } from "react-router";
import type { ReactNode } from "react";
import { databaseLost } from "~server/db/connect";
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
  const { id } = params as { id: string };
  try {
    const character = await getCharacter(db, id);
    const ledger = await readLedger(db, id);
    const open = await openFindings(db, id);
    if (!character || !ledger || !open) throw data({ what: "There is no such character", todo: "It may have been deleted. The cast lists every character." }, { status: 404 });
    return {
      character: { id: character.id, name: character.name, role: character.role, fileName: character.fileName, fileHash: character.fileHash, summary: character.summary },
      ledger,
      findings: open.findings,
      accepted: open.accepted,
      poseFindings: open.pose,
      checked: open.checked,
      uploadLimitMb,
      deliveries: await listDeliveries(db, id),
      trials: await readTrials(db, id, ledger.state),
      stations: stationsOf(open),
    };
  } catch (error) {
    const lost = databaseLost(error);
    if (lost) throw data({ what: lost.what, todo: lost.todo }, { status: 503 });
    throw error;
  }
}
export type CharacterPage = Awaited<ReturnType<typeof loader>>;

/** View changes in the address do not touch the data. */
export const shouldRevalidate = ({ currentUrl, nextUrl, formMethod, defaultShouldRevalidate }: { currentUrl: URL; nextUrl: URL; formMethod?: string; defaultShouldRevalidate: boolean }): boolean =>
  !formMethod && currentUrl.pathname === nextUrl.pathname && currentUrl.search !== nextUrl.search ? false : defaultShouldRevalidate;

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: `${loaderData?.character.name ?? "Character"} · Yxomorph` }];

export default function CharacterLayout({ loaderData }: Route.ComponentProps): ReactNode {
  return <Desk key={loaderData.character.id} page={loaderData} />;
}
