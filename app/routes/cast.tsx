import type { ReactNode } from "react";
import { data } from "react-router";
import { databaseLost } from "~server/db/connect";
import { listCast } from "~server/services/characters";
import type { PageContext } from "~server/context";
import { CastPage } from "../stations/cast/CastPage";
import type { Route } from "./+types/cast";

export async function loader({ context }: Route.LoaderArgs) {
  const { db, uploadLimitMb } = context as unknown as PageContext;
  try {
    return { cards: await listCast(db), uploadLimitMb };
  } catch (error) {
    const lost = databaseLost(error);
    if (lost) throw data({ what: lost.what, todo: lost.todo }, { status: 503 });
    throw error;
  }
}
export const meta: Route.MetaFunction = () => [{ title: "Cast · Yxomorph" }];

export default function Cast({ loaderData }: Route.ComponentProps): ReactNode {
  return <CastPage cards={loaderData.cards} uploadLimitMb={loaderData.uploadLimitMb} />;
}
