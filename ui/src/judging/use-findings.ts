/** What is odd about the open site, asked when all is still. */

import { create } from "zustand";
import { useMemo } from "react";
import * as api from "../api/judging";
import { useLatest } from "../parts/use-latest";
import { useReady } from "../state/ground";
import { useSite } from "../state/site";
import { useWhileStill } from "../state/still";

/** Which finding is shown on the pictures, and whether dear ones are wanted. */
export const useJudging = create<{ shown: { east: number; north: number; title: string } | null; dear: boolean }>()(
  () => ({ shown: null, dear: false }),
);

export interface FindingsKnown {
  findings: readonly api.Finding[];
  open: number;
  current: boolean;
  trouble: string | null;
}

export function useFindings(): FindingsKnown {
  const recipe = useSite((s) => s.state?.recipe ?? null);
  const title = useSite((s) => s.state?.title ?? "");
  const ready = useReady();
  const dear = useJudging((s) => s.dear);
  const key = useMemo(() => (ready && recipe ? JSON.stringify([recipe, dear]) : null), [ready, recipe, dear]);
  const asked = useWhileStill(key);
  const { value, current, trouble } = useLatest(asked, () => {
    if (!recipe) throw new Error("the site was closed");
    return api.findings(title, recipe, dear);
  });
  return useMemo(() => {
    const findings = value?.findings ?? [];
    const open = findings.filter((one) => one.waved === null).length;
    return { findings, open, current: current && asked === key, trouble };
  }, [value, current, asked, key, trouble]);
}
