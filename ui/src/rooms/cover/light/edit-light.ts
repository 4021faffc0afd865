/** Changes of a recipe's light and water. */

import type { Light, Recipe, Water } from "../../../generated/recipe";

type Change = (recipe: Recipe) => Recipe;

export function withLight(change: Partial<Light>): Change {
  return (recipe) => ({ ...recipe, light: { ...recipe.light, ...change } });
}

/** The sun moved by hand: what it was worked out from no longer tells where it stands. */
export function withSun(change: Pick<Light, "sun_bearing_deg"> | Pick<Light, "sun_height_deg">): Change {
  return withLight({ ...change, when: null });
}

export function withMist(change: Partial<Light["mist"]>): Change {
  return (recipe) => withLight({ mist: { ...recipe.light.mist, ...change } })(recipe);
}

export function withImage(change: Partial<NonNullable<Light["image"]>>): Change {
  return (recipe) => (recipe.light.image ? withLight({ image: { ...recipe.light.image, ...change } })(recipe) : recipe);
}

export function withWater(change: Partial<Water>): Change {
  return (recipe) => ({ ...recipe, water: { ...recipe.water, ...change } });
}
