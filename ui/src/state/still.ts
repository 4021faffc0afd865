/** What is asked only when nothing moves: figures that would slow the pictures of a drag, or their rest, down. */

import { useState } from "react";
import { create } from "zustand";
import { useSite } from "./site";
import { useTools } from "./tools";

/** Figures wait no longer for pictures than this. */
const LONGEST_MS = 1500;

/** The pictures that are shown, and whether each is made in full. */
const pictures = new Map<string, boolean>();
let waited: ReturnType<typeof setTimeout> | undefined;

/** Whether something is under the hand: a number, a view, or a stroke. */
export const underHand = () => useSite.getState().moving || useTools.getState().drawn !== null;

const usePictures = create<{ whole: boolean; some: boolean }>(() => ({ whole: true, some: false }));

function tell(): void {
  const next = { whole: [...pictures.values()].every(Boolean), some: pictures.size > 0 };
  const now = usePictures.getState();
  if (next.whole !== now.whole || next.some !== now.some) usePictures.setState(next);
  wait();
}

/** Figures do not wait for ever once the hand has let go. */
function wait(): void {
  clearTimeout(waited);
  if (!usePictures.getState().whole && !underHand())
    waited = setTimeout(() => usePictures.setState({ whole: true }), LONGEST_MS);
}

/** A picture says whether it shows all that is wanted in full. */
export function pictureWhole(stand: string, whole: boolean): void {
  pictures.set(stand, whole);
  tell();
}

/** A picture is not shown any more. */
export function pictureGone(stand: string): void {
  pictures.delete(stand);
  tell();
}

let held = false;
function look(): void {
  const before = held;
  held = underHand();
  if (before && !held) wait();
  // figures that did not wait any longer wait again: the hand comes first
  if (!before && held) tell();
}
useSite.subscribe(look);
useTools.subscribe(look);

/** Whether there is time for figures: the pictures are made in full; without pictures, while nothing moves. */
export function useStill(): boolean {
  const moving = useSite((s) => s.moving);
  const drawing = useTools((s) => s.drawn !== null);
  const { whole, some } = usePictures();
  return some ? whole : !moving && !drawing;
}

/** The key as it was when all was still last. */
export function useWhileStill<K extends string | null>(key: K): K {
  const still = useStill();
  const [kept, setKept] = useState(key);
  if (still && kept !== key) setKept(key);
  return still ? key : kept;
}
