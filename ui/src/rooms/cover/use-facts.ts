import { useEffect, useMemo } from "react";
import { create } from "zustand";
import * as api from "../../api/client";
import type { CoverFacts } from "../../api/types";
import type { Layer, Recipe } from "../../generated/recipe";
import { useLatest } from "../../parts/use-latest";
import { useReady } from "../../state/ground";
import { useSite, useStillSite } from "../../state/site";
import { useWhileStill } from "../../state/still";
import { useTools } from "../../state/tools";
import { useWearKey, wearsThrough } from "./wear/wear-key";

/** What is known of one layer, by its id: the column may have been reordered since it was asked. */
export interface LayerFacts {
  share: number;
  reason: string | null;
  density: number;
  enough: number;
  emits: boolean;
}

export interface Facts {
  of: ReadonlyMap<string, LayerFacts>;
  /** Whether they are of what is shown, not of a little before. */
  current: boolean;
}

/** A layer without what moves its texture about: that changes no share that can be told. */
function placed(layer: Layer) {
  const { fit, ...rest } = layer;
  return { ...rest, fit: { ...fit, offset_east_m: 0, offset_north_m: 0, offset_up_m: 0, turn_deg: 0 } };
}

function byLayer(recipe: Recipe, found: CoverFacts): Facts["of"] {
  const of = recipe.layers.map((layer, k): [string, LayerFacts] => [
    layer.id,
    {
      share: found.shares[k] ?? 0,
      reason: found.reasons[k] ?? null,
      density: found.densities[k] ?? 0,
      enough: found.enough[k] ?? 0,
      emits: found.emits[k] ?? false,
    },
  ]);
  return new Map(of);
}

const useKnown = create<{ facts: Facts | null }>(() => ({ facts: null }));

/** Shares of the cover as shown, and why layers have none; the older ones stay until the newer are there. */
export const useFacts = (): Facts | null => useKnown((s) => s.facts);

/** What of a recipe the facts depend on, besides where Near stands. */
const DEPENDS = ["ground", "layers", "marks", "water", "wears"] as const;

/** Keeps the facts in step with the cover as shown; one for the room. */
export function useFactsWatch(): void {
  const recipe = useStillSite((s) => s.shown);
  const through = useWearKey(wearsThrough);
  const ready = useReady();
  const touched = useSite(
    ({ shown }) =>
      shown?.stands.near !== recipe?.stands.near || DEPENDS.some((part) => shown?.[part] !== recipe?.[part]),
  );
  const key = useMemo(() => {
    if (!ready || !recipe) return null;
    const { ground, layers, marks, water, stands } = recipe;
    return JSON.stringify([ground, layers.map(placed), through, marks, water, stands.near]);
  }, [ready, recipe, through]);
  const asked = useWhileStill(key);
  const { value, current } = useLatest<Facts["of"]>(asked, async () => {
    const recipe = useSite.getState().shown;
    if (!recipe) throw new Error("the site was closed");
    const found = await api.coverFacts(recipe);
    useTools.setState({ emits: found.emits.some(Boolean) });
    return byLayer(recipe, found);
  });
  const told = current && asked === key && !touched;
  useEffect(() => useKnown.setState({ facts: value && { of: value, current: told } }), [value, told]);
  useEffect(() => () => useKnown.setState({ facts: null }), []);
}
