import * as api from "../../api/client";
import type { Layer, Strew } from "../../generated/recipe";
import { useLatest } from "../../parts/use-latest";
import { useSite, type Ruled } from "../../state/site";

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
        .flatMap((clause) =>
          clause.kind === "layer" ? [clause.layer] : clause.kind === "near" ? [clause.target] : [],
        ),
    ]),
  );
}

/** Layers whose presence, and strews whose nearness, a rule may ask for without asking for itself in the end. */
export function useAskable(of: string): Askable {
  const layers = useSite((s) => s.shown?.layers);
  const strews = useSite((s) => s.shown?.strews);
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
