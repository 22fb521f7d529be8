import MenuItem from "@mui/material/MenuItem";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { SmallSelect } from "../ui/SmallSelect";
import type { Character } from "~core/model/character";
import { loadCharacter } from "../session/loadCharacter";
import { useCharacterPage } from "../session/useDesk";
import { fetchCast, fetchCharacter, type CastEntry } from "../session/otherCharacter";
import { useQueryState } from "../ui/useQueryState";

/** What the proof is compared with: nothing, the delivery before any step, a step back, or another of the cast. */
export interface Beside {
  readonly choice: string;
  readonly choose: (choice: string) => void;
  readonly options: readonly (readonly [choice: string, title: string])[];
  readonly title: string;
  /** A word or two for it, as the stage shows it. */
  readonly short: string;
  /** Null while nothing is chosen, or until it is here. */
  readonly character: Character | null;
}

const NOTHING = "";

export function useBeside(): Beside {
  const { character: own, ledger, handedOff } = useCharacterPage();
  const { baseBlob, head, state } = ledger;
  // the page is fetched anew after many things: only another state is another version
  const steps = useRef(ledger.entries);
  useEffect(() => {
    steps.current = ledger.entries;
  }, [ledger.entries]);
  const [choice, choose] = useQueryState<string>("beside", NOTHING);
  const [cast, setCast] = useState<readonly CastEntry[]>([]);
  const [found, setFound] = useState<{ of: string; character: Character } | null>(null);
  useEffect(() => {
    fetchCast().then(
      (all) => setCast(all.filter((c) => c.id !== own.id)),
      () => {},
    );
  }, [own.id]);
  const handedOffAt = handedOff?.head;
  const of = choice === NOTHING ? "" : `${choice} ${choice.startsWith("cast ") ? "" : `${baseBlob} ${head}`}`;
  useEffect(() => {
    if (!of) return;
    let gone = false;
    const load = choice.startsWith("cast ")
      ? fetchCharacter(choice.slice(5)).then((other) => other.character)
      : loadCharacter(
          baseBlob,
          steps.current.slice(0, stepsIn(choice, head, handedOffAt)).map((e) => e.step),
        );
    load.then(
      (character) => !gone && setFound({ of, character }),
      () => {},
    );
    return () => {
      gone = true;
    };
  }, [of, choice, baseBlob, state, head, handedOffAt]);
  const options = [
    [NOTHING, "nothing"],
    ...(head > 0
      ? ([
          ["delivered", "itself as delivered"],
          ["before", "itself one step before"],
        ] as const)
      : []),
    ...(handedOff && handedOff.head !== head
      ? ([["handed off", `itself as handed off, version ${handedOff.version}`]] as const)
      : []),
    ...cast.map((c) => [`cast ${c.id}`, `${c.name}, ${c.role}`] as const),
  ] as const;
  const known = options.find(([o]) => o === choice);
  return {
    choice: known ? choice : NOTHING,
    choose,
    options,
    title: known?.[1] ?? "",
    short: cast.find((c) => choice === `cast ${c.id}`)?.name ?? known?.[1] ?? "",
    character: known && choice !== NOTHING && found?.of === of ? found.character : null,
  };
}

/** How many steps are in force in an earlier version. */
const stepsIn = (choice: string, head: number, handedOff = head): number =>
  choice === "delivered" ? 0 : choice === "handed off" ? handedOff : Math.max(0, head - 1);

/** Chooses what stands beside. @param nothing what it is called when nothing does. */
export function BesidePick({
  beside,
  label = "What the proof is compared with",
  nothing = "nothing",
  wide = 104,
}: {
  beside: Beside;
  label?: string;
  nothing?: string;
  wide?: number;
}): ReactNode {
  return (
    <span className="nowrap line t-small gap-6">
      beside
      <SmallSelect label={label} value={beside.choice} onChange={(value) => beside.choose(value)} maxWidth={wide}>
        {beside.options.map(([choice, title]) => (
          <MenuItem key={choice} value={choice}>
            {choice === NOTHING ? nothing : title}
          </MenuItem>
        ))}
      </SmallSelect>
    </span>
  );
}
