import { makeSession } from "../session/session";
import { setBrush } from "../session/slices/tools";
import { lockJoints, showPlace } from "../session/slices/selection";
import { START_VIEW } from "../session/urlState";
import { isSeen } from "./whatIsDrawn";

describe("what the stage draws of the session", () => {
  /** Whether a change of a session at its start is seen. */
  const seen = (change: (store: ReturnType<typeof makeSession>) => void): boolean => {
    const store = makeSession(START_VIEW);
    const was = store.getState();
    change(store);
    expect(store.getState()).not.toBe(was);
    return isSeen(store.getState(), was);
  };

  test("a place that is shown and a brush that is another are seen", () => {
    expect(seen((store) => showPlace(store, { part: "body", vertices: [1, 2] }))).toBe(true);
    expect(seen((store) => setBrush(store, { finer: true }))).toBe(true);
  });

  test("what only panels show draws no frame", () => {
    expect(seen((store) => lockJoints(store, ["elbow"]))).toBe(false);
    expect(seen((store) => store.setState({ loadError: "not there" }))).toBe(false);
  });
});
