/** Where wear stands in a column: on which layer, and in which order on it. */

import { CATALOGUE } from "../../../generated/catalogue";
import type { Recipe, Thing, Wear } from "../../../generated/recipe";

/** Layers and the wear over them, each from the bottom up: a site's, or those on a thing. */
export interface Column {
  layers: readonly { id: string; name: string }[];
  wears: Wear[];
}

/** What lies below all layers of a thing, as wear knows it. */
const OWN_MATERIAL = { id: CATALOGUE.ownMaterial, name: "its own material" };

/** The column of a thing, its own material the lowest. */
export function columnOf(thing: Thing): Column {
  return { layers: [OWN_MATERIAL, ...thing.cover.layers], wears: thing.cover.wears };
}

/** The layer that a wear stands on: the one it names, or the topmost. */
export function standsOn(column: Column, wear: Wear): string | null {
  const named = column.layers.find((one) => one.id === wear.place);
  return named?.id ?? column.layers.at(-1)?.id ?? null;
}

/** The wears that stand on a layer, from the bottom up. */
export function wearsOn(column: Column, layer: string): Wear[] {
  return column.wears.filter((one) => standsOn(column, one) === layer);
}

/** Wears in the order of the column. */
function inOrder(column: Column, wears: Wear[]): Wear[] {
  return column.layers.flatMap((layer) => wearsOn({ ...column, wears }, layer.id));
}

/** The wears of a column with one laid right on a layer, over what else stands on it (or under it all). */
function withLaidOn(column: Column, id: string, layer: string, under = false): Wear[] {
  const wear = column.wears.find((one) => one.id === id);
  if (!wear) return column.wears;
  const others = column.wears.filter((one) => one.id !== id);
  const moved = { ...wear, place: layer };
  return inOrder(column, under ? [moved, ...others] : [...others, moved]);
}

/** The recipe with a wear laid right on a layer, over what else stands on it. */
export function laidOn(recipe: Recipe, id: string, layer: string): Recipe {
  return { ...recipe, wears: withLaidOn(recipe, id, layer) };
}

/** The wears of a column with one a place higher (1) or lower (-1). */
export function withShifted(column: Column, id: string, way: 1 | -1): Wear[] {
  const wear = column.wears.find((one) => one.id === id);
  const on = wear && standsOn(column, wear);
  if (!wear || !on) return column.wears;
  const beside = wearsOn(column, on);
  const other = beside[beside.findIndex((one) => one.id === id) + way];
  if (other) {
    const swapped = column.wears.map((one) => (one.id === id ? other : one.id === other.id ? wear : one));
    return inOrder(column, swapped);
  }
  const layer = column.layers[column.layers.findIndex((one) => one.id === on) + way];
  return layer ? withLaidOn(column, id, layer.id, way === 1) : column.wears;
}

/** The recipe with a wear one place higher (1) or lower (-1) in its column. */
export function shifted(recipe: Recipe, id: string, way: 1 | -1): Recipe {
  return { ...recipe, wears: withShifted(recipe, id, way) };
}

/** The wears of a column when a layer is gone: those that stood on it come to lie on the one below. */
export function wearsWithout(column: Column, layer: string): Wear[] {
  const at = column.layers.findIndex((one) => one.id === layer);
  const below = column.layers[at - 1]?.id ?? column.layers[at + 1]?.id ?? null;
  return column.wears.map((one) => (one.place === layer ? { ...one, place: below } : one));
}

/** The recipe without a layer; wear that stood on it comes to lie on the one below. */
export function withoutLayer(recipe: Recipe, id: string): Recipe {
  return { ...recipe, wears: wearsWithout(recipe, id), layers: recipe.layers.filter((one) => one.id !== id) };
}
