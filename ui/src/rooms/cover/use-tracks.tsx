/** Tracks for the numbers of a layer's parts: each shows its effect while it moves, and is one change when it rests. */

import type { Layer } from "../../generated/recipe";
import { Track } from "../../parts/track";
import { inLayer, useSite } from "../../state/site";

export interface PartTrack<K extends string> {
  field: K;
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  usual: number;
  digits?: number;
  decades?: boolean;
  hint?: string;
  perPixel?: number;
}

/** A track for one number of a layer's part; what it does is named in the history. */
export function useTracks<P extends "fit" | "look" | "edge">(layer: Layer, part: P) {
  const { preview, keep, drop } = useSite.getState();
  return function track(of: PartTrack<string & keyof Layer[P]>) {
    const values = layer[part] as unknown as Record<string, number>;
    const change = (value: number) =>
      inLayer(layer.id, (one) => ({ ...one, [part]: { ...one[part], [of.field]: value } }));
    const { field, ...rest } = of;
    return (
      <Track
        key={field}
        {...rest}
        value={values[field] ?? 0}
        onMove={(value) => preview(change(value))}
        onKeep={(value) => keep(`${layer.name}: ${of.label.toLowerCase()}`, change(value))}
        onDrop={drop}
      />
    );
  };
}
