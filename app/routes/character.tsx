import type { ReactNode } from "react";
import { forPage } from "~server/pageErrors";
import { characterId } from "~server/parsed";
import type { PageContext } from "~server/context";
import { characterPage, type CharacterPage } from "~server/services/characterPage";
import { Desk } from "../desk/Desk";
import { readPage } from "../session/readPage";
import type { Route } from "./+types/character";

/** Sent as one text of JSON, read by `readPage`. */
export async function loader({ context, params }: Route.LoaderArgs): Promise<string> {
  const { db, uploadLimitMb } = context as unknown as PageContext;
  return forPage(async () => {
    const page: CharacterPage = { ...(await characterPage(db, characterId(params.id))), uploadLimitMb };
    return JSON.stringify(page);
  });
}

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
  { title: `${(loaderData && readPage(loaderData).character.name) ?? "Character"} · Yxomorph` },
];

export default function CharacterLayout({ loaderData }: Route.ComponentProps): ReactNode {
  const page = readPage(loaderData);
  return <Desk key={page.character.id} page={page} />;
}
