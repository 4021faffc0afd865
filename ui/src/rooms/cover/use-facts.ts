import { useEffect, useRef, useState } from "react";
import * as api from "../../api/client";
import type { CoverFacts } from "../../api/types";
import type { Recipe } from "../../generated/recipe";
import { useReady } from "../../state/ground";
import { useSite } from "../../state/site";

/** What is known of one layer, by its id: the column may have been reordered since it was asked. */
export interface LayerFacts {
  share: number;
  reason: string | null;
  density: number;
}

export type Facts = Pick<CoverFacts, "gone"> & { of: ReadonlyMap<string, LayerFacts> };

function byLayer(recipe: Recipe, found: CoverFacts): Facts {
  const of = recipe.layers.map((layer, k): [string, LayerFacts] => [
    layer.id,
    { share: found.shares[k] ?? 0, reason: found.reasons[k] ?? null, density: found.densities[k] ?? 0 },
  ]);
  return { gone: found.gone, of: new Map(of) };
}

/** Shares and where-chart of the cover as shown; the older ones stay until the newer are there. */
export function useFacts(): Facts | null {
  const shown = useSite((s) => s.shown);
  const ground = shown?.ground;
  const layers = shown?.layers;
  const marks = shown?.marks;
  const ready = useReady();
  const [facts, setFacts] = useState<Facts | null>(null);
  const busy = useRef(false);
  const again = useRef(0);

  useEffect(() => {
    if (!ground || !layers || !ready) return;
    const stop = new AbortController();
    const ask = async () => {
      const recipe = useSite.getState().shown;
      if (!recipe || stop.signal.aborted) return;
      busy.current = true;
      try {
        const found = await api.coverFacts(recipe, stop.signal);
        setFacts(byLayer(recipe, found));
      } catch {
        // a newer request took its place, or the pictures say what is wrong
      } finally {
        busy.current = false;
      }
    };
    again.current = window.setTimeout(() => void ask(), 60);
    return () => {
      window.clearTimeout(again.current);
      if (!busy.current) stop.abort();
    };
  }, [ground, layers, marks, ready]);
  return facts;
}
