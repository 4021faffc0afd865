/** Five values of one number, laid out as five pictures, or of two as a sheet: which they are, and what each makes. */

import { create } from "zustand";
import type { StandName } from "../api/types";
import type { Recipe } from "../generated/recipe";
import { changeOf } from "../state/site";

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
  /** A second number, laid out downwards. */
  second: Asked | null;
  /** Whether the room has a place for it. */
  here: boolean;
  /** How far apart the values are: 1 is usual. */
  spread: number;
  stand: StandName;
}

export const useStrip = create<StripState>()(() => ({
  asked: null,
  second: null,
  here: false,
  spread: 1,
  stand: "near",
}));

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

/** One picture of a strip or sheet: its value, and that of the second number where there is one. */
export interface Cell {
  value: number;
  other: number | null;
}

/** The pictures row by row, from the top left. */
export function cellsOf(asked: Asked, second: Asked | null, spread: number): Cell[] {
  const across = fiveOf(asked, spread);
  const down = second ? fiveOf(second, spread) : [null];
  return down.flatMap((other) => across.map((value) => ({ value, other })));
}

/** The order in which pictures are taken: first what is, then what lies nearest to it. */
export function nearestFirst(cells: readonly Cell[], asked: Asked, second: Asked | null): Cell[] {
  const steps = (values: number[], now: number, value: number) => Math.abs(values.indexOf(value) - values.indexOf(now));
  const across = [...new Set(cells.map((cell) => cell.value))];
  const down = [...new Set(cells.map((cell) => cell.other ?? 0))];
  const far = ({ value, other }: Cell) =>
    steps(across, asked.value, value) + (second ? steps(down, second.value, other ?? 0) : 0);
  return cells.toSorted((a, b) => far(a) - far(b));
}

/** The site as a picture of the strip or sheet shows it. */
export function siteWith(recipe: Recipe, cell: Cell, asked: Asked, second: Asked | null): Recipe {
  const { other } = cell;
  const first = changeOf(() => asked.onMove(cell.value))?.(recipe) ?? recipe;
  return second && other !== null ? (changeOf(() => second.onMove(other))?.(first) ?? first) : first;
}

/** What a room lays out in the strip: how a picture of one of the values is had, and how both numbers of a sheet are taken. */
export interface LaidOut {
  /** Tells what else pictures show: they are asked for anew when it changes. */
  key: string;
  /** Whether Far, Mid and Near can be chosen. */
  stands: boolean;
  /** In the order in which they are asked for. */
  resting: readonly boolean[];
  picture: (cell: Cell, size: Size, resting: boolean, signal: AbortSignal) => Promise<Blob> | null;
  takeBoth: (cell: Cell) => void;
}

export interface Size {
  width: number;
  height: number;
}

/** Five values of a number side by side; of a second one beside a first, a sheet of both. */
export function layOutNumber(asked: Asked): void {
  const { asked: first } = useStrip.getState();
  useStrip.setState(first && first.label !== asked.label ? { second: asked } : { asked, second: null });
}

/** S on a number lays five of it out, where the room shows pictures; whether it did. */
export function layOut(
  event: { key: string; ctrlKey: boolean; metaKey: boolean; altKey: boolean; preventDefault: () => void },
  asked: Asked,
): boolean {
  if (event.key.toLowerCase() !== "s" || event.ctrlKey || event.metaKey || event.altKey) return false;
  if (!useStrip.getState().here) return false;
  event.preventDefault();
  layOutNumber(asked);
  return true;
}
