import { useEffect, useRef, useState } from "react";
import * as api from "../../api/client";
import type { CoverFacts } from "../../api/types";
import { useSite } from "../../state/site";

/** Shares and where-chart of the cover as shown; the older ones stay until the newer are there. */
export function useFacts(): CoverFacts | null {
  const shown = useSite((s) => s.shown);
  const ground = shown?.ground;
  const layers = shown?.layers;
  const [facts, setFacts] = useState<CoverFacts | null>(null);
  const busy = useRef(false);
  const again = useRef(0);

  useEffect(() => {
    if (!ground || !layers) return;
    const stop = new AbortController();
    const ask = async () => {
      const recipe = useSite.getState().shown;
      if (!recipe || stop.signal.aborted) return;
      busy.current = true;
      try {
        const found = await api.coverFacts(recipe, stop.signal);
        setFacts(found);
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
  }, [ground, layers]);
  return facts;
}
