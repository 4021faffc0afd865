/** Five values of one number, laid out as five pictures: which they are, and what each would make of the site. */

import { create } from "zustand";
import type { StandName } from "../api/types";

export interface Asked {
  label: string;
  unit: string;
  value: number;
  least: number;
  most: number;
  step: number;
  digits?: number;
  decades: boolean;
  /** Shows the site with another value. */
  onMove: (value: number) => void;
  onKeep: (value: number) => void;
}

interface StripState {
  asked: Asked | null;
  /** Whether the room has a place for it. */
  here: boolean;
  /** How far apart the values are: 1 is usual. */
  spread: number;
  stand: StandName;
}

export const useStrip = create<StripState>()(() => ({ asked: null, here: false, spread: 1, stand: "near" }));

const USUAL_RATIO = 1.4;
const USUAL_SHARE = 1 / 8;

/** Five values about the one that is, in ratios where the number spans decades; fewer where its ends cut them off. */
export function fiveOf(
  { value, least, most, step, decades }: Pick<Asked, "value" | "least" | "most" | "step" | "decades">,
  spread: number,
): number[] {
  const at = (k: number) =>
    decades && value > 0 ? value * USUAL_RATIO ** (k * spread) : value + k * spread * USUAL_SHARE * (most - least);
  const held = [-2, -1, 0, 1, 2].map((k) =>
    k === 0 ? value : Number((Math.round(Math.min(most, Math.max(least, at(k))) / step) * step).toFixed(6)),
  );
  return [...new Set(held)].sort((a, b) => a - b);
}

/** S on a number lays five of it out, where the room shows pictures; whether it did. */
export function layOut(
  event: { key: string; ctrlKey: boolean; metaKey: boolean; altKey: boolean; preventDefault: () => void },
  asked: Asked,
): boolean {
  if (event.key.toLowerCase() !== "s" || event.ctrlKey || event.metaKey || event.altKey) return false;
  if (!useStrip.getState().here) return false;
  event.preventDefault();
  useStrip.setState({ asked });
  return true;
}
