import * as api from "../../api/client";
import type { Layer } from "../../generated/recipe";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";

const NONE: Layer[] = [];

/** Layers whose presence a layer or wear may ask for without asking for itself in the end. */
export function useAskable(of: string): Layer[] {
  const layers = useSite((s) => s.shown?.layers);
  const { value } = useLatest<string[]>(JSON.stringify([of, layers?.map((one) => [one.id, one.rule])]), () => {
    const recipe = useSite.getState().shown;
    return recipe ? api.askable(recipe, of) : Promise.resolve([]);
  });
  return layers?.filter((one) => value?.includes(one.id)) ?? NONE;
}
