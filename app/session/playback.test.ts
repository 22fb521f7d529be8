import { Player, type Playable, type Ticker } from "./playback";
import { makeSession, type SessionStore } from "./session";
import { START_VIEW } from "./urlState";

/** A screen whose pictures come when the test says so. */
class Screen implements Ticker {
  private ms = 0;
  private waiting = new Map<number, () => void>();
  private handles = 0;
  now = (): number => this.ms;
  next = (call: () => void): number => {
    this.waiting.set(++this.handles, call);
    return this.handles;
  };
  cancel = (handle: number): void => void this.waiting.delete(handle);
  /** Time passes, then one picture is asked for. */
  picture(ms: number): void {
    this.ms += ms;
    const calls = [...this.waiting.values()];
    this.waiting.clear();
    for (const call of calls) call();
  }
  get asked(): number {
    return this.waiting.size;
  }
}
const turn: Playable = { of: "turn", length: 4, at: (t) => ({ pose: { head: [0, 10 * t, 0] } }) };
const begun = (): { store: SessionStore; screen: Screen; player: Player; at: () => number; turned: () => number } => {
  const store = makeSession(START_VIEW);
  const screen = new Screen();
  const player = new Player(store, screen);
  player.load(turn);
  return {
    store,
    screen,
    player,
    at: () => store.getState().playback.seconds,
    turned: () => store.getState().pose["head"]![1],
  };
};

describe("the clock of a desk", () => {
  it("keeps time when pictures are late: some are left out, none is slow", () => {
    const { screen, player, at, turned } = begun();
    player.play();
    for (const ms of [16, 16, 900, 16]) screen.picture(ms);
    expect(at()).toBeCloseTo(0.948, 9);
    expect(turned()).toBeCloseTo(9.48, 6);
  });
  it("tells the rate that is reached", () => {
    const { store, screen, player } = begun();
    player.play();
    for (let i = 0; i < 10; i++) screen.picture(40);
    expect(store.getState().playback.rate).toBeCloseTo(25, 6);
    player.pause();
    player.seek(1);
    expect(store.getState().playback.rate).toBeNull();
  });
  it("stands still when paused, and goes on from there", () => {
    const { screen, player, at } = begun();
    player.play();
    screen.picture(500);
    player.pause();
    expect(screen.asked).toBe(0);
    screen.picture(2000);
    expect(at()).toBeCloseTo(0.5, 9);
    player.toggle();
    screen.picture(250);
    expect(at()).toBeCloseTo(0.75, 9);
  });
  it("plays slower and faster from where it is", () => {
    const { screen, player, at } = begun();
    player.play();
    screen.picture(1000);
    player.setSpeed(0.25);
    screen.picture(1000);
    player.setSpeed(2);
    screen.picture(500);
    expect(at()).toBeCloseTo(2.25, 9);
  });
  it("plays a stretch over and over without losing the rest of a picture", () => {
    const { store, screen, player, at } = begun();
    player.setLoop([1, 2]);
    player.seek(1.5);
    player.play();
    screen.picture(700);
    expect(at()).toBeCloseTo(1.2, 9);
    screen.picture(2300);
    expect(at()).toBeCloseTo(1.5, 9);
    player.setLoop([2, 2]);
    expect(store.getState().playback.loop).toBeNull();
  });
  it("stops at the end, back at the start, and plays again from there", () => {
    const { store, screen, player, at } = begun();
    player.seek(3.9);
    player.play();
    screen.picture(200);
    expect([at(), store.getState().playback.playing, screen.asked]).toEqual([0, false, 0]);
    player.play();
    screen.picture(100);
    expect(at()).toBeCloseTo(0.1, 9);
  });
  it("goes frame by frame, and no farther than the ends", () => {
    const { store, player, at } = begun();
    player.play();
    player.step(1);
    expect(store.getState().playback.playing).toBe(false);
    expect(at()).toBeCloseTo(1 / 30, 9);
    player.step(-5);
    expect(at()).toBe(0);
    player.seek(99);
    expect(at()).toBe(4);
  });
  it("keeps its place when the same thing is loaded anew, and lets it go only by its name", () => {
    const { store, screen, player, at } = begun();
    player.setSpeed(2);
    player.seek(3);
    player.load({ ...turn, length: 2.5 });
    expect(at()).toBe(2.5);
    player.unload("something else");
    expect(store.getState().playback.of).toBe("turn");
    player.play();
    player.load({ of: "nod", length: 1, at: () => ({}) });
    expect([at(), screen.asked]).toEqual([0, 0]);
    player.unload("nod");
    expect(store.getState().playback).toMatchObject({ of: null, length: 0, speed: 2, playing: false });
    player.play();
    expect(screen.asked).toBe(0);
  });
});
