/** The measures that can be asked for: of the ground always, of water where some stands on the site. */

import { CATALOGUE } from "../generated/catalogue";
import { useSite } from "./site";

const ALL = CATALOGUE.measures;

/** What steps can ask for: water stands on the ground that they make, not on the one that they read. */
export const GROUND_MEASURES = ALL.filter((one) => !one.ofWater);

export function useMeasures() {
  const water = useSite((s) => s.shown?.water.on ?? false);
  return water ? ALL : GROUND_MEASURES;
}
