/** The strip of controls for the selected layer: where it lies, how it fits, how it looks. */

import type { Edge, Fit, Layer } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { inLayer, useSite } from "../../state/site";
import { RuleSentence } from "./rule-sentence";
import { WhereChart } from "./where-chart";
import type { Facts } from "./use-facts";

export function Bench({ facts }: { facts: Facts | null }) {
  const layer = useSite((s) => s.shown?.layers.find((one) => one.id === s.selected));
  const index = useSite((s) => s.shown?.layers.findIndex((one) => one.id === s.selected) ?? -1);
  if (!layer) {
    return (
      <section className="h-[282px] px-4 py-3 text-quiet">
        Select a layer in the column, or lay one: its rule, fit and look are set here.
      </section>
    );
  }
  return (
    <div className="grid h-[282px] grid-cols-[minmax(0,1fr)_232px_240px]">
      <section aria-label="Where" className="grid min-w-0 grid-cols-[minmax(0,1fr)_236px] gap-4 overflow-hidden border-r border-rule px-3.5 py-2.5">
        <div className="min-w-0 overflow-y-auto">
          <h2 className="heading mb-1">Where · layer {index + 1}</h2>
          <RuleSentence layer={layer} first={index === 0} />
        </div>
        <WhereChart layer={layer} />
      </section>
      <FitPanel layer={layer} density={facts?.of.get(layer.id)?.density ?? 0} />
      <LookPanel layer={layer} />
    </div>
  );
}

/** Texels a pixel of Near: fewer than the first look soft, more than the second are wasted. */
const TOO_COARSE = 0.6;
const TOO_FINE = 6;

interface PartTrack<K extends string> {
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
function useTracks<P extends "fit" | "look" | "edge">(layer: Layer, part: P) {
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

function FitPanel({ layer, density }: { layer: Layer; density: number }) {
  const track = useTracks<"fit">(layer, "fit");
  const mmPerPixel = useSite((s) => s.nearMmPerPixel);
  const fit: Fit = layer.fit;
  const shownDensity = mmPerPixel > 0 ? 1000 / mmPerPixel : 0;
  const verdict =
    density < shownDensity * TOO_COARSE ? "too coarse for Near" : density > shownDensity * TOO_FINE ? "finer than Near shows" : "enough for Near";
  return (
    <section aria-label="Fit" className="border-r border-rule px-3.5 py-2.5">
      <h2 className="heading mb-1">Fit</h2>
      {track({ field: "tile_m", label: "Tile", unit: "m", least: 0.05, most: 200, step: 0.05, usual: 2, digits: 2, decades: true, perPixel: 0.02, hint: "Metres per repeat, for all maps of the set" })}
      {track({ field: "turn_deg", label: "Turn", unit: "°", least: -180, most: 180, step: 1, usual: 0, hint: "Counter-clockwise seen from above" })}
      {track({ field: "offset_east_m", label: "East", unit: "m", least: -20, most: 20, step: 0.05, usual: 0, digits: 2, perPixel: 0.02, hint: "Offset eastwards" })}
      {track({ field: "offset_north_m", label: "North", unit: "m", least: -20, most: 20, step: 0.05, usual: 0, digits: 2, perPixel: 0.02, hint: "Offset northwards" })}
      {track({ field: "relief_m", label: "Relief", unit: "m", least: 0, most: Math.min(fit.tile_m, 5), step: 0.001, usual: 0.05, digits: 3, perPixel: 0.002, hint: "Metres from the lowest to the highest of its height" })}
      <p className="figures mt-1 text-quiet">
        {density > 0 && shownDensity > 0 ? `${shown(density, 0)} px/m · ${verdict}` : "measuring…"}
      </p>
      <p className="mt-1 text-xs text-quiet">Projected from above.</p>
    </section>
  );
}

function LookPanel({ layer }: { layer: Layer }) {
  const look = useTracks<"look">(layer, "look");
  const edge = useTracks<"edge">(layer, "edge");
  const { preview, keep, drop } = useSite.getState();
  const opacity = (value: number) => inLayer(layer.id, (one) => ({ ...one, opacity: value / 100 }));
  const kind: Edge["kind"] = layer.edge.kind;
  const hasImage = useSite((s) => s.shown?.ground.picture !== null);
  return (
    <section aria-label="Look" className="overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-1">Look</h2>
      <Track label="Opacity" value={Math.round(layer.opacity * 100)} unit="%" least={0} most={100} step={1} usual={100}
        onMove={(value) => preview(opacity(value))}
        onKeep={(value) => keep(`${layer.name}: opacity`, opacity(value))} onDrop={drop} />
      <div className="my-0.5">
        <Segments label="Edge" value={kind}
          choices={[
            { value: "fade", label: "Fade", hint: "The layers fade into each other" },
            { value: "height", label: "Edge by height", hint: "The higher one wins: gravel fills the cracks of the rock first" },
          ]}
          onChoose={(next) => keep(`${layer.name}: edge`, inLayer(layer.id, (one) => ({ ...one, edge: { ...one.edge, kind: next } })))} />
      </div>
      {kind === "height" && edge({ field: "width_m", label: "Edge width", unit: "m", least: 0, most: 0.5, step: 0.002, usual: 0.02, digits: 3, perPixel: 0.002, hint: "Height difference over which the higher one wins" })}
      {look({ field: "hue_deg", label: "Colour turn", unit: "°", least: -180, most: 180, step: 1, usual: 0, hint: "Turns its colour round the colour wheel" })}
      {look({ field: "saturation", label: "Saturation", unit: "×", least: 0, most: 3, step: 0.01, usual: 1, digits: 2, hint: "0 is grey" })}
      {look({ field: "brightness", label: "Brightness", unit: "×", least: 0.1, most: 4, step: 0.01, usual: 1, digits: 2, decades: true })}
      {look({ field: "colour_lowest", label: "Darkest", unit: "", least: 0, most: 1, step: 0.01, usual: 0, digits: 2, hint: "Lightness that black becomes: lifts its shadows" })}
      {look({ field: "colour_highest", label: "Lightest", unit: "", least: 0, most: 1, step: 0.01, usual: 1, digits: 2, hint: "Lightness that white becomes" })}
      {look({ field: "roughness_shift", label: "Roughness", unit: "", least: -1, most: 1, step: 0.01, usual: 0, digits: 2, hint: "Added to the set's roughness" })}
      {look({ field: "roughness_lowest", label: "Rough from", unit: "", least: 0, most: 1, step: 0.01, usual: 0, digits: 2, hint: "What roughness 0 becomes" })}
      {look({ field: "roughness_highest", label: "Rough to", unit: "", least: 0, most: 1, step: 0.01, usual: 1, digits: 2, hint: "What roughness 1 becomes" })}
      {look({ field: "normal_strength", label: "Normal", unit: "×", least: 0, most: 4, step: 0.05, usual: 1, digits: 2 })}
      {look({ field: "occlusion", label: "Occlusion", unit: "", least: 0, most: 1, step: 0.01, usual: 1, digits: 2 })}
      {hasImage && look({ field: "ground_image", label: "Ground image", unit: "", least: 0, most: 1, step: 0.01, usual: 0, digits: 2, hint: "How far its colour is that of the image over the ground" })}
      {look({ field: "variation", label: "Variation", unit: "", least: 0, most: 1, step: 0.01, usual: 0.12, digits: 2, hint: "Slow change of brightness over the ground" })}
      {look({ field: "variation_colour", label: "…of colour", unit: "", least: 0, most: 1, step: 0.01, usual: 0, digits: 2, hint: "Slow change of warmth over the ground" })}
      {look({ field: "variation_offset", label: "…of tiles", unit: "", least: 0, most: 1, step: 0.01, usual: 0, digits: 2, hint: "Slow drift of the tiles, in tiles: repeats fall out of step" })}
      {look({ field: "variation_size_m", label: "…every", unit: "m", least: 0.5, most: 2000, step: 0.5, usual: 45, digits: 1, decades: true, perPixel: 0.5, hint: "Distance over which they vary" })}
    </section>
  );
}
