import { useMemo } from "react";
import type { GroundAsk } from "../../api/client";
import type { Ground } from "../../generated/recipe";
import { isKnown, nameOf, useReady, useShaping } from "../../state/ground";
import { useSite, useStillSite } from "../../state/site";

interface Asked {
  ask: GroundAsk;
  key: string;
}

/** What the room's maps and charts ask about: the ground as shown, a preview of it until it is ready. */
export function useAsk(measure: string | null, radiusM: number | null): Asked | null {
  return useAskOf(
    useSite((s) => s.shown?.ground),
    measure,
    radiusM,
  );
}

/** The same of the ground as it was when nothing moved. */
export function useStillAsk(measure: string | null, radiusM: number | null): Asked | null {
  return useAskOf(
    useStillSite((s) => s.shown?.ground),
    measure,
    radiusM,
  );
}

function useAskOf(ground: Ground | undefined, measure: string | null, radiusM: number | null): Asked | null {
  const ready = useReady();
  const known = useShaping(isKnown);
  return useMemo(() => {
    if (!ground || !known) return null;
    const ask = { ground, preview: !ready, measure, radius_m: radiusM };
    return { ask, key: JSON.stringify([nameOf(ground), !ready, measure, radiusM]) };
  }, [ground, ready, known, measure, radiusM]);
}
