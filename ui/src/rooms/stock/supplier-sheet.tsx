/** The supplier that ships with Elvatch: made-up packs, drawn when they are fetched; no network. */

import { useEffect, useState } from "react";
import * as api from "../../api/stock";
import type { Pack } from "../../api/stock";
import { JobProgress } from "../../parts/job-progress";
import { useSite } from "../../state/site";
import { useStock } from "../../state/stock";
import { neededPx } from "./set-sheet";
import { metres } from "./wall";

export function SupplierSheet() {
  const { run, job, cancel, open, show, found } = useStock();
  const say = useSite((s) => s.say);
  const [text, setText] = useState("");
  const [category, setCategory] = useState("");
  const [packs, setPacks] = useState<Pack[] | null>(null);
  const [sizes, setSizes] = useState<number[]>([]);
  const [fetching, setFetching] = useState<string | null>(null);
  const busy = job?.state === "running";
  useEffect(() => {
    let gone = false;
    api.packs(text, category).then(
      (answer) => {
        if (gone) return;
        setPacks(answer.packs);
        setSizes(answer.sizes);
      },
      (error: unknown) => !gone && say(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      gone = true;
    };
  }, [text, category, say]);

  async function fetchPack(pack: Pack, px: number) {
    setFetching(pack.id);
    const done = await run(() => api.fetchPack(pack.id, px));
    setFetching(null);
    if (done) open({ proposal: done.result, into: null });
  }

  return (
    <section aria-label="Supplier" className="flex min-h-0 min-w-0 flex-col">
      <header className="flex items-center gap-3 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-semibold">Supplier</h1>
        <input
          type="search"
          className="field max-w-56"
          aria-label="Search the supplier"
          placeholder="Search packs"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <select
          className="field w-auto"
          aria-label="Category of packs"
          value={category}
          onChange={(event) => setCategory(event.target.value)}
        >
          <option value="">every category</option>
          {api.CATEGORIES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        <span className="text-quiet">
          Made up, and drawn here when fetched. Some packs are faulty: look at what the checks say.
        </span>
        <span className="flex-1" />
        <button type="button" className="key" onClick={() => show("wall")}>
          Back to the wall
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {packs?.length === 0 && (
          <p className="m-4 border border-dashed border-ink p-8 text-center text-base">
            No pack has these words. Try “scree”, “mud” or another category.
          </p>
        )}
        <ul aria-label="Packs" className="grid grid-cols-[repeat(auto-fill,minmax(430px,1fr))] gap-3 p-3">
          {packs?.map((pack) => {
            const needed = neededPx(pack.tileM, found?.finestPixelM ?? null);
            const enough = sizes.find((px) => needed !== null && px >= needed);
            return (
              <li key={pack.id} className="plate flex gap-3" data-pack={pack.id}>
                <img
                  src={api.packUrl(pack.id)}
                  alt=""
                  loading="lazy"
                  width={136}
                  height={136}
                  className="size-[136px] shrink-0 bg-booth"
                />
                <div className="min-w-0 flex-1 py-2 pr-3">
                  <h2 className="truncate text-base font-semibold">{pack.title}</h2>
                  <p className="truncate text-quiet">
                    {pack.about}. By {pack.maker}.
                  </p>
                  <p className="figures truncate text-xs text-quiet">
                    {pack.category} · {metres(pack.tileM)} per repeat ·{" "}
                    {pack.roles.map((role) => api.ROLE_TITLES[role]?.toLowerCase()).join(", ")}
                  </p>
                  {fetching === pack.id && job && busy ? (
                    <div className="mt-2 flex items-center gap-2">
                      <span className="flex-1">
                        <JobProgress job={job} doneText="" />
                      </span>
                      <button type="button" className="key" onClick={cancel}>
                        Cancel
                      </button>
                    </div>
                  ) : (
                    <div className="mt-2 flex flex-wrap gap-1.5">
                      {sizes.map((px) => (
                        <button
                          key={px}
                          type="button"
                          className={px === enough ? "key-strong" : "key"}
                          disabled={busy}
                          title={px === enough ? "the size the near stand of this site needs" : undefined}
                          aria-label={`Fetch ${pack.title} at ${px} px`}
                          onClick={() => void fetchPack(pack, px)}
                        >
                          {px} px{px === enough ? " (needed)" : ""}
                        </button>
                      ))}
                    </div>
                  )}
                </div>
              </li>
            );
          })}
        </ul>
      </div>
    </section>
  );
}
