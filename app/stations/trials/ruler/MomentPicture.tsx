import { useEffect, useState, type ReactNode } from "react";
import type { Moment } from "~core/evaluate/moment";
import type { Loaded } from "../../../session/session";
import { pictureOf } from "../../../stage/pictures/picturesClient";

const WIDE = 150;
const HIGH = 112;

/** The figure at a moment, framed on a place. @param name differs where the moment does. */
export function MomentPicture({
  loaded,
  name,
  moment,
  framing,
  words,
}: {
  loaded: Loaded;
  name: string;
  moment: () => Moment;
  framing: string;
  words: string;
}): ReactNode {
  const [shown, setShown] = useState<{ readonly key: string; readonly url: string } | null>(null);
  const key = `moment ${loaded.state} ${framing} ${name}`;
  useEffect(() => {
    let here = true;
    void pictureOf(key, loaded.character, moment(), framing, 2 * WIDE, 2 * HIGH, () => here)
      .then((url) => here && url && setShown({ key, url }))
      .catch(() => {}); // the row says all that matters without its picture
    return () => {
      here = false;
    };
    // the name says all that the moment depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return (
    <span className="moment-picture" style={{ width: WIDE, height: HIGH }}>
      {shown?.key === key && <img src={shown.url} width={WIDE} height={HIGH} alt={words} />}
    </span>
  );
}
