/** What figures and cuts depend on of the wear of a site. */

import { useMemo } from "react";
import type { Wear } from "../../../generated/recipe";
import { useStillSite } from "../../../state/site";
import { useWhileStill } from "../../../state/still";

type Does = (effects: Wear["effects"]) => boolean;

/** Wear that changes how high the ground is. */
export const movesGround: Does = ({ relief, worn_through }) => relief !== null || worn_through !== null;

/** Wear that changes which layer is seen. */
export const wearsThrough: Does = ({ worn_through }) => worn_through !== null;

export const anything: Does = () => true;

/**
 * A key that changes with the shown wear that does this. How its overlay is drawn counts only when
 * nothing moves: drawing it in full takes long, and pictures make do with a smaller one meanwhile.
 */
export function useWearKey(does: Does): string {
  const wears = useStillSite((s) => s.shown?.wears);
  const shown = useMemo(() => wears?.filter((one) => one.on && does(one.effects)) ?? [], [wears, does]);
  const sources = useWhileStill(useMemo(() => JSON.stringify(shown.map((one) => one.source)), [shown]));
  return useMemo(() => JSON.stringify([shown.map((one) => ({ ...one, source: null })), sources]), [shown, sources]);
}
