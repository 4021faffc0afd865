import * as api from "../../api/client";
import type { Layer, Recipe, Strew } from "../../generated/recipe";
import { partsOf, referenceOf, type Named, type Where } from "./clauses";
import { useLatest } from "../../parts/use-latest";
import { useSite, useStillSite, type Ruled } from "../../state/site";

export interface Askable {
  layers: Layer[];
  strews: Strew[];
}

/** What each rule asks for: what answers depend on, and no number of a clause. */
function asks(of: readonly Ruled[]): string {
  return JSON.stringify(
    of.map((one) => [
      one.id,
      one.rule.clauses
        .flatMap((clause) => (clause.kind === "bracket" ? clause.clauses : [clause]))
        .flatMap((clause) => referenceOf(clause)?.id ?? []),
    ]),
  );
}

/** Layers whose presence, and strews whose nearness, a rule may ask for without asking for itself in the end. */
export function useAskable(of: string): Askable {
  const layers = useStillSite((s) => s.shown?.layers);
  const strews = useStillSite((s) => s.shown?.strews);
  const key = layers && strews ? `${of} ${asks(layers)} ${asks(strews)}` : null;
  const { value } = useLatest<string[]>(key, () => {
    const recipe = useSite.getState().shown;
    return recipe ? api.askable(recipe, of) : Promise.resolve([]);
  });
  return {
    layers: layers?.filter((one) => value?.includes(one.id)) ?? [],
    strews: strews?.filter((one) => value?.includes(one.id)) ?? [],
  };
}

/** The parts of a site that a clause of a rule may refer to: those of its own thing, or of the ground. */
export function candidates(
  where: Where,
  recipe: Recipe,
  on: Recipe["things"][number] | null,
  { layers, strews }: Askable,
): readonly Named[] {
  if (where === "layer") return on ? [] : layers;
  if (where === "strew") return strews;
  if (where === "mask") return [...(on?.cover.masks ?? []), ...recipe.marks.masks];
  if (where === "image") return on?.cover.images ?? recipe.marks.images;
  return partsOf(where, recipe);
}
