import { z } from "zod";
import { CHECKS } from "../../checks/entries";
import type { StepNames } from "./operation";

/** Where a finding stands. Steps kept from before clips had findings have none. */
export const findingPlace = {
  part: z.string().nullable(),
  joint: z.string().nullable(),
  shape: z.string().nullable(),
  clip: z.string().nullable().default(null),
};
export interface FindingPlace {
  readonly part: string | null;
  readonly joint: string | null;
  readonly shape: string | null;
  readonly clip: string | null;
}

export function placeWords({ part, joint, shape, clip }: FindingPlace): string {
  const words = [part && `on ${part}`, joint && `at ${joint}`, shape && `for ${shape}`, clip && `in ${clip}`];
  return words
    .filter(Boolean)
    .map((w) => ` ${w}`)
    .join("");
}

export const placeRenamed = <P extends FindingPlace>(place: P, { part, joint, shape, clip }: StepNames): P => ({
  ...place,
  part: place.part === null ? null : part(place.part),
  joint: place.joint === null ? null : joint(place.joint),
  shape: place.shape === null ? null : shape(place.shape),
  clip: place.clip === null ? null : clip(place.clip),
});

/** What a check looks at, in words that go on in a sentence. */
export function checkWords(check: string): string {
  const title = CHECKS.find((c) => c.id === check)?.title ?? check;
  return title[0]!.toLowerCase() + title.slice(1);
}
