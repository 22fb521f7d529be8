import type { ReactNode } from "react";
import { data } from "react-router";
import type { PageContext } from "~server/context";
import { databaseLost } from "~server/db/connect";
import { listHandOffs } from "~server/services/handOffs";
import { HandoffSheet } from "../stations/handoff/HandoffSheet";
import type { Route } from "./+types/handoff";

export async function loader({ context, params }: Route.LoaderArgs) {
  const { db } = context as unknown as PageContext;
  try {
    return { handOffs: await listHandOffs(db, params.id) };
  } catch (error) {
    const lost = databaseLost(error);
    if (lost) throw data({ what: lost.what, todo: lost.todo }, { status: 503 });
    throw error;
  }
}

export default function Handoff({ loaderData }: Route.ComponentProps): ReactNode {
  return <HandoffSheet handOffs={loaderData.handOffs} />;
}
