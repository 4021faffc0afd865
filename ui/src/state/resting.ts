/**
 * What keys or the wheel step is kept when the hand has been still, so that a run of steps is one
 * edit. Whatever else is kept, undone or asked for first keeps what waits, so that edits stay in
 * the order in which they were made.
 */

/** How long the hand must be still, in milliseconds. */
const STILL_MS = 350;

export interface Rest {
  /** Keep when the hand has been still; what waited here before is replaced. */
  later: (keep: () => void) => void;
  /** Keep what waits now, since something else begins. */
  now: () => void;
}

const waiting = new Set<() => void>();

/** A place for one thing that waits to be kept. */
export function resting(): Rest {
  let kept: (() => void) | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const now = () => {
    clearTimeout(timer);
    waiting.delete(now);
    const keep = kept;
    kept = null;
    keep?.();
  };
  return {
    later: (keep) => {
      clearTimeout(timer);
      kept = keep;
      waiting.add(now);
      timer = setTimeout(now, STILL_MS);
    },
    now,
  };
}

/** Keep all that waits, in the order in which it was stepped. */
export function settle() {
  for (const now of [...waiting]) now();
}
