import { useEffect, useState, type ReactNode } from "react";
import { Outlet, useLocation } from "react-router";
import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";
import type { CharacterPage } from "~server/services/characterPage";
import { makeSession, SessionContext } from "../session/session";
import { useKeepDrafts } from "../session/kept/useKeepDrafts";
import { viewFromQuery } from "../session/urlState";
import { DeskKeys } from "./DeskKeys";
import { DraftsBanner } from "./DraftsBanner";
import { Evidence } from "./Evidence";
import { Header } from "./Header";
import { PendingBanner } from "./PendingBanner";
import { StageSlot } from "./StageSlot";
import { useLoadCharacter } from "./useLoadCharacter";
import { useMeasure } from "./useMeasure";
import { useRecheck } from "./useRecheck";
import { useUrlSync } from "./useUrlSync";

const storage = {
  getItem: (key: string): string | null => (typeof localStorage === "undefined" ? null : localStorage.getItem(key)),
  setItem: (key: string, value: string): void => localStorage.setItem(key, value),
};

/** One character's desk: header, the station's sheet on the left, the stage with its evidence on the right. */
export function Desk({ page }: { page: CharacterPage }): ReactNode {
  const { search } = useLocation();
  const [store] = useState(() => makeSession(viewFromQuery(new URLSearchParams(search))));
  const across = useDefaultLayout({ id: "yxomorph-across", storage });
  const down = useDefaultLayout({ id: "yxomorph-down", storage });
  return (
    <SessionContext.Provider value={store}>
      <DeskEffects page={page} />
      <div className="desk">
        <Header page={page} />
        <PendingBanner page={page} />
        <DraftsBanner page={page} />
        <Group
          orientation="horizontal"
          style={{ flex: 1, minHeight: 0 }}
          defaultLayout={across.defaultLayout}
          onLayoutChanged={across.onLayoutChanged}>
          <Panel id="sheet" defaultSize="44%" minSize="360px">
            <Outlet />
          </Panel>
          <Separator className="handle vhandle" />
          <Panel id="right" minSize="380px">
            <Group
              orientation="vertical"
              style={{ height: "100%" }}
              defaultLayout={down.defaultLayout}
              onLayoutChanged={down.onLayoutChanged}>
              <Panel id="stage" minSize="200px">
                <StageSlot />
              </Panel>
              <Separator className="handle hhandle" />
              <Panel id="evidence" defaultSize="180px" minSize="34px" collapsible>
                <Evidence />
              </Panel>
            </Group>
          </Panel>
        </Group>
      </div>
    </SessionContext.Provider>
  );
}

/** What goes on behind the desk: loading, measuring, keeping the address, keys. */
function DeskEffects({ page }: { page: CharacterPage }): ReactNode {
  useUrlSync();
  useLoadCharacter(page);
  useMeasure();
  useRecheck(page);
  useKeepDrafts(page);
  useEffect(() => {
    document.documentElement.dataset["desk"] = "ready";
  }, []);
  return <DeskKeys />;
}
