import { useColorScheme } from "@mui/material/styles";
import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import type { CastCard as Card } from "~server/services/characters";
import { FindField } from "../../ui/FindField";
import { Wordmark } from "../../ui/Wordmark";
import { useDrafts } from "../../session/kept/useDrafts";
import { CastCard } from "./CastCard";
import { keepTextures } from "../../session/droppedTextures";
import { FileDrop } from "../FileDrop";
import { MATERIALS } from "../intake/partRows";

/** The start page: every character with its picture and state, and a place to drop a delivery. */
export function CastPage({ cards, uploadLimitMb }: { cards: readonly Card[]; uploadLimitMb: number }): ReactNode {
  const [find, setFind] = useState("");
  const { mode, setMode } = useColorScheme();
  const navigate = useNavigate();
  const drafts = useDrafts();
  const shown = cards.filter((c) => `${c.name} ${c.role}`.toLowerCase().includes(find.toLowerCase()));
  return (
    <>
      <header className="header">
        <Wordmark />
        <span className="take-rest" />
        <Button onClick={() => setMode(mode === "dark" ? "light" : "dark")}>
          {mode === "dark" ? "Light" : "Dark"}
        </Button>
      </header>
      <main className="cast">
        <div className="spread mb-16">
          <h1 style={{ fontSize: 20, margin: 0 }}>Cast</h1>
          <div className="wide-260 row-flex">
            <FindField label="Find a character" value={find} onChange={setFind} />
          </div>
        </div>
        <div className="cards">
          {shown.map((card) => (
            <CastCard key={card.id} card={card} drafts={drafts.filter((d) => d.character === card.id)} />
          ))}
          <FileDrop
            uploadLimitMb={uploadLimitMb}
            url="/api/deliveries"
            label="Take in a delivery"
            title="Take in a character"
            hint={
              "Drop one .glb here, with the hair, garments and .bvh clips that go with " +
              "it, or an .obj base with its .mtl and its .obj targets; textures as .png or .jpg beside either."
            }
            working="Reading and checking"
            refused="Not taken in"
            onDone={(result, files) => {
              const { character } = result as { character: string };
              // a material library says itself which image belongs where
              const apart = !files.some((f) => /\.mtl$/i.test(f.name)) && keepTextures(character, files) > 0;
              const rows = `?leaf=parts&open=${encodeURIComponent(MATERIALS)}`;
              return navigate(`/c/${character}/intake${apart ? rows : ""}`);
            }}
          />
        </div>
        {shown.length === 0 && cards.length > 0 && <p className="muted">No character has a name like that.</p>}
      </main>
    </>
  );
}
