import type { ReactNode } from "react";
import type { HandOff } from "~server/services/handOffs";
import { useCharacterPage } from "../../session/useDesk";
import { useQueryState } from "../../ui/useQueryState";
import { Slip, when } from "./Slip";

/** Every version handed off, newest first; the open one shows its receipt. */
export function ReceiptList({ handOffs }: { handOffs: readonly HandOff[] }): ReactNode {
  const page = useCharacterPage();
  const [open, setOpen] = useQueryState<string>("open", "");
  if (handOffs.length === 0) return <p className="p-8-18">No version yet. Write and prove the package first.</p>;
  return handOffs.map((h) => {
    const on = open === String(h.version);
    return (
      <div key={h.id} className={`row${on ? " open" : ""}`}>
        <button
          type="button"
          className="plain row-line"
          aria-expanded={on}
          onClick={() => setOpen(on ? "" : String(h.version))}>
          <b className="wide-80">version {h.version}</b>
          <span className="mono muted grow">
            {when(h.createdAt)} UTC, step {h.head}
          </span>
          {h.state === page.ledger.state && <span className="badge ok">as it stands</span>}
          <span className="mono nowrap">{h.receipt.readBack.largestErrorMm.toFixed(4)} mm</span>
        </button>
        {on && <Slip handOff={h} character={page.character.name} />}
      </div>
    );
  });
}
