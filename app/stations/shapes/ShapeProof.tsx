import Button from "@mui/material/Button";
import {
  memo,
  startTransition,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
  type RefObject,
} from "react";
import { shapeNamed, type Character } from "~core/model/character";
import { PROFILES } from "~core/checks/checkFacts";
import { clearWay, wayIsClear } from "../../session/clearWay";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { FindField } from "../../ui/FindField";
import { saveFile } from "../../ui/saveFile";
import { Progress } from "../../ui/Progress";
import { LimitBar } from "../../ui/LimitBar";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { BesidePick, useBeside } from "../beside";
import { besidePicture, drawAll, GLYPH, printPages, shapePicture, sheetOf } from "./proofSheet";
import { soloView, SORTS, type ShapeRow, type Sort } from "./shapeRows";
import { counted } from "../../ui/counted";
import { lookAt, setView } from "../../session/slices/view";

/** The contact sheet: every shape at full, the one most in need of a look first. */
export function ShapeProof({ rows }: { rows: readonly ShapeRow[] }): ReactNode {
  const loaded = useSession((s) => s.loaded)!;
  const page = useCharacterPage().character;
  const [sort, setSort] = useQueryState<Sort>("sort", "worst", Object.keys(SORTS) as Sort[]);
  const [open, setOpen] = useQueryState<string>("open", "");
  const [at, setAt] = useQueryState<string>("at", "1");
  const weight = Math.min(1, Math.max(0.05, Number(at) || 1));
  const [find, setFind] = useState("");
  const shown = useMemo(() => rows.filter((r) => !find || isFound(r, find)).sort(SORTS[sort]), [rows, find, sort]);
  const beside = useBeside();
  const { asked, drawn } = useDrawing();
  const [share, setShare] = useState<number | null>(null);
  const stopped = useRef(false);
  useEffect(() => () => void (stopped.current = true), []);
  /** Draws what has not been drawn, then hands over one picture or the pages. */
  const keep = async (as: "picture" | "print"): Promise<void> => {
    stopped.current = false;
    setShare(0);
    const pictures = await drawAll(loaded.character, beside.character, shown, weight, setShare, () => stopped.current);
    setShare(null);
    if (!pictures) return;
    const title =
      `${page.name}: ${counted(shown.length, "shapes")} at ` +
      `${weight === 1 ? "full" : weight}${beside.character ? `, beside ${beside.title}` : ""}`;
    if (as === "picture") saveFile(`${page.name} proof.png`, await sheetOf(pictures, title));
    else printPages(pictures, title);
  };
  const flagged = rows.filter((r) => r.worst && r.worst !== "note").length;
  return (
    <>
      <div className="sheet-tools p-10-18-8 m-0">
        <FindField label="Find a shape" value={find} onChange={setFind} />
        <Segmented
          label="Order"
          options={Object.keys(SORTS) as Sort[]}
          value={sort}
          onChange={setSort}
          names={{ worst: "worst first" }}
        />
      </div>
      <div
        className="sheet-tools"
        style={{ padding: "0 18px 8px", margin: 0, minHeight: 32, flexWrap: "wrap", rowGap: 0 }}>
        {share === null ? (
          <>
            <span className="nowrap t-small">
              drawn at{" "}
              <ScrubField
                label="Weight of the proof"
                value={weight}
                min={0.05}
                max={1}
                step={0.01}
                start={1}
                onChange={(w) => setAt(String(w))}
              />
            </span>
            <BesidePick beside={beside} />
            <span className="muted grow-whole to-right nowrap" role="status">
              {asked.of > 0
                ? `drawing ${asked.of - asked.left + 1} of ${asked.of} in sight`
                : `${counted(rows.length, "shapes")}, ${flagged} with findings`}
            </span>
            <span className="nowrap">
              <Button onClick={() => void keep("picture")} title="All shapes with their marks as one PNG">
                Save
              </Button>
              <Button onClick={() => void keep("print")} title="All shapes on pages to print">
                Print
              </Button>
            </span>
          </>
        ) : (
          <Progress title="Drawing every shape" share={share} onCancel={() => (stopped.current = true)} />
        )}
      </div>
      <div className="sheet-body">
        <Thumbs shown={shown} open={open} setOpen={setOpen} weight={weight} other={beside.character} onDrawn={drawn} />
        {shown.length === 0 && <p className="muted p-0-18">Nothing matches.</p>}
      </div>
    </>
  );
}

const isFound = ({ shape, region }: ShapeRow, words: string): boolean =>
  `${shape.name} ${shape.label} ${region}`.toLowerCase().includes(words.toLowerCase());

/** Moves from picture to picture by the arrow keys. */
function step(e: KeyboardEvent<HTMLDivElement>): void {
  const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 4, ArrowUp: -4 }[e.key];
  if (!by) return;
  const all = [...e.currentTarget.querySelectorAll<HTMLButtonElement>(".thumb")];
  const next = all[all.indexOf(document.activeElement as HTMLButtonElement) + by];
  if (!next) return;
  e.preventDefault();
  next.focus();
  next.click();
}

/** So many stand at once; the others come when these are drawn, below what is in sight. */
const FIRST = 24;

interface ThumbsProps {
  readonly shown: readonly ShapeRow[];
  readonly open: string;
  readonly setOpen: (shape: string) => void;
  readonly weight: number;
  readonly other: Character | null;
  readonly onDrawn: (shape: string, there: boolean) => void;
}

/** All pictures; told nothing while a share is counted beside them, they are not gone through again. */
const Thumbs = memo(function Thumbs({ shown, open, setOpen, weight, other, onDrawn }: ThumbsProps): ReactNode {
  const store = useSessionStore();
  const { character } = useSession((s) => s.loaded)!;
  const choose = (row: ShapeRow): void => {
    const off = open === row.shape.name;
    const { moment, framing } = soloView(character, row, weight);
    setOpen(off ? "" : row.shape.name);
    if (off) setView(store, { weights: {}, pose: {} });
    else lookAt(store, { ...moment, framing });
  };
  const [all, setAll] = useState(false);
  useEffect(() => void clearWay().then(() => startTransition(() => setAll(true))), []);
  const there = all ? shown : shown.slice(0, FIRST);
  return (
    <div className={`proof${other ? " beside" : ""}`} onKeyDown={step}>
      {there.map((row, place) => (
        <Thumb
          key={row.shape.name}
          row={row}
          place={place}
          onDrawn={onDrawn}
          on={open === row.shape.name}
          weight={weight}
          other={other}
          onChoose={() => choose(row)}
        />
      ))}
    </div>
  );
});

/** How many pictures in sight are still to come, told a few times a second. */
function useDrawing(): {
  asked: { readonly left: number; readonly of: number };
  drawn: (shape: string, there: boolean) => void;
} {
  const [asked, setAsked] = useState({ left: 0, of: 0 });
  const waiting = useRef(new Set<string>());
  const most = useRef(0);
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const drawn = useCallback((shape: string, there: boolean) => {
    if (there) waiting.current.delete(shape);
    else waiting.current.add(shape);
    most.current = waiting.current.size === 0 ? 0 : Math.max(most.current, waiting.current.size);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      if (waiting.current.size === 0) wayIsClear();
      setAsked({ left: waiting.current.size, of: most.current });
    }, TELL_MS);
  }, []);
  return { asked, drawn };
}
const TELL_MS = 60;

interface ThumbProps {
  readonly row: ShapeRow;
  /** Place in the sheet: pictures are drawn in this order. */
  readonly place: number;
  /** Told when its picture is asked for and when it is there. */
  readonly onDrawn: (shape: string, there: boolean) => void;
  readonly on: boolean;
  readonly weight: number;
  readonly other: Character | null;
  readonly onChoose: () => void;
}
function Thumb(props: ThumbProps): ReactNode {
  const { row, on, other, onChoose } = props;
  const { box, picture, second } = usePictures(props);
  const limit = PROFILES.realtime.limits["pose.stretch"];
  const color = row.worst === "error" ? "var(--brick)" : row.worst === "warn" ? "var(--amber)" : undefined;
  return (
    <button
      ref={box}
      type="button"
      className="thumb"
      aria-pressed={on}
      onClick={onChoose}
      aria-label={`${row.shape.name}, ${row.shape.label}`}
      title={row.findings[0]?.message ?? row.shape.label}>
      <span className="pictures">
        {picture ? <img src={picture} alt="" /> : <span className="blank" />}
        {other &&
          (second ? (
            <img src={second} alt="" />
          ) : (
            <span className="blank">{shapeNamed(other, row.shape.name) ? "" : "none of this name"}</span>
          ))}
      </span>
      <div className="name" style={color ? { color } : undefined}>
        {row.worst && row.worst !== "note" && `${GLYPH[row.worst]} `}
        {row.shape.name}
        {row.shape.label !== row.shape.name && <span className="label">{row.shape.label}</span>}
      </div>
      {row.reading && (
        <LimitBar
          value={row.reading.stretch}
          limit={limit}
          end={3}
          text={`${row.reading.stretch.toFixed(2)} ×`}
          width={58}
        />
      )}
    </button>
  );
}

interface Pictures {
  readonly box: RefObject<HTMLButtonElement | null>;
  readonly picture: string | null;
  /** Of what stands beside. */
  readonly second: string | null;
}
/** The pictures of a shape, asked for while it is in sight. */
function usePictures({ row, place, onDrawn, weight, other }: ThumbProps): Pictures {
  const { character } = useSession((s) => s.loaded)!;
  const box = useRef<HTMLButtonElement>(null);
  const [picture, setPicture] = useState<string | null>(null);
  const [second, setSecond] = useState<string | null>(null);
  useEffect(() => {
    let wanted = false;
    let gone = false;
    const look = new IntersectionObserver(
      ([entry]) => {
        wanted = entry?.isIntersecting ?? false;
        if (!wanted) return onDrawn(row.shape.name, true);
        const still = (): boolean => wanted && !gone;
        onDrawn(row.shape.name, false);
        void shapePicture(character, row, weight, still, place).then(
          (url) => {
            if (gone) return;
            if (url) setPicture(url);
            onDrawn(row.shape.name, true);
          },
          () => onDrawn(row.shape.name, true),
        );
        if (other)
          void besidePicture(other, row, weight, still, place).then(
            (url) => !gone && setSecond(url),
            () => {},
          );
      },
      { rootMargin: "200px" },
    );
    look.observe(box.current!);
    return () => {
      gone = true;
      onDrawn(row.shape.name, true);
      look.disconnect();
    };
  }, [row, place, onDrawn, character, weight, other]);
  return { box, picture, second };
}
