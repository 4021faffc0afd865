/** The colour image over the whole ground: to be looked at, or to colour layers. */

import { ChooseFile } from "../../parts/choose-file";
import { useState } from "react";
import * as api from "../../api/client";
import type { Recipe } from "../../generated/recipe";
import { useSite } from "../../state/site";
import { useGroundRoom } from "../../state/steps";

type Picture = Recipe["ground"]["picture"];

const withImage = (picture: Picture) => (recipe: Recipe) => ({ ...recipe, ground: { ...recipe.ground, picture } });

export function ImageChoice() {
  const picture = useSite((s) => s.shown?.ground.picture ?? null);
  const [busy, setBusy] = useState(false);
  const { keep, say } = useSite.getState();

  function bring(file: File) {
    setBusy(true);
    api
      .bringImage(file)
      .then(
        (found) => {
          keep("laid a colour image over the ground", withImage({ file: found.file, file_name: found.fileName }));
          useGroundRoom.setState({ measure: "image", radiusM: null });
        },
        (error: unknown) => say(error instanceof Error ? error.message : String(error)),
      )
      .finally(() => setBusy(false));
  }

  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <span>
        Colour image over it: <b>{picture ? picture.file_name : "none"}</b>
      </span>
      <ChooseFile label="Colour image" accept=".png,.jpg,.jpeg,.tif,.tiff,.webp" disabled={busy} onFile={bring}>
        {busy ? "Reading…" : picture ? "Another image" : "Choose an image"}
      </ChooseFile>
      {picture && (
        <button
          type="button"
          className="key"
          onClick={() => {
            keep("took the colour image off", withImage(null));
            useGroundRoom.setState({ measure: null });
          }}
        >
          Take it off
        </button>
      )}
      {picture && (
        <span className="text-quiet">
          Layers take their colour from it by “Ground image” under Look in the Cover room.
        </span>
      )}
    </div>
  );
}
