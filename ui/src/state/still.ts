/** What is asked only when nothing moves: figures that would slow the pictures of a drag, or their rest, down. */

import { useState } from "react";
import { create } from "zustand";
import { useSite } from "./site";

/** Figures wait no longer for pictures than this. */
const LONGEST_MS = 1500;

/** Pictures that are still to be made in full. */
const refining = new Set<string>();
let waited: ReturnType<typeof setTimeout> | undefined;

const usePictures = create<{ rested: boolean }>(() => ({ rested: true }));

/** A picture says whether it shows all that is wanted in full. */
export function pictureRested(stand: string, rested: boolean): void {
  if (rested) refining.delete(stand);
  else refining.add(stand);
  clearTimeout(waited);
  const all = refining.size === 0;
  if (usePictures.getState().rested !== all) usePictures.setState({ rested: all });
  if (!all && !useSite.getState().moving) waited = setTimeout(giveUp, LONGEST_MS);
}

function giveUp(): void {
  usePictures.setState({ rested: true });
}

// the hand has let go: from now on figures wait for the pictures
useSite.subscribe((now, before) => {
  if (!before.moving || now.moving || refining.size === 0) return;
  clearTimeout(waited);
  waited = setTimeout(giveUp, LONGEST_MS);
});

/** Whether nothing moves and the pictures have come to rest: there is time for figures. */
export function useStill(): boolean {
  const moving = useSite((s) => s.moving);
  const rested = usePictures((s) => s.rested);
  return !moving && rested;
}

/** The key as it was when all was still last. */
export function useWhileStill<K extends string | null>(key: K): K {
  const still = useStill();
  const [kept, setKept] = useState(key);
  if (still && kept !== key) setKept(key);
  return still ? key : kept;
}
