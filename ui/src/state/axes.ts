/** What the axes of a ground are called: a face runs along and up, and comes out. */

import { useSite } from "./site";

interface Axes {
  east: string;
  north: string;
  up: string;
  /** After a number of metres. */
  afterEast: string;
  afterNorth: string;
}

const LYING: Axes = { east: "east", north: "north", up: "up", afterEast: "E", afterNorth: "N" };
const UPRIGHT: Axes = { east: "along", north: "up", up: "out", afterEast: "along", afterNorth: "up" };

/** The words for the axes of the ground that is shown. */
export const useAxes = (): Axes => useSite((s) => (s.shown?.ground.upright ? UPRIGHT : LYING));

/** A word with a capital, as labels begin. */
export const asLabel = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);
