/** Reports of progress that say nothing more once the work has ended, however late one arrives from another thread. */
export function endingReports(progress: (share: number) => void): {
  readonly tell: (share: number) => void;
  readonly end: () => void;
} {
  let ended = false;
  return {
    tell: (share) => {
      if (!ended) progress(share);
    },
    end: () => {
      ended = true;
    },
  };
}
