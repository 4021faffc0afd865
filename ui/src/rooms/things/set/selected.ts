/** What of the Things room is selected. */

import type { Recipe } from "../../../generated/recipe";
import { thingOf } from "./set-things";

/** Whether a strew, a thing that was set, or a layer on a thing is selected. */
export function isOfThings(recipe: Recipe | null, selected: string | null): boolean {
  if (!recipe) return false;
  return (
    [...recipe.strews, ...recipe.set_things].some((one) => one.id === selected) || thingOf(recipe, selected) !== null
  );
}
