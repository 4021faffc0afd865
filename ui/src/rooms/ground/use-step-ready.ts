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
    // nobody waits for it: it goes on behind a hand that moves, until another step is to be made ready
    const timer = setTimeout(() => void api.readyStep(shown, step).catch(() => undefined), LYING_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [step, ready, still]);
}
