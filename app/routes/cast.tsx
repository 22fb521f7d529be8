import type { ReactNode } from "react";
import { forPage } from "~server/pageErrors";
import { listCast } from "~server/services/characters";
import type { PageContext } from "~server/context";
import { CastPage } from "../stations/cast/CastPage";
import type { Route } from "./+types/cast";

export async function loader({ context }: Route.LoaderArgs) {
  const { db, uploadLimitMb } = context as unknown as PageContext;
  return forPage(async () => ({ cards: await listCast(db), uploadLimitMb }));
}
export const meta: Route.MetaFunction = () => [{ title: "Cast · Yxomorph" }];

export default function Cast({ loaderData }: Route.ComponentProps): ReactNode {
  return <CastPage cards={loaderData.cards} uploadLimitMb={loaderData.uploadLimitMb} />;
}
