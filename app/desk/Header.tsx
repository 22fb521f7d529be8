import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Redo from "@mui/icons-material/Redo";
import Undo from "@mui/icons-material/Undo";
import { useColorScheme } from "@mui/material/styles";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import { NavLink } from "react-router";
import type { CharacterPage } from "~server/services/characterPage";
import { statureOf } from "~core/measure/stature";
import type { Holding } from "~core/model/arrayBytes";
import { useSession, useSessionStore } from "../session/session";
import { useDesk } from "../session/useDesk";
import { redoInTool, toolAtWork, toolChanges, undoInTool } from "../session/toolHistory";
import { viewToQuery } from "../session/urlState";
import { characterHoldings } from "../session/loadCharacter";
import { pictureHolding } from "../stage/pictures/picturesClient";
import { HelpDialog } from "../ui/HelpDialog";
import { Wordmark } from "../ui/Wordmark";
import { STATIONS } from "./stations";

const holdings = async (): Promise<Holding[]> => [...(await characterHoldings()), pictureHolding()];

/** Word-mark, who is on the desk, the route with open findings, undo and redo, help. */
export function Header({ page }: { page: CharacterPage }): ReactNode {
  const store = useSessionStore();
  const { undo, redo } = useDesk();
  const { mode, setMode } = useColorScheme();
  const [help, setHelp] = useState(false);
  const [view, setView] = useState("");
  useEffect(() => {
    const read = (): void => setView(viewToQuery(store.getState(), new URLSearchParams()).toString());
    read();
    return store.subscribe(read);
  }, [store]);
  useEffect(() => {
    const open = (): void => setHelp(true);
    window.addEventListener("yxomorph-help", open);
    return () => window.removeEventListener("yxomorph-help", open);
  }, []);
  const { character, ledger, stations } = page;
  const loaded = useSession((s) => s.loaded?.character);
  const stature = useMemo(() => (loaded ? statureOf(loaded) : character.summary.stature), [loaded, character]);
  // as by key: what the tool at work holds comes before the ledger
  const tool = useSession(toolAtWork);
  const undoable = useSession((s) => toolChanges(s).undo);
  const redoable = useSession((s) => toolChanges(s).redo);
  const undoTitle = ledger.head > 0 ? `Undo: ${ledger.entries[ledger.head - 1]!.sentence}` : "Nothing to undo";
  const next = ledger.entries[ledger.head];
  const redoTitle = next ? `Redo: ${next.sentence}` : "Nothing to redo";
  return (
    <header className="header">
      <Wordmark />
      <div className="who">
        <b title={character.name}>{character.name}</b>
        <span>
          {stations.handoff > 0 ? "handed off" : "in work"}, {stature.toFixed(2)} m
        </span>
      </div>
      <nav className="route" aria-label="Stations">
        {STATIONS.map((s, i) => (
          <NavLink
            key={s.path}
            to={{ pathname: `/c/${character.id}/${s.path}`, search: view }}
            className={({ isActive }) => (isActive ? "on" : "")}>
            <span className="no">{i + 1}</span> {s.name} {s.badge(stations)}
          </NavLink>
        ))}
      </nav>
      <div className="line nowrap gap-2 one-row">
        <span className="mono muted" title="Steps in force of all steps of the ledger">
          step {ledger.head}/{ledger.entries.length}
        </span>
        <IconButton
          size="small"
          aria-label="Undo"
          title={undoable > 0 ? "Undo the last change" : undoTitle}
          disabled={undoable === 0 && ledger.head === 0}
          onClick={() => (tool && undoable > 0 ? undoInTool(store, tool) : void undo())}>
          <Undo fontSize="inherit" />
        </IconButton>
        <IconButton
          size="small"
          aria-label="Redo"
          title={redoable > 0 ? "Redo the change" : redoTitle}
          disabled={redoable === 0 && ledger.head >= ledger.entries.length}
          onClick={() => (tool && redoable > 0 ? redoInTool(store, tool) : void redo())}>
          <Redo fontSize="inherit" />
        </IconButton>
        <Button
          onClick={() => setMode(mode === "dark" ? "light" : "dark")}
          aria-label={mode === "dark" ? "Light scheme" : "Dark scheme"}
          title="Light or dark"
          sx={{ px: 0.8 }}>
          ◐
        </Button>
        <Button onClick={() => setHelp(true)} aria-label="Help" title="Keys and the way through" sx={{ px: 0.8 }}>
          ?
        </Button>
      </div>
      <HelpDialog open={help} onClose={() => setHelp(false)} holdings={holdings} />
    </header>
  );
}
