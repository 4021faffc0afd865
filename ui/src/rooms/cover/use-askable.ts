import * as api from "../../api/client";
import type { Layer } from "../../generated/recipe";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";

const NONE: Layer[] = [];

/** The layers that each layer's rule asks for: what answers depend on, and no number of a clause. */
function asks(layers: readonly Layer[]): string {
  return JSON.stringify(
    layers.map((one) => [
      one.id,
      one.rule.clauses
        .flatMap((clause) => (clause.kind === "bracket" ? clause.clauses : [clause]))
        .flatMap((clause) => (clause.kind === "layer" ? [clause.layer] : [])),
    ]),
  );
}

/** Layers whose presence a layer or wear may ask for without asking for itself in the end. */
export function useAskable(of: string): Layer[] {
  const layers = useSite((s) => s.shown?.layers);
  const { value } = useLatest<string[]>(layers ? `${of} ${asks(layers)}` : null, () => {
    const recipe = useSite.getState().shown;
    return recipe ? api.askable(recipe, of) : Promise.resolve([]);
  });
  return layers?.filter((one) => value?.includes(one.id)) ?? NONE;
}
