/** New layers, and what groups of them are. */

import { newId } from "../../parts/new-id";
import type { SetLine } from "../../api/stock";
import { CATALOGUE } from "../../generated/catalogue";
import type { Fit, Layer, Recipe } from "../../generated/recipe";
import type { Clause } from "./clauses";

const NEW = CATALOGUE.layer;

/** A set as it is: its own size and relief, from above. */
export function newFit(tileM: number, reliefM: number): Fit {
  return { ...NEW.fit, tile_m: tileM, relief_m: Number(Math.min(reliefM, tileM).toFixed(4)) };
}

export function newLayer(set: Pick<SetLine, "name" | "title" | "tileM" | "reliefM">, clauses: Clause[] = []): Layer {
  return {
    ...NEW,
    id: newId(),
    name: set.title,
    set: set.name,
    rule: { clauses },
    fit: newFit(set.tileM, set.reliefM),
  };
}

/** Neighbours in the column that stand in one group, from the top down; '' is no group. */
export interface Run {
  group: string;
  layers: { layer: Layer; index: number }[];
}

export function runsOf(layers: readonly Layer[]): Run[] {
  const runs: Run[] = [];
  for (let index = layers.length - 1; index >= 0; index--) {
    const layer = layers[index];
    if (!layer) continue;
    const last = runs.at(-1);
    if (last && layer.group !== "" && last.group === layer.group) last.layers.push({ layer, index });
    else runs.push({ group: layer.group, layers: [{ layer, index }] });
  }
  return runs;
}

export function inGroup(recipe: Recipe, group: string, change: (layer: Layer) => Layer): Recipe {
  return { ...recipe, layers: recipe.layers.map((layer) => (layer.group === group ? change(layer) : layer)) };
}

/** The recipe with one layer in a group, standing beside the group's others. */
export function grouped(recipe: Recipe, id: string, group: string): Recipe {
  const layer = recipe.layers.find((one) => one.id === id);
  if (!layer) return recipe;
  const put = { ...layer, group };
  const others = recipe.layers.filter((one) => one.id !== id);
  const top = others.findLastIndex((one) => one.group === group);
  if (group === "" || top < 0) return { ...recipe, layers: recipe.layers.map((one) => (one.id === id ? put : one)) };
  return { ...recipe, layers: others.toSpliced(top + 1, 0, put) };
}
