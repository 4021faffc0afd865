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
  const { ground, layers, wears, marks, things, strews, set_things, water, light, peg, stands } = of;
  // the small ones may be put together anew each time
  const small = JSON.stringify([water, light, peg, stands]);
  return `${[ground, layers, wears, marks, things, strews, set_things].map(nameOf).join(" ")} ${small}`;
}

/** A free name like one that is wanted. */
export function freeName(wanted: string, taken: readonly { name: string }[]): string {
  const plain = wanted.slice(0, 72);
  if (!taken.some((one) => one.name === plain)) return plain;
  for (let n = 2; ; n++) if (!taken.some((one) => one.name === `${plain} ${n}`)) return `${plain} ${n}`;
}
