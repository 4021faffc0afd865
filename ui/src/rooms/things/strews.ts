/** Changes of strews and their things, as changes of the recipe. */

import type { ThingKind } from "../../generated/answers";
import { CATALOGUE } from "../../generated/catalogue";
import type { Recipe, Strew, Thing } from "../../generated/recipe";
import { newId } from "../../parts/new-id";
import { freeName } from "../../state/part-names";

const sameSource = (a: Thing, b: Thing) => JSON.stringify(a.source) === JSON.stringify(b.source);

/** The recipe with a thing in it, and under which id: one that is there already is used again. */
export function withThing(recipe: Recipe, thing: Thing): { recipe: Recipe; id: string } {
  const there = recipe.things.find((one) => sameSource(one, thing));
  if (there) return { recipe, id: there.id };
  const id = newId();
  return { recipe: { ...recipe, things: [...recipe.things, { ...thing, id }] }, id };
}

/** A new strew of one thing, as the thing usually lies. */
export function strewn(recipe: Recipe, thing: Thing, begins: Strew, id: string): Recipe {
  const { recipe: held, id: of } = withThing(recipe, thing);
  const name = freeName(begins.name, recipe.strews);
  const seed = recipe.strews.length + 1;
  return { ...held, strews: [...held.strews, { ...begins, id, name, seed, kinds: [{ thing: of, weight: 1 }] }] };
}

/** The recipe without things that nothing strews any more. */
export function tidied(recipe: Recipe): Recipe {
  const used = new Set([
    ...recipe.strews.flatMap((strew) => strew.kinds.map((one) => one.thing)),
    ...recipe.set_things.map((one) => one.thing),
  ]);
  return { ...recipe, things: recipe.things.filter((thing) => used.has(thing.id)) };
}

/** The recipe without a strew; others that keep clear of it do so no longer. */
export function withoutStrew(recipe: Recipe, id: string): Recipe {
  const left = recipe.strews
    .filter((strew) => strew.id !== id)
    .map((strew) => ({ ...strew, clear_of: strew.clear_of.filter((other) => other !== id) }));
  return tidied({ ...recipe, strews: left });
}

export const kindOf = (thing: Thing): ThingKind | null => {
  const { source } = thing;
  return source.kind === "drawn" ? (CATALOGUE.things.find((one) => one.what === source.what) ?? null) : null;
};

/** Thousands apart, as in 12 400. */
export const counted = (n: number) => Math.round(n).toLocaleString("en").replace(/,/g, " ");

export const short = (n: number) =>
  n >= 1e6 ? `${(n / 1e6).toFixed(1)} M` : n >= 1e4 ? `${Math.round(n / 1e3)} k` : counted(n);
