import { useEffect } from "react";
import * as api from "../../api/client";
import { useReady } from "../../state/ground";
import { useSite } from "../../state/site";
import { useSelectedStep } from "../../state/steps";
import { useStill } from "../../state/still";

/** A hand that lies on a step for so long may be about to move it. */
const LYING_MS = 250;

/** While the hand is still, has what comes before the selected step shaped: its edits then rest sooner. */
export function useStepReady(): void {
  const step = useSelectedStep()?.id;
  const ready = useReady();
  const still = useStill();
  useEffect(() => {
    const { shown } = useSite.getState();
    if (!step || !ready || !still || !shown) return;
    const stop = new AbortController();
    // nobody waits for it: what it made stays made, whatever becomes of the question
    const timer = setTimeout(() => void api.readyStep(shown, step, stop.signal).catch(() => undefined), LYING_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [step, ready, still]);
}
