/** Names of parts of a recipe: parts never change once made, so one that is the same has the same. */

import type { Recipe } from "../generated/recipe";

const numbers = new WeakMap<object, number>();
let numbered = 0;

export function nameOf(part: object): number {
  const known = numbers.get(part) ?? ++numbered;
  numbers.set(part, known);
  return known;
}

/** A name for all that a picture of a site shows. */
export function nameOfSeen(of: Recipe): string {
  const { ground, layers, wears, marks, water, light, peg, stands, things, strews, set_things } = of;
  return [ground, layers, wears, marks, water, light, peg, stands, things, strews, set_things].map(nameOf).join(" ");
}
