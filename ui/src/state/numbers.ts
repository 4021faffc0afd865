/** How the numbers of a part of a recipe are shown, as the catalogue tells it. */

import type { NumberField, Shown } from "../generated/answers";
import { CATALOGUE } from "../generated/catalogue";

export const numbersOf = (part: string): readonly NumberField[] => CATALOGUE.numbers[part] ?? [];

export type Spanned = Omit<Shown, "pixel"> & { usual: number; perPixel?: number };

/** What a slider or typed number of one field spans: `numberOf("Fit", "tile_m")`. */
export function numberOf(part: string, field: string): Spanned {
  const found = numbersOf(part).find((one) => one.field === field);
  if (!found) throw new Error(`the catalogue tells nothing of ${part}.${field}`);
  const { pixel, ...shown } = found.shown;
  return { ...shown, usual: found.usual, ...(pixel > 0 ? { perPixel: pixel } : {}) };
}
