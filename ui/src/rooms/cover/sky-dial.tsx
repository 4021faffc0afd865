/** The sky seen from below: drag the sun to its bearing and height in one gesture. */

import { numberOf } from "../../state/numbers";
import type { Light, Recipe } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { SunDial } from "../../parts/sun-dial";
import { useSite } from "../../state/site";

const GRAZING_DEG = 7;
let wasHigh = 34;

/** Grazing light in one press, since that is how relief and wear are judged; pressed again, the sun as it was. */
export function graze(): void {
  const { shown, keep } = useSite.getState();
  if (!shown) return;
  const height = shown.light.sun_height_deg;
  if (height <= GRAZING_DEG) {
    keep("set the sun as it was", withLight({ sun_height_deg: wasHigh }));
    return;
  }
  wasHigh = height;
  keep("set grazing light", withLight({ sun_height_deg: GRAZING_DEG }));
}

function withLight(change: Partial<Light>): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, light: { ...recipe.light, ...change } });
}

export function SkyDial() {
  const light = useSite((s) => s.shown?.light);
  const { preview, keep, drop } = useSite.getState();
  if (!light) return null;

  return (
    <div className="flex flex-col items-end gap-1">
      <SunDial
        bearingDeg={light.sun_bearing_deg}
        heightDeg={light.sun_height_deg}
        onMove={(sun_bearing_deg, sun_height_deg) => preview(withLight({ sun_bearing_deg, sun_height_deg }))}
        onKeep={() => keep("moved the sun")}
        onDrop={drop}
      />
      <Panel
        title="Light"
        width={236}
        trigger={
          <button type="button" className="figures bg-raised/95 px-2 py-[2px] text-xs font-medium">
            Light {shown(light.sun_height_deg, 0)}°
          </button>
        }
      >
        <div className="grid grid-cols-[1fr_auto] gap-y-2">
          <LightNumber field="sun_bearing_deg" />
          <LightNumber field="sun_height_deg" />
          <LightNumber field="sky" />
          <LightNumber field="exposure_ev" />
          <LightNumber field="mist" />
        </div>
      </Panel>
      <button
        type="button"
        className="figures bg-raised/95 px-2 py-[2px] text-xs font-medium"
        aria-pressed={light.sun_height_deg <= GRAZING_DEG}
        title={`Sun ${GRAZING_DEG}° high, as wear and relief are judged; again for the sun as it was (G)`}
        onClick={graze}
      >
        Grazing
      </button>
    </div>
  );
}

function LightNumber({ field }: { field: keyof Light }) {
  const { label, unit, least, most, step, digits } = numberOf("Light", field);
  const value = useSite((s) => s.shown?.light[field] ?? 0);
  const { preview, keep, drop } = useSite.getState();
  return (
    <>
      <span>{label}</span>
      <Num
        label={label}
        value={value}
        unit={unit}
        least={least}
        most={most}
        step={step}
        digits={digits}
        onMove={(next) => preview(withLight({ [field]: next }))}
        onKeep={(next) => keep(`set ${label.toLowerCase()}`, withLight({ [field]: next }))}
        onDrop={drop}
      />
    </>
  );
}
