/** What a site is compared with beside its snapshots: what was before the last edit, a kept light, another site. */

import { Trouble } from "../parts/trouble";
import { useState } from "react";
import * as client from "../api/client";
import * as light from "../api/light";
import type { Recipe, Stand } from "../generated/recipe";
import { useLatest } from "../parts/use-latest";
import { useSite, type Compared } from "../state/site";
import { under } from "../rooms/cover/light/kept-lights";

/** An earlier state of the same site, by today's light, from where one looks now. */
export function asItWas(id: string, name: string, recipe: Recipe): Compared {
  return { id, name, seen: ({ stands, peg, light }) => ({ ...recipe, stands, peg, light }) };
}

/** Another site from its own stands, by this site's light; Mid and Near from as far away as here, to the same scale. */
function otherSite(id: string, name: string, recipe: Recipe): Compared {
  const as = (of: Stand, { distance_m, view_deg }: Stand) => ({ ...of, distance_m, view_deg });
  const { far, mid, near } = recipe.stands;
  return {
    id,
    name,
    seen: ({ stands, light }) => ({
      ...recipe,
      light,
      stands: { far, mid: as(mid, stands.mid), near: as(near, stands.near) },
    }),
  };
}

/** What was before the last edit, in its own light: the edit may have been of that. */
function before(recipe: Recipe): Compared {
  return { id: "before", name: "before the edit", seen: ({ stands, peg }) => ({ ...recipe, stands, peg }) };
}

interface Choice {
  id: string;
  name: string;
  take: () => Promise<Compared>;
}

/** Kept lights, and all sites but one. */
async function othersThan(site: string): Promise<Choice[]> {
  const [lights, sites] = await Promise.all([light.keptLights(), client.sites()]);
  return [
    ...lights.map(({ id, kept: { name, light, water } }) => ({
      id,
      name,
      take: () => Promise.resolve({ id, name, seen: (now: Recipe) => under(now, light, water) }),
    })),
    ...sites
      .filter((one) => one.id !== site)
      .map(({ id, title }) => ({
        id,
        name: title,
        take: async () => otherSite(id, title, (await client.site(id)).recipe),
      })),
  ];
}

export function CompareWith({ site }: { site: string }) {
  const compared = useSite((s) => s.compared);
  const earlier = useSite((s) => s.before);
  const { compare } = useSite.getState();
  const { value: choices, trouble } = useLatest(site, () => othersThan(site));
  const [failed, setFailed] = useState<string | null>(null);
  const all: Choice[] = [
    ...(earlier ? [{ id: "before", name: "before the last edit", take: () => Promise.resolve(before(earlier)) }] : []),
    ...(choices ?? []),
  ];
  const toggle = (one: Choice) => {
    if (compared?.id === one.id) compare(null);
    else
      one.take().then(
        (taken) => {
          setFailed(null);
          compare(taken);
        },
        (error: unknown) => setFailed(error instanceof Error ? error.message : String(error)),
      );
  };
  return (
    <section aria-label="Compare with" className="mt-2 border-t border-rule pt-1.5">
      <h4 className="mb-1 text-quiet">Compare with a kept light, or with another site from its own stands</h4>
      <Trouble says={trouble ?? failed} className="mb-1 text-warn" />
      <div className="flex max-h-[150px] flex-wrap gap-1 overflow-y-auto">
        {all.map((one) => (
          <button
            key={one.id}
            type="button"
            className="key max-w-full truncate"
            aria-pressed={compared?.id === one.id}
            onClick={() => toggle(one)}
          >
            {one.name}
          </button>
        ))}
      </div>
    </section>
  );
}
