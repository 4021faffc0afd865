/** Grounds that were kept: a site can begin on each. */

import { useEffect, useState } from "react";
import * as api from "../../api/packs";
import type { KeptGround } from "../../api/packs";
import { useSite } from "../../state/site";
import { sizeText } from "../../true-size";
import { openMade } from "./open-made";

export function KeptGrounds() {
  const [grounds, setGrounds] = useState<KeptGround[]>([]);
  const say = useSite((s) => s.say);
  useEffect(() => {
    api.keptGrounds().then(setGrounds, () => undefined);
  }, []);
  const wrong = (error: unknown) => say(error instanceof Error ? error.message : String(error));
  if (grounds.length === 0) return null;
  return (
    <section aria-label="Kept grounds" className="mb-5">
      <h2 className="heading mb-1">Kept grounds</h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-x-5">
        {grounds.map((one) => (
          <li key={one.id} className="flex items-center gap-2 border-b border-rule py-1">
            <span className="min-w-0 flex-1 truncate">
              <b className="font-semibold">{one.name}</b>{" "}
              <span className="figures text-quiet">
                {sizeText(one.widthM, one.depthM)}
                {one.steps > 0 && ` · ${one.steps} ${one.steps === 1 ? "step" : "steps"}`}
              </span>
            </span>
            <button
              type="button"
              className="key"
              aria-label={`Begin a site on ${one.name}`}
              onClick={() => openMade(api.siteOnGround(one.id, one.name), "cover", say)}
            >
              Begin a site
            </button>
            <button
              type="button"
              className="key"
              aria-label={`Forget the ground ${one.name}`}
              onClick={() => void api.forgetGround(one.id).then(setGrounds, wrong)}
            >
              Forget
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
