/** Water that stands up to a level: where, how clear, its colour, its ripples, the wet band at its edge. */

import type { Water } from "../../../generated/recipe";
import { useShaping } from "../../../state/ground";
import { useSite } from "../../../state/site";
import { withWater } from "./edit-light";
import { ColourRow, LightNumber, ROWS } from "./light-numbers";

const FIELDS = ["level_m", "clarity_m", "ripple_m", "ripple_bearing_deg", "wet_m"] as const;

export function WaterPart({ water }: { water: Water }) {
  const { keep } = useSite.getState();
  const facts = useShaping((s) => s.facts);
  return (
    <>
      <label className="flex items-center gap-1.5 py-1">
        <input
          type="checkbox"
          className="accent-ink"
          checked={water.on}
          onChange={(event) => {
            const on = event.target.checked;
            const outside = facts && (water.level_m < facts.lowestM || water.level_m > facts.highestM);
            keep(on ? "water in" : "water out", withWater(on && outside ? { on, level_m: facts.waterM } : { on }));
          }}
        />
        Water stands on the site
      </label>
      {water.on && (
        <div className={ROWS}>
          {FIELDS.map((field) => (
            <LightNumber
              key={field}
              part="Water"
              field={field}
              value={water[field]}
              change={(value) => withWater({ [field]: value })}
            />
          ))}
          <ColourRow
            label="Water colour"
            hint="What white turns to over the way that clarity tells"
            value={water.colour}
            change={(colour) => withWater({ colour })}
          />
        </div>
      )}
      {water.on && (
        <p className="pb-2 text-xs text-quiet">
          Rules can ask for height above water and distance to water; the hand-off writes its mask and depth.
        </p>
      )}
    </>
  );
}
