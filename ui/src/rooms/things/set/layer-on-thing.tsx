/** The bench of a layer on a thing: where it lies there, how it fits, how it looks. */

import type { Layer, Thing } from "../../../generated/recipe";
import { Track } from "../../../parts/track";
import { numberOf } from "../../../state/numbers";
import { inLayer, useSite } from "../../../state/site";
import { LookPanel } from "../../cover/bench";
import { FitPanel } from "../../cover/fit-panel";
import { RuleSentence } from "../../cover/rule-sentence";

/** Leads from a part of a thing's cover to what is of that thing. */
export function BackToThing({ thing }: { thing: Thing }) {
  const back = useSite(
    (s) =>
      s.shown?.set_things.find((one) => one.thing === thing.id) ??
      s.shown?.strews.find((one) => one.kinds.some((kind) => kind.thing === thing.id)),
  );
  if (!back) return null;
  return (
    <button
      type="button"
      className="mr-3 font-normal normal-case underline"
      title="To the thing itself"
      onClick={() => useSite.getState().select(back.id)}
    >
      ‹ {back.name}
    </button>
  );
}

export function LayerOnThing({ thing, layer }: { thing: Thing; layer: Layer }) {
  const { preview, keep, drop } = useSite.getState();
  const opacity = (v: number) => inLayer(layer.id, (one) => ({ ...one, opacity: v }));
  return (
    <div className="grid h-[292px] grid-cols-[minmax(0,1fr)_256px_240px]">
      <section aria-label="Where" className="min-w-0 overflow-y-auto border-r border-rule px-3.5 py-2.5">
        <h2 className="heading mb-1">
          <BackToThing thing={thing} />
          Where · on {thing.name}
        </h2>
        <RuleSentence layer={layer} opacity={layer.opacity} first={false} />
        <div className="mt-2 max-w-[260px]">
          <Track
            {...numberOf("Layer", "opacity")}
            value={layer.opacity}
            onMove={(v) => preview(opacity(v))}
            onKeep={(v) => keep(`${layer.name}: opacity`, opacity(v))}
            onDrop={drop}
          />
        </div>
      </section>
      <FitPanel layer={layer} index={-1} facts={null} />
      <LookPanel layer={layer} emits={false} />
    </div>
  );
}
