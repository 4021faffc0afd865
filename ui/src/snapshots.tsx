/** Snapshots: named revisions of a site to compare with, and to go back to; what else it is compared with. */

import { Trouble } from "./parts/trouble";
import { useEffect, useState } from "react";
import * as api from "./api/wear";
import type { Snapshot } from "./api/wear";
import { asItWas, CompareWith } from "./judging/compare-with";
import { useBeside, WAYS } from "./judging/side-by-side";
import { Panel } from "./parts/panel";
import { Segments } from "./parts/segments";
import { useSite } from "./state/site";

export function Snapshots({ site }: { site: string }) {
  const [open, setOpen] = useState(false);
  const [all, setAll] = useState<Snapshot[] | null>(null);
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const compared = useSite((s) => s.compared);
  const way = useBeside((s) => s.way);
  const keeping = useSite((s) => s.keeping);
  const { compare, keep, kept } = useSite.getState();
  const failed = (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error));
  useEffect(() => {
    if (!open) return;
    let gone = false;
    api.snapshots(site).then((found) => {
      if (gone) return;
      setTrouble(null);
      setAll(found);
    }, failed);
    return () => {
      gone = true;
    };
  }, [open, site]);

  async function take() {
    try {
      await kept();
      setAll(await api.keepSnapshot(site, name.trim() || `Snapshot ${(all?.length ?? 0) + 1}`));
      setName("");
      setTrouble(null);
    } catch (error) {
      failed(error);
    }
  }
  async function open_(one: Snapshot, use: (recipe: Awaited<ReturnType<typeof api.snapshot>>) => void) {
    await api.snapshot(site, one.id).then(use, failed);
  }
  async function drop(one: Snapshot) {
    if (compared?.id === one.id) compare(null);
    await api.dropSnapshot(site, one.id).then(setAll, failed);
  }
  return (
    <Panel
      title="Snapshots"
      width={330}
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="key"
          title="Named states of this site: compare with one or with another site, go back to one"
        >
          {compared ? `Against ${compared.name}` : "Snapshots"}
        </button>
      }
    >
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          void take();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Name of the snapshot"
          placeholder={`Snapshot ${(all?.length ?? 0) + 1}`}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <button
          type="submit"
          className="key"
          disabled={keeping}
          title="Keeps the site as it stands now under this name"
        >
          Keep as it is
        </button>
      </form>
      <Trouble says={trouble} className="mt-1.5 text-warn" />
      {all?.length === 0 && (
        <p className="mt-2 text-quiet">
          None yet. Keep the site as it is, change it, and compare: hold C in the Cover room.
        </p>
      )}
      {compared && (
        <div className="mt-2">
          <Segments
            label="How it is compared"
            value={way}
            choices={WAYS}
            onChoose={(next) => useBeside.setState({ way: next })}
          />
        </div>
      )}
      <ul className="mt-2 grid gap-1.5">
        {all?.map((one) => (
          <li key={one.id} className="border border-rule p-1.5">
            <p className="flex justify-between gap-2">
              <b className="truncate">{one.name}</b>
              <span className="figures text-xs text-quiet">
                {one.madeAt.slice(0, 10)} {one.madeAt.slice(11, 16)}
              </span>
            </p>
            <div className="mt-1 flex gap-1">
              <button
                type="button"
                className="key"
                aria-pressed={compared?.id === one.id}
                title="Then hold C to see it from where you look"
                onClick={() =>
                  compared?.id === one.id
                    ? compare(null)
                    : void open_(one, (recipe) => compare(asItWas(one.id, one.name, recipe)))
                }
              >
                {compared?.id === one.id ? "Comparing" : "Compare"}
              </button>
              <button
                type="button"
                className="key"
                title="The site as it was then; Undo brings today's back"
                onClick={() => void open_(one, (recipe) => keep(`back to ${one.name}`, () => recipe))}
              >
                Go back to it
              </button>
              <button type="button" className="key" aria-label={`Take out ${one.name}`} onClick={() => void drop(one)}>
                Take out
              </button>
            </div>
          </li>
        ))}
      </ul>
      <CompareWith site={site} />
    </Panel>
  );
}
