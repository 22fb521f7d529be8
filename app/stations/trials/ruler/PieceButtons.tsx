import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import type { Piece } from "~core/trials/trial";
import { useSessionStore } from "../../../session/session";
import { removePiece } from "../../../session/slices/trial";
import { playPiece } from "./playPiece";

/** What can be done with any open piece: it is played by itself, or goes. */
export function PieceButtons({ piece }: { piece: Piece }): ReactNode {
  const store = useSessionStore();
  return (
    <div className="line">
      <Button variant="outlined" onClick={() => playPiece(store, piece)}>
        Play it over and over
      </Button>
      <span className="take-rest" />
      <Button onClick={() => removePiece(store, piece.id)}>Take it off the ruler</Button>
    </div>
  );
}
