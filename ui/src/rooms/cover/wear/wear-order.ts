/** Where wear stands in the column: on which layer, and in which order on it. */

import type { Recipe, Wear } from "../../../generated/recipe";

/** The layer that a wear stands on: the one it names, or the topmost. */
export function standsOn(recipe: Recipe, wear: Wear): string | null {
  const named = recipe.layers.find((one) => one.id === wear.place);
  return named?.id ?? recipe.layers.at(-1)?.id ?? null;
}

/** The wears that stand on a layer, from the bottom up. */
export function wearsOn(recipe: Recipe, layer: string): Wear[] {
  return recipe.wears.filter((one) => standsOn(recipe, one) === layer);
}

/** The recipe with its wear listed in the order of the column. */
function inOrder(recipe: Recipe, wears: readonly Wear[]): Recipe {
  const all = { ...recipe, wears: [...wears] };
  return { ...all, wears: recipe.layers.flatMap((layer) => wearsOn(all, layer.id)) };
}

/** The recipe with a wear laid right on a layer, over what else stands on it (or under it all). */
export function laidOn(recipe: Recipe, id: string, layer: string, under = false): Recipe {
  const wear = recipe.wears.find((one) => one.id === id);
  if (!wear) return recipe;
  const others = recipe.wears.filter((one) => one.id !== id);
  const moved = { ...wear, place: layer };
  return inOrder(recipe, under ? [moved, ...others] : [...others, moved]);
}

/** The recipe with a wear one place higher (1) or lower (-1) in the column. */
export function shifted(recipe: Recipe, id: string, way: 1 | -1): Recipe {
  const wear = recipe.wears.find((one) => one.id === id);
  const on = wear && standsOn(recipe, wear);
  if (!wear || !on) return recipe;
  const beside = wearsOn(recipe, on);
  const at = beside.findIndex((one) => one.id === id);
  const other = beside[at + way];
  if (other) {
    const swapped = recipe.wears.map((one) => (one.id === id ? other : one.id === other.id ? wear : one));
    return inOrder(recipe, swapped);
  }
  const layer = recipe.layers[recipe.layers.findIndex((one) => one.id === on) + way];
  return layer ? laidOn(recipe, id, layer.id, way === 1) : recipe;
}

/** The recipe without a layer; wear that stood on it comes to lie on the one below. */
export function withoutLayer(recipe: Recipe, id: string): Recipe {
  const at = recipe.layers.findIndex((one) => one.id === id);
  const below = recipe.layers[at - 1]?.id ?? recipe.layers[at + 1]?.id ?? null;
  const wears = recipe.wears.map((one) => (one.place === id ? { ...one, place: below } : one));
  return { ...recipe, wears, layers: recipe.layers.filter((one) => one.id !== id) };
}
