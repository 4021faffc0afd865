/** The bench of the Things room: of a strew, of a thing that was set, or of a layer that lies on one. */

import { useSite } from "../../state/site";
import { BackToThing, LayerOnThing } from "./set/layer-on-thing";
import { WearBench } from "../cover/wear/wear-bench";
import { SetBench } from "./set/set-bench";
import { thingOf } from "./set/set-things";
import { StrewBench } from "./strew-bench";
import type { StrewsKnown } from "./use-strew-facts";

export function ThingsBench({ facts }: { facts: StrewsKnown }) {
  const one = useSite((s) => s.shown?.set_things.find((other) => other.id === s.selected));
  const thing = useSite((s) => thingOf(s.shown, s.selected));
  const layer = useSite((s) => thing?.cover.layers.find((other) => other.id === s.selected));
  const wear = useSite((s) => thing?.cover.wears.find((other) => other.id === s.selected));
  if (one) return <SetBench key={one.id} one={one} />;
  if (thing && layer) return <LayerOnThing key={layer.id} thing={thing} layer={layer} />;
  if (thing && wear) return <WearBench key={wear.id} wear={wear} on={thing} back={<BackToThing thing={thing} />} />;
  return <StrewBench facts={facts} />;
}
