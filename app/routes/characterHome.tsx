import { redirect } from "react-router";
import type { Route } from "./+types/characterHome";

/** A character's bare address opens its first station. */
export const loader = ({ params }: Route.LoaderArgs): Response =>
  redirect(`/c/${encodeURIComponent(params.id)}/intake`);
export default function CharacterHome(): null {
  return null;
}
