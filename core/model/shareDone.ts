/** Told while work that does not yield goes on: how much of it is done, 0..1, never less than before. */
export type ShareDone = (share: number) => void;

export const untold: ShareDone = () => {};

/** What a part of the work reports, as a stretch of the whole. */
export const within =
  (tell: ShareDone, from: number, to: number): ShareDone =>
  (share) =>
    tell(from + share * (to - from));
