/** What can be laid as wear: kinds that are drawn, overlays of the stock, and what was kept. */

import { Trouble } from "../../../parts/trouble";
import { newId } from "../../../parts/new-id";
import { useEffect, useState } from "react";
import * as stock from "../../../api/stock";
import type { SetLine } from "../../../api/stock";
import * as api from "../../../api/wear";
import type { KeptWear, WearKind } from "../../../api/wear";
import { Panel } from "../../../parts/panel";
import type { Thing } from "../../../generated/recipe";
import { inThing, useSite } from "../../../state/site";

const FOLLOWS: Record<WearKind["follows"], string> = {
  ground: "",
  downhill: "runs downhill",
  levels: "along levels",
  path: "along a path",
};

interface Offer {
  kinds: WearKind[];
  sets: SetLine[];
  kept: KeptWear[];
}

/** An overlay is a mask, or is filed as one. */
const isOverlay = (set: SetLine) => set.category === "overlay" || set.roles.includes("mask");

/** A thing that wear is laid on, and how large the one is that is looked at. */
interface OnThing {
  thing: Thing;
  sizeM: number;
}

export function AddWear({ on }: { on?: OnThing }) {
  const [open, setOpen] = useState(false);
  const [offer, setOffer] = useState<Offer | null>(null);
  const [others, setOthers] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { keep, select } = useSite.getState();
  useEffect(() => {
    if (!open) return;
    let gone = false;
    Promise.all([api.kinds(), stock.sets(), api.kept()]).then(
      ([kinds, sets, kept]) => {
        if (gone) return;
        setTrouble(null);
        setOffer({ kinds, sets, kept });
      },
      (error: unknown) => setTrouble(String(error)),
    );
    return () => {
      gone = true;
    };
  }, [open]);

  async function lay(of: "kind" | "set" | "kept", name: string) {
    const recipe = useSite.getState().shown;
    if (!recipe) return;
    try {
      const wear = await api.begin(recipe, newId(), of, name, on?.sizeM);
      setOpen(false);
      keep(`laid ${wear.name}`, (one) =>
        on
          ? inThing(on.thing.id, ({ cover, ...thing }) => ({
              ...thing,
              cover: { ...cover, wears: [...cover.wears, wear] },
            }))(one)
          : { ...one, wears: [...one.wears, wear] },
      );
      select(wear.id);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  }
  async function forget(id: string) {
    await api.forget(id).then(
      () => setOffer((now) => now && { ...now, kept: now.kept.filter((one) => one.id !== id) }),
      (error: unknown) => setTrouble(String(error)),
    );
  }
  // what follows a path has none to follow on a thing
  const kinds = offer?.kinds.filter((kind) => !on || kind.follows !== "path") ?? [];
  const sets = offer?.sets.filter((set) => isOverlay(set) !== others) ?? [];
  return (
    <Panel
      title={on ? `Wear to lay on ${on.thing.name}` : "Wear to lay over the layers"}
      width={436}
      side="right"
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="key"
          title="Smears, runs, scratches, tracks, crusts: laid over the layers, timid at first"
        >
          Lay wear
        </button>
      }
    >
      <Trouble says={trouble} className="mb-2 text-warn" />
      <div className="grid grid-cols-4 gap-1.5">
        {kinds.map((kind) => (
          <button
            key={kind.what}
            type="button"
            className="flex flex-col border border-rule text-left hover:border-ink"
            title={kind.about}
            onClick={() => void lay("kind", kind.what)}
          >
            <img
              src={api.kindUrl(kind.what)}
              alt=""
              loading="lazy"
              draggable={false}
              className={`h-[52px] w-full bg-ink ${kind.follows === "path" ? "object-fill" : "object-cover"}`}
            />
            <span className="block px-1 pt-0.5 text-xs leading-[15px] font-semibold">{kind.title}</span>
            <span className="block px-1 pb-0.5 text-[11px] text-quiet">{FOLLOWS[kind.follows]}</span>
          </button>
        ))}
      </div>
      <div className="mt-3 mb-1 flex items-baseline justify-between">
        <h4 className="text-quiet">{others ? "Brightness of any set" : "Overlays of the stock"}</h4>
        <button type="button" className="text-xs underline" aria-pressed={others} onClick={() => setOthers(!others)}>
          {others ? "only overlays" : "other sets too"}
        </button>
      </div>
      {offer && sets.length === 0 && (
        <p className="text-xs">
          No overlay in the stock yet. Bring one in there: a single grey image of 8 or 16 bits, or of floats; it is
          never decoded as colour.
        </p>
      )}
      <div className="grid grid-cols-4 gap-1.5">
        {sets.map((set) => (
          <button
            key={set.name}
            type="button"
            className="border border-rule text-left hover:border-ink"
            onClick={() => void lay("set", set.name)}
          >
            <img
              src={stock.swatchUrl(set.name, set.content)}
              alt=""
              loading="lazy"
              draggable={false}
              className="h-[52px] w-full object-cover"
            />
            <span className="block truncate px-1 py-0.5 text-xs font-semibold">{set.title}</span>
          </button>
        ))}
      </div>
      {offer && offer.kept.length > 0 && (
        <>
          <h4 className="mt-3 mb-1 text-quiet">Kept wear</h4>
          {offer.kept.map((one) => (
            <div key={one.id} className="mb-1 flex gap-1">
              <button type="button" className="key flex-1 truncate text-left" onClick={() => void lay("kept", one.id)}>
                {one.name}
              </button>
              <button
                type="button"
                className="key"
                aria-label={`Forget ${one.name}`}
                onClick={() => void forget(one.id)}
              >
                Forget
              </button>
            </div>
          ))}
        </>
      )}
    </Panel>
  );
}
