/** Lights kept under a name: used here, or looked at in turn with the site's own while a key is held. */

import { Trouble } from "../../../parts/trouble";
import { useEffect, useState } from "react";
import * as api from "../../../api/light";
import type { KeptLightLine } from "../../../api/light";
import type { Light, Recipe, Water } from "../../../generated/recipe";
import { useSite } from "../../../state/site";

/** A recipe under another light; its water keeps its level, and looks as kept. */
export function under(recipe: Recipe, light: Light, water: Water): Recipe {
  const { on, level_m } = recipe.water;
  return { ...recipe, light, water: { ...water, on, level_m } };
}

export function KeptLights() {
  const [all, setAll] = useState<KeptLightLine[] | null>(null);
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const other = useSite((s) => s.otherLight);
  const { keep } = useSite.getState();
  const failed = (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error));
  useEffect(() => {
    let gone = false;
    api.keptLights().then((found) => !gone && setAll(found), failed);
    return () => {
      gone = true;
    };
  }, []);

  function take() {
    const { shown } = useSite.getState();
    const called = name.trim() || `Light ${(all?.length ?? 0) + 1}`;
    if (!shown) return;
    api
      .keepLight(called, shown.light, shown.water)
      .then(api.keptLights)
      .then((found) => {
        setAll(found);
        setName("");
        setTrouble(null);
      }, failed);
  }

  return (
    <div className="py-1.5">
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Name of the light"
          placeholder={`Light ${(all?.length ?? 0) + 1}`}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <button type="submit" className="key" title="Keeps sun, sky, air, mist and the look of water, for any site">
          Keep this light
        </button>
      </form>
      <Trouble says={trouble} className="mt-1.5 text-warn" />
      {all?.length === 0 && <p className="mt-1.5 text-xs text-quiet">None kept yet.</p>}
      <ul className="mt-1.5 grid gap-1">
        {all?.map(({ id, kept }) => (
          <li key={id} className="border border-rule p-1.5">
            <b className="block truncate">{kept.name}</b>
            <div className="mt-1 flex gap-1">
              <button
                type="button"
                className="key"
                onClick={() => keep(`light: ${kept.name}`, (recipe) => under(recipe, kept.light, kept.water))}
              >
                Use it here
              </button>
              <button
                type="button"
                className="key"
                aria-pressed={other?.id === id}
                title="Then hold O to see the site in it"
                onClick={() => useSite.setState({ otherLight: other?.id === id ? null : { id, ...kept } })}
              >
                {other?.id === id ? "In turn (O)" : "In turn"}
              </button>
              <button
                type="button"
                className="key"
                aria-label={`Let ${kept.name} go`}
                onClick={() => void api.dropLight(id).then(api.keptLights).then(setAll, failed)}
              >
                Let go
              </button>
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}
