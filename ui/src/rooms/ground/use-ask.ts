import { useMemo } from "react";
import type { GroundAsk } from "../../api/client";
import { isKnown, useReady, useShaping } from "../../state/ground";
import { useSite } from "../../state/site";

/** What the room's maps and charts ask about: the ground as shown, a preview of it until it is ready. */
export function useAsk(measure: string | null, radiusM: number | null): { ask: GroundAsk; key: string } | null {
  const ground = useSite((s) => s.shown?.ground);
  const ready = useReady();
  const known = useShaping(isKnown);
  return useMemo(() => {
    if (!ground || !known) return null;
    const ask = { ground, preview: !ready, measure, radius_m: radiusM };
    return { ask, key: JSON.stringify(ask) };
  }, [ground, ready, known, measure, radiusM]);
}
