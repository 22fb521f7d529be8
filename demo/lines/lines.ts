import { phoneSeconds } from "./phones";

/**
 * An announcement of the made-up museum, word by word with its ARPAbet phones (transcribed for this demo, stress marks
 * 0 to 2).
 */
export interface Line {
  readonly id: string;
  readonly words: readonly (readonly [word: string, phones: string])[];
}

export const LINES: readonly Line[] = [
  {
    id: "welcome",
    words: [
      ["Welcome", "W EH1 L K AH0 M"],
      ["aboard", "AH0 B AO1 R D"],
      ["the", "DH AH0"],
      ["museum", "M Y UW0 Z IY1 AH0 M"],
      ["ferry", "F EH1 R IY0"],
    ],
  },
  {
    id: "next-boat",
    words: [
      ["The", "DH AH0"],
      ["next", "N EH1 K S T"],
      ["boat", "B OW1 T"],
      ["leaves", "L IY1 V Z"],
      ["from", "F R AH1 M"],
      ["pier", "P IH1 R"],
      ["five", "F AY1 V"],
    ],
  },
  {
    id: "mind-the-gap",
    words: [
      ["Please", "P L IY1 Z"],
      ["mind", "M AY1 N D"],
      ["the", "DH AH0"],
      ["wet", "W EH1 T"],
      ["planks", "P L AE1 NG K S"],
      ["by", "B AY1"],
      ["the", "DH AH0"],
      ["bollard", "B AA1 L ER0 D"],
    ],
  },
  {
    id: "high-water",
    words: [
      ["High", "HH AY1"],
      ["water", "W AO1 T ER0"],
      ["will", "W IH1 L"],
      ["be", "B IY1"],
      ["at", "AE1 T"],
      ["half", "HH AE1 F"],
      ["past", "P AE1 S T"],
      ["three", "TH R IY1"],
    ],
  },
  {
    id: "fog",
    words: [
      ["Thick", "TH IH1 K"],
      ["fog", "F AO1 G"],
      ["over", "OW1 V ER0"],
      ["the", "DH AH0"],
      ["bay", "B EY1"],
      ["so", "S OW1"],
      ["we", "W IY1"],
      ["move", "M UW1 V"],
      ["with", "W IH1 TH"],
      ["both", "B OW1 TH"],
      ["lamps", "L AE1 M P S"],
    ],
  },
  {
    id: "thank-you",
    words: [
      ["Thank", "TH AE1 NG K"],
      ["you", "Y UW1"],
      ["for", "F AO1 R"],
      ["visiting", "V IH1 Z IH0 T IH0 NG"],
      ["mother", "M AH1 DH ER0"],
      ["of", "AH1 V"],
      ["pearl", "P ER1 L"],
      ["wharf", "W AO1 R F"],
    ],
  },
];

export interface Interval {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}
export interface AlignedLine {
  readonly id: string;
  readonly seconds: number;
  readonly words: readonly Interval[];
  readonly phones: readonly Interval[];
}
/** Silence before the first and after the last word, and the lengthening of the last word. */
const PAUSE = 0.25;
const FINAL_LENGTHENING = 1.3;

/**
 * Times of words and phones by our own rule of lengths: made up, not measured from a recording. Seconds, rounded to the
 * millisecond.
 */
export function alignLine({ id, words }: Line): AlignedLine {
  const round = (t: number): number => Math.round(1000 * t) / 1000;
  const out = {
    words: [{ from: 0, to: PAUSE, text: "" }] as Interval[],
    phones: [{ from: 0, to: PAUSE, text: "" }] as Interval[],
  };
  let t = PAUSE;
  words.forEach(([word, phones], w) => {
    const start = t;
    for (const phone of phones.split(" ")) {
      const end = round(t + phoneSeconds(phone) * (w === words.length - 1 ? FINAL_LENGTHENING : 1));
      out.phones.push({ from: t, to: end, text: phone });
      t = end;
    }
    out.words.push({ from: start, to: t, text: word });
  });
  const end = round(t + PAUSE);
  for (const tier of [out.words, out.phones]) tier.push({ from: t, to: end, text: "" });
  return { id, seconds: end, ...out };
}
