import type { Fit, Layer } from "../../generated/recipe";
import { inLayer, useSite } from "../../state/site";

/** A change of a layer's fit, kept under a name. */
export function useFit(layer: Layer) {
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<Fit>) => inLayer(layer.id, (one) => ({ ...one, fit: { ...one.fit, ...part } }));
  return {
    show: (part: Partial<Fit>) => preview(change(part)),
    keep: (what: string, part: Partial<Fit>) => keep(`${layer.name}: ${what}`, change(part)),
    drop,
  };
}
