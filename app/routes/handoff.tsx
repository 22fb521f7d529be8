import type { ReactNode } from "react";
import type { PageContext } from "~server/context";
import { forPage } from "~server/pageErrors";
import { characterId } from "~server/parsed";
import { listHandOffs } from "~server/services/handOffs";
import { HandoffSheet } from "../stations/handoff/HandoffSheet";
import type { Route } from "./+types/handoff";

export async function loader({ context, params }: Route.LoaderArgs) {
  const { db } = context as unknown as PageContext;
  return forPage(async () => ({ handOffs: await listHandOffs(db, characterId(params.id)) }));
}

export default function Handoff({ loaderData }: Route.ComponentProps): ReactNode {
  return <HandoffSheet handOffs={loaderData.handOffs} />;
}
