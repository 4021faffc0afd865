/** How an image lies on the ground, whether a layer's set or a wear's overlay: what it is, and how it is changed. */

import type { Layer, Lie, Recipe, Wear } from "../../generated/recipe";
import { inLayer, inWear } from "../../state/site";

export interface Lying {
  id: string;
  name: string;
  lie: Lie;
  change: (part: Partial<Lie>) => (recipe: Recipe) => Recipe;
}

export const ofLayer = (layer: Layer): Lying => ({
  id: layer.id,
  name: layer.name,
  lie: layer.fit,
  change: (part) => inLayer(layer.id, (one) => ({ ...one, fit: { ...one.fit, ...part } })),
});

export const ofWear = (wear: Wear): Lying => ({
  id: wear.id,
  name: wear.name,
  lie: wear.lie,
  change: (part) => inWear(wear.id, (one) => ({ ...one, lie: { ...one.lie, ...part } })),
});

/** What is selected, if it lies on the ground by a lie of its own. */
export function lyingOf(recipe: Recipe | null, selected: string | null): Lying | null {
  const layer = recipe?.layers.find((one) => one.id === selected);
  if (layer) return ofLayer(layer);
  const wear = recipe?.wears.find((one) => one.id === selected);
  return wear?.follows.kind === "ground" ? ofWear(wear) : null;
}
