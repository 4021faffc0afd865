/** How the numbers of a part of a recipe are shown, as the catalogue tells it. */

import type { NumberField, Shown } from "../generated/answers";
import { CATALOGUE, type Numbers } from "../generated/catalogue";

/** A part of a recipe whose numbers the catalogue tells, and a field of it. */
export type NumbersPart = keyof Numbers;
export type NumbersField<P extends NumbersPart = NumbersPart> = Numbers[P];

export const numbersOf = (part: NumbersPart): readonly NumberField[] => CATALOGUE.numbers[part] ?? [];

export type Spanned = Omit<Shown, "pixel"> & { usual: number; perPixel?: number };

/** What a slider or typed number of one field spans: `numberOf("Fit", "tile_m")`. */
export function numberOf<P extends NumbersPart>(part: P, field: NumbersField<P>): Spanned {
  const found = numbersOf(part).find((one) => one.field === field);
  if (!found) throw new Error(`the catalogue tells nothing of ${part}.${field}`);
  const { pixel, ...shown } = found.shown;
  return { ...shown, usual: found.usual, ...(pixel > 0 ? { perPixel: pixel } : {}) };
}

/** The same for a number from 0 to 1 that is told as a percentage. */
export function percentOf<P extends NumbersPart>(part: P, field: NumbersField<P>): Spanned {
  const of = numberOf(part, field);
  const whole = (value: number) => Math.round(value * 100);
  return {
    ...of,
    unit: "%",
    least: whole(of.least),
    most: whole(of.most),
    step: 1,
    digits: 0,
    usual: whole(of.usual),
    perPixel: 0.5,
  };
}

/** The same for a length in metres that is told in millimetres. */
export function inMillimetres<P extends NumbersPart>(part: P, field: NumbersField<P>): Spanned {
  const of = numberOf(part, field);
  return {
    ...of,
    unit: "mm",
    least: of.least * 1000,
    most: of.most * 1000,
    step: of.step * 1000,
    usual: of.usual * 1000,
    perPixel: (of.perPixel ?? of.step) * 1000,
  };
}

/** What some fields of a part begin with. */
export function usualsOf<P extends NumbersPart, F extends NumbersField<P>>(
  part: P,
  fields: readonly F[],
): Record<F, number> {
  return Object.fromEntries(fields.map((field) => [field, numberOf(part, field).usual])) as Record<F, number>;
}
