import { useState } from "react";

/**
 * A value under the hand, shown at once: what it changes is told to the page at a beat. What the page says
 * since takes its place.
 */
export function useHeld(value: number): { now: number; hold: (value: number) => void; letGo: () => void } {
  const [held, setHeld] = useState<{ value: number; over: number } | null>(null);
  return {
    now: held?.over === value ? held.value : value,
    hold: (next) => setHeld({ value: next, over: value }),
    letGo: () => setHeld(null),
  };
}
