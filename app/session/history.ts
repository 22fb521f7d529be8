/** Changes that can be taken back, and those that were: each list oldest first. */
export interface History<T> {
  readonly undo: readonly T[];
  readonly redo: readonly T[];
}

export const NO_HISTORY: History<never> = { undo: [], redo: [] };

/** After one more change. @param record what takes it back. */
export const remembered = <T>({ undo }: History<T>, record: T): History<T> => ({ undo: [...undo, record], redo: [] });

/**
 * One step back.
 * @param swap takes a change back by its record, and returns the record that makes it again.
 * @returns null when there is nothing to take back.
 */
export function steppedBack<T>({ undo, redo }: History<T>, swap: (record: T) => T): History<T> | null {
  const last = undo.at(-1);
  return last === undefined ? null : { undo: undo.slice(0, -1), redo: [...redo, swap(last)] };
}

/** One step forward again; as `steppedBack`. */
export function steppedForward<T>({ undo, redo }: History<T>, swap: (record: T) => T): History<T> | null {
  const back = steppedBack({ undo: redo, redo: undo }, swap);
  return back && { undo: back.redo, redo: back.undo };
}
