/** The sky seen from below: drag the sun to its bearing and height in one gesture; all of the light behind a button. */

import { useState } from "react";
import type { Light } from "../../../generated/recipe";
import { takesFile } from "../../../parts/choose-file";
import { Folds } from "../../../parts/folds";
import { shown } from "../../../parts/number";
import { ReferencesButton } from "../../../judging/references";
import { Panel } from "../../../parts/panel";
import { SunDial } from "../../../parts/sun-dial";
import { useSite } from "../../../state/site";
import { withImage, withLight } from "./edit-light";
import { ImagePart, lightBy } from "./image-part";
import { KeptLights } from "./kept-lights";
import { bringPanorama } from "../../../api/light";
import { StillsPanel } from "./stills-panel";
import { AirPart, BeyondPart, MistPart, SkyPart, SunPart, airTold, useVisibility } from "./sun-parts";
import { WaterPart } from "./water-part";

const GRAZING_DEG = 7;
const SMALL = "figures bg-raised/95 px-2 py-[2px] text-xs font-medium";
let wasHigh = 34;

/** Grazing light in one press, since that is how relief and wear are judged; pressed again, the sun as it was. */
export function graze(): void {
  const { shown, keep } = useSite.getState();
  if (!shown) return;
  const height = shown.light.sun_height_deg;
  if (height <= GRAZING_DEG) {
    keep("set the sun as it was", withLight({ sun_height_deg: wasHigh, when: null }));
    return;
  }
  wasHigh = height;
  keep("set grazing light", withLight({ sun_height_deg: GRAZING_DEG, when: null }));
}

export function SkyDial() {
  const light = useSite((s) => s.shown?.light);
  const { preview, keep, drop, say } = useSite.getState();
  if (!light) return null;

  return (
    <div
      className="flex flex-col items-end gap-1"
      {...takesFile((file) =>
        lightBy(bringPanorama(file), (text) => {
          if (text) say(text);
        }),
      )}
    >
      {light.image ? (
        <SunDial
          what="Panorama"
          bearingDeg={light.image.turn_deg}
          heightDeg={45}
          onMove={(turn_deg) => preview(withImage({ turn_deg }))}
          onKeep={() => keep("turned the panorama")}
          onDrop={drop}
        />
      ) : (
        <SunDial
          what="Sun"
          bearingDeg={light.sun_bearing_deg}
          heightDeg={light.sun_height_deg}
          onMove={(sun_bearing_deg, sun_height_deg) =>
            preview(withLight({ sun_bearing_deg, sun_height_deg, when: null }))
          }
          onKeep={() => keep("moved the sun")}
          onDrop={drop}
        />
      )}
      <Panel
        title="Light, air, water"
        guide="light"
        width={300}
        trigger={
          <button type="button" className={SMALL}>
            {light.image ? "Light" : `Light ${shown(light.sun_height_deg, 0)}°`}
          </button>
        }
      >
        <LightParts light={light} />
      </Panel>
      <button
        type="button"
        className={SMALL}
        aria-pressed={light.sun_height_deg <= GRAZING_DEG}
        title={`Sun ${GRAZING_DEG}° high, as wear and relief are judged; again for the sun as it was (G)`}
        onClick={graze}
      >
        Grazing
      </button>
      <Panel
        title="Shots and stills"
        guide="light#shots-and-stills"
        width={330}
        side="right"
        trigger={
          <button type="button" className={SMALL} title="Views to come back to, and pictures to keep">
            Stills
          </button>
        }
      >
        <StillsPanel />
      </Panel>
      <ReferencesButton className={SMALL} />
    </div>
  );
}

function LightParts({ light }: { light: Light }) {
  const water = useSite((s) => s.shown?.water);
  const [open, setOpen] = useState("sun");
  const visibility = useVisibility(light);
  if (!water) return null;
  return (
    <Folds
      open={open}
      onOpen={setOpen}
      folds={[
        {
          name: "sun",
          title: "Sun",
          told: light.image
            ? "the panorama's"
            : `${shown(light.sun_bearing_deg, 0)}°, ${shown(light.sun_height_deg, 0)}° high`,
          inside: <SunPart light={light} />,
        },
        {
          name: "image",
          title: "Panorama",
          told: light.image ? light.image.file_name : "none",
          inside: <ImagePart light={light} />,
        },
        {
          name: "sky",
          title: "Sky",
          told: light.overcast > 0 ? `${shown(light.overcast * 100, 0)}% cloud` : "clear",
          inside: <SkyPart light={light} />,
        },
        { name: "air", title: "Air", told: airTold(visibility), inside: <AirPart light={light} /> },
        {
          name: "mist",
          title: "Mist",
          told: light.mist.on ? `up to ${shown(light.mist.top_m, 0)} m` : "none",
          inside: <MistPart light={light} />,
        },
        {
          name: "water",
          title: "Water",
          told: water.on ? `at ${shown(water.level_m, 2)} m` : "none",
          inside: <WaterPart water={water} />,
        },
        {
          name: "beyond",
          title: "Beyond the edge",
          told: light.beyond === "ground" ? "ground goes on" : "cut block",
          inside: <BeyondPart light={light} />,
        },
        { name: "kept", title: "Kept lights", told: "", inside: <KeptLights /> },
      ]}
    />
  );
}
