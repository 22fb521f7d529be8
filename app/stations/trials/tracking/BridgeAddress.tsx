import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { Refusal } from "../../../session/refusal";
import { nameBridge, type Bridge } from "../../../session/tracking/trackerClient";

/** The address of another tracker; the page is loaded anew, so that it may connect there. */
export function BridgeAddress({ bridge }: { bridge: Bridge }): ReactNode {
  const [text, setText] = useState(bridge.named ?? "");
  const [said, setSaid] = useState("");
  const use = (address: string | null): void =>
    void nameBridge(address)
      .then(() => window.location.reload())
      .catch((error: unknown) => setSaid(error instanceof Refusal ? error.message : "It could not be kept."));
  return (
    <div className="mt-6">
      <div className="line">
        <TextField
          size="small"
          label="Address of the tracker"
          placeholder="ws://127.0.0.1:4190"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && text.trim() && use(text)}
          sx={{ flex: 1 }}
        />
        <Button variant="outlined" disabled={!text.trim()} onClick={() => use(text)}>
          Use it
        </Button>
        {bridge.named && bridge.standIn && <Button onClick={() => use(null)}>Use the stand-in</Button>}
      </div>
      {said && <p className="refusal">{said}</p>}
      <p className="t-small muted">
        A bridge that speaks the tracking protocol (docs/formats.md) over WebSocket. Pages connect there and to nothing
        else; this page is loaded anew.
      </p>
    </div>
  );
}
