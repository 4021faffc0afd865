/** The sun by its angles or by latitude, date and hour; the sky; the air and a mist in it; what lies beyond. */

import * as api from "../../../api/light";
import type { Light, When } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { numberOf } from "../../../state/numbers";
import { useShaping } from "../../../state/ground";
import { useSite } from "../../../state/site";
import { Num, shown } from "../../../parts/number";
import { withLight, withMist, withSun } from "./edit-light";
import { ColourRow, LightNumber, ROWS } from "./light-numbers";

const USUAL: When = { latitude_deg: 54, day: "2026-06-21", hour: 12 };

export function SunPart({ light }: { light: Light }) {
  return (
    <>
      <div className={ROWS}>
        <LightNumber
          part="Light"
          field="sun_bearing_deg"
          value={light.sun_bearing_deg}
          change={(value) => withSun({ sun_bearing_deg: value })}
        />
        <LightNumber
          part="Light"
          field="sun_height_deg"
          value={light.sun_height_deg}
          change={(value) => withSun({ sun_height_deg: value })}
        />
        <LightNumber part="Light" field="sun" value={light.sun} change={(value) => withLight({ sun: value })} />
        <LightNumber
          part="Light"
          field="sun_width_deg"
          value={light.sun_width_deg}
          change={(value) => withLight({ sun_width_deg: value })}
        />
      </div>
      <ByDate light={light} />
    </>
  );
}

/** The server says where the sun stands then; angles are what is kept. */
function ByDate({ light }: { light: Light }) {
  const { keep, underWay, say } = useSite.getState();
  const when = light.when ?? USUAL;
  function set(change: Partial<When>) {
    const next = { ...when, ...change };
    underWay(
      api.sunAt(next).then(
        (sun) =>
          keep("set the sun by its date", (recipe) =>
            withLight({
              when: next,
              sun_bearing_deg: sun.bearingDeg,
              sun_height_deg: Math.max(numberOf("Light", "sun_height_deg").least, sun.heightDeg),
            })(recipe),
          ),
        (error: unknown) => say(error instanceof Error ? error.message : String(error)),
      ),
    );
  }
  const row = (field: "latitude_deg" | "hour") => {
    const { label, unit, least, most, step, digits, hint } = numberOf("When", field);
    return (
      <>
        <span title={hint}>{label}</span>
        <span className="justify-self-end">
          <Num
            label={label}
            value={when[field]}
            unit={unit}
            least={least}
            most={most}
            step={step}
            digits={digits}
            onMove={() => undefined}
            onKeep={(value) => set({ [field]: value })}
            onDrop={() => undefined}
          />
        </span>
      </>
    );
  };
  return (
    <fieldset className="border-t border-rule pt-1.5">
      <legend className="sr-only">By latitude, date and hour</legend>
      <p className="mb-1 text-xs text-quiet">
        {light.when ? "Stands as it does at" : "Or as it stands at a latitude, date and hour:"}
      </p>
      <div className={ROWS}>
        {row("latitude_deg")}
        <label htmlFor="sun-day">Date</label>
        <input
          id="sun-day"
          type="date"
          className="field figures w-[128px] px-1"
          value={when.day}
          onChange={(event) => event.target.value && set({ day: event.target.value })}
          onKeyDown={(event) => event.stopPropagation()}
        />
        {row("hour")}
      </div>
    </fieldset>
  );
}

export function SkyPart({ light }: { light: Light }) {
  return (
    <div className={ROWS}>
      <LightNumber part="Light" field="sky" value={light.sky} change={(value) => withLight({ sky: value })} />
      <LightNumber
        part="Light"
        field="overcast"
        value={light.overcast}
        change={(value) => withLight({ overcast: value })}
      />
      <LightNumber
        part="Light"
        field="exposure_ev"
        value={light.exposure_ev}
        change={(value) => withLight({ exposure_ev: value })}
      />
    </div>
  );
}

/** How clear the air is: as told, or as the site's size asks. */
export function useVisibility(light: Light): number {
  const usual = useShaping((s) => s.facts?.visibilityKm);
  return light.visibility_km ?? usual ?? 60;
}

export function AirPart({ light }: { light: Light }) {
  const { keep } = useSite.getState();
  const visibility = useVisibility(light);
  return (
    <>
      <div className={ROWS}>
        <LightNumber
          part="Light"
          field="visibility_km"
          value={visibility}
          change={(value) => withLight({ visibility_km: value })}
        />
        <LightNumber
          part="Light"
          field="scale_height_m"
          value={light.scale_height_m}
          change={(value) => withLight({ scale_height_m: value })}
        />
      </div>
      {light.visibility_km === null ? (
        <p className="pb-2 text-xs text-quiet">As clear as the site's size asks.</p>
      ) : (
        <button
          type="button"
          className="key mb-2"
          onClick={() => keep("air as the site's size asks", withLight({ visibility_km: null }))}
        >
          As the site's size asks
        </button>
      )}
    </>
  );
}

export function MistPart({ light }: { light: Light }) {
  const { mist } = light;
  const { keep } = useSite.getState();
  const facts = useShaping((s) => s.facts);
  const lowest = facts?.lowestM ?? 0;
  const rise = facts ? facts.highestM - facts.lowestM : 10;
  return (
    <>
      <label className="flex items-center gap-1.5 py-1">
        <input
          type="checkbox"
          className="accent-ink"
          checked={mist.on}
          onChange={(event) => {
            const on = event.target.checked;
            // where it was never set it begins in the valleys of this ground
            const never = mist.top_m < lowest || mist.top_m > lowest + 2 * rise;
            const begin = never
              ? {
                  top_m: Number((lowest + 0.15 * rise).toPrecision(4)),
                  soft_m: Number(Math.max(0.1, 0.06 * rise).toPrecision(2)),
                  visibility_m: Number(Math.max(1, 2.5 * rise).toPrecision(2)),
                }
              : {};
            keep(on ? "mist in" : "mist out", withMist(on ? { on, ...begin } : { on }));
          }}
        />
        A mist lies in the valleys
      </label>
      {mist.on && (
        <div className={ROWS}>
          {(["top_m", "soft_m", "visibility_m"] as const).map((field) => (
            <LightNumber
              key={field}
              part="Mist"
              field={field}
              value={mist[field]}
              change={(value) => withMist({ [field]: value })}
            />
          ))}
          <ColourRow
            label="Mist colour"
            hint="White is lit by sun and sky alone"
            value={mist.colour}
            change={(colour) => withMist({ colour })}
          />
        </div>
      )}
    </>
  );
}

export function BeyondPart({ light }: { light: Light }) {
  const { keep } = useSite.getState();
  return (
    <div className="py-1.5">
      <Segments
        label="Beyond the edge"
        value={light.beyond}
        choices={[
          { value: "ground", label: "Ground goes on", hint: "The site's ground, mirrored and calmed, to the horizon" },
          { value: "block", label: "Cut block", hint: "The site alone, its sides cut" },
        ]}
        onChoose={(beyond) =>
          keep(beyond === "ground" ? "ground goes on beyond the edge" : "a cut block", withLight({ beyond }))
        }
      />
      <p className="mt-1.5 text-xs text-quiet">Of the pictures alone: it is never handed off.</p>
    </div>
  );
}

export const airTold = (visibilityKm: number) =>
  visibilityKm >= 10 ? `${shown(visibilityKm, 0)} km` : `${shown(visibilityKm, 1)} km`;
