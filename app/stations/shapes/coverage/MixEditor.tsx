import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { MIX_BLOCKS, type Mix } from "~core/model/character";
import { useSession, useSessionStore } from "../../../session/session";
import { useDesk } from "../../../session/useDesk";
import { ScrubField } from "../../../ui/ScrubField";
import { ShapePick } from "../make/ShapePick";
import { setView } from "../../../session/slices/view";

const BLOCK_WORDS = { blink: "holds blinking", gaze: "holds the gaze", mouth: "holds the mouth" } as const;

/** A mix as a recipe: its shapes with their weights, seen on the stage while they are dragged. */
export function MixEditor({ mix }: { mix: Mix }): ReactNode {
  const store = useSessionStore();
  const names = useSession((s) => s.loaded!.character.shapes.map((x) => x.name).join("\n"));
  const { addStep } = useDesk();
  // what is being dragged, until the ledger has it
  const [draft, setDraft] = useState<{ of: Mix; shares: Mix["shares"] }>({ of: mix, shares: mix.shares });
  const shares = draft.of === mix ? draft.shares : mix.shares;
  const show = (list: Mix["shares"]): void => {
    setDraft({ of: mix, shares: list });
    setView(store, {
      pose: {},
      weights: Object.fromEntries(list.filter((s) => s.weight !== 0).map((s) => [s.shape, s.weight])),
      framing: "face",
      camera: null,
    });
  };
  const keep = (change: Partial<Mix>): void => {
    const next = { ...mix, shares, ...change };
    void addStep({
      op: "set mix",
      mixes: [
        {
          name: next.name,
          shares: next.shares.map((s) => ({ ...s })),
          ...(next.blocks?.length ? { blocks: [...next.blocks] } : {}),
        },
      ],
    });
  };
  return (
    <div className="board-open" role="group" aria-label={`Mix ${mix.name}`}>
      <Shares mix={mix} shares={shares} show={show} keep={keep} />
      <div className="line mt-6">
        <ShapePick
          key={shares.length}
          label="Add a shape"
          names={names.split("\n").filter((n) => !shares.some((s) => s.shape === n))}
          value={null}
          onChange={(shape) => shape && keep({ shares: [...shares, { shape, weight: 0.5 }] })}
        />
      </div>
      <div className="line mt-4 gap-14">
        {MIX_BLOCKS.map((b) => (
          <SmallSwitch
            key={b}
            label={BLOCK_WORDS[b]}
            checked={mix.blocks?.includes(b) ?? false}
            onChange={(on) =>
              keep({ blocks: on ? [...(mix.blocks ?? []), b] : (mix.blocks ?? []).filter((x) => x !== b) })
            }
            title="For players that read VRM: held still while this expression plays"
          />
        ))}
      </div>
      <div className="line mt-4">
        <Button onClick={() => show(mix.shares)}>Show it</Button>
        <Button
          onClick={() =>
            void addStep({
              op: "derive shapes",
              items: [{ name: mix.name, label: mix.name, from: { way: "mix", of: shares.map((s) => ({ ...s })) } }],
            })
          }
          title="Makes one shape of it, for players that know no mixes">
          Make it one shape
        </Button>
        <Button onClick={() => void addStep({ op: "remove mix", name: mix.name })}>Remove the mix</Button>
      </div>
    </div>
  );
}

interface SharesProps {
  readonly mix: Mix;
  readonly shares: Mix["shares"];
  readonly show: (list: Mix["shares"]) => void;
  readonly keep: (change: Partial<Mix>) => void;
}
function Shares({ mix, shares, show, keep }: SharesProps): ReactNode {
  const withShare = (shape: string, weight: number): Mix["shares"] =>
    shares.map((s) => (s.shape === shape ? { shape, weight } : s));
  return (
    <table className="plain" style={{ width: "auto" }}>
      <tbody>
        {shares.map((s) => (
          <tr key={s.shape}>
            <td className="mono">{s.shape}</td>
            <td className="num">
              <ScrubField
                label={`${mix.name}: ${s.shape}`}
                value={s.weight}
                min={-1}
                max={2}
                step={0.01}
                start={mix.shares.find((x) => x.shape === s.shape)?.weight ?? 0}
                onChange={(w) => show(withShare(s.shape, w))}
                onCommit={(w) => keep({ shares: withShare(s.shape, w) })}
              />
            </td>
            <td>
              <Button
                onClick={() => keep({ shares: shares.filter((x) => x !== s) })}
                aria-label={`Take ${s.shape} out`}>
                Take out
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
