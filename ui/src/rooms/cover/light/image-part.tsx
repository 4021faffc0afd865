/** A panorama that lights in place of the sky: dropped, chosen, or one of three that are drawn by code. */

import { Trouble } from "../../../parts/trouble";
import { ChooseFile } from "../../../parts/choose-file";
import { useState } from "react";
import * as api from "../../../api/light";
import { CATALOGUE } from "../../../generated/catalogue";
import type { Light } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { useSite } from "../../../state/site";
import { withImage, withLight } from "./edit-light";
import { LightNumber, ROWS } from "./light-numbers";

/** Light the site by a panorama that the server has just taken; what was mended in it is said. */
export function lightBy(bringing: Promise<api.PanoramaFacts>, told: (text: string) => void): void {
  const { keep, underWay } = useSite.getState();
  underWay(
    bringing.then(
      (found) => {
        keep(`lit by ${found.fileName}`, (recipe) =>
          withLight({
            image: {
              file: found.file,
              file_name: found.fileName,
              turn_deg: recipe.light.image?.turn_deg ?? 200,
              shows: recipe.light.image?.shows ?? "sharp",
            },
          })(recipe),
        );
        told([...found.notes, found.hasSun ? "" : "No sun stands out in it: nothing casts."].filter(Boolean).join(" "));
      },
      (error: unknown) => told(error instanceof Error ? error.message : String(error)),
    ),
  );
}

export function ImagePart({ light }: { light: Light }) {
  const [told, setTold] = useState("");
  const { keep } = useSite.getState();
  const { image } = light;
  return (
    <div className="py-1.5">
      {image ? (
        <>
          <p className="truncate font-medium" title={image.file_name}>
            {image.file_name}
          </p>
          <div className={ROWS}>
            <LightNumber
              part="ImageLight"
              field="turn_deg"
              value={image.turn_deg}
              change={(turn_deg) => withImage({ turn_deg })}
            />
          </div>
          <Segments
            label="Seen behind the ground"
            value={image.shows}
            choices={[
              { value: "sharp", label: "Sharp" },
              { value: "blurred", label: "Blurred" },
              { value: "no", label: "Not seen", hint: "It only lights" },
            ]}
            onChoose={(shows) => keep(`panorama ${shows}`, withImage({ shows }))}
          />
          <button
            type="button"
            className="key mt-2"
            onClick={() => keep("took the panorama out", withLight({ image: null }))}
          >
            Take it out
          </button>
        </>
      ) : (
        <p className="text-xs text-quiet">Drop a panorama on the dial (.hdr or .exr, twice as wide as high), or:</p>
      )}
      <div className="mt-2 flex flex-wrap gap-1">
        <ChooseFile label="Panorama" accept=".hdr,.exr" onFile={(file) => lightBy(api.bringPanorama(file), setTold)}>
          Choose a file
        </ChooseFile>
        {CATALOGUE.drawnSkies.map(({ kind, title }) => (
          <button key={kind} type="button" className="key" onClick={() => lightBy(api.drawPanorama(kind), setTold)}>
            {title}
          </button>
        ))}
      </div>
      <Trouble says={told} className="mt-1.5 text-xs text-warn" />
    </div>
  );
}
