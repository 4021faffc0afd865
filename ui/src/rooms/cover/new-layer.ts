/** New layers, and what groups of them are. */

import type { SetLine } from "../../api/stock";
import type { Spot } from "../../api/types";
import type { Fit, Layer, Recipe } from "../../generated/recipe";
import type { Range } from "../../state/ground";
import { onMeasure, type Clause } from "./clauses";

export const newId = () => crypto.getRandomValues(new Uint32Array(2)).reduce((text, n) => text + n.toString(36), "").slice(0, 12);

/** A set as it is: its own size and relief, from above. */
export function newFit(tileM: number, reliefM: number): Fit {
  return {
    tile_m: tileM, tile_down_m: null, turn_deg: 0, mirror: false, offset_east_m: 0, offset_north_m: 0, offset_up_m: 0,
    projection: "above", plane_edge: 8, steep_turn_east_deg: 0, steep_turn_north_deg: 0, steep_set: null, side_deg: 180,
    repeats: { kind: "none", strength: 1, second_scale: 5.3 }, detail: null,
    relief_m: Number(Math.min(reliefM, tileM).toFixed(4)), relief_mid: null, relief_curve: 0, meets: "levelled",
  };
}

export function newLayer(set: Pick<SetLine, "name" | "title" | "tileM" | "reliefM">, clauses: Clause[] = []): Layer {
  return {
    id: newId(), name: set.title, set: set.name, group: "", on: true, opacity: 1,
    rule: { clauses },
    fit: newFit(set.tileM, set.reliefM),
    edge: { kind: "height", width_m: 0.02 },
    look: {
      brightness: 1, hue_deg: 0, saturation: 1, colour_lowest: 0, colour_highest: 1, roughness_shift: 0, roughness_lowest: 0,
      roughness_highest: 1, normal_strength: 1, occlusion: 1, variation: 0.12, variation_colour: 0, variation_offset: 0,
      variation_size_m: 45, ground_image: 0,
    },
  };
}

/** The rule that a set begins with where it was dropped: about that slope and that elevation. */
export function rulesAt(spot: Spot, range: Range): Clause[] {
  const span = range.highest_m - range.lowest_m;
  const reach = Math.max(Number((span / 12).toPrecision(2)), 0.01);
  const fine = span > 40 ? 0 : span > 4 ? 1 : 3;
  const elevation = onMeasure("elevation", range);
  const slope = onMeasure("slope", range);
  return [
    {
      ...elevation, lower: Number((spot.elevationM - reach).toFixed(fine)), upper: Number((spot.elevationM + reach).toFixed(fine)),
      soft_lower: Number((reach / 3).toFixed(3)), soft_upper: Number((reach / 3).toFixed(3)),
    },
    { ...slope, lower: spot.slopeDeg > 8 ? Math.round(spot.slopeDeg - 6) : null, upper: Math.min(90, Math.round(spot.slopeDeg + 6)) },
    { kind: "noise", join: "break-up", strength: 0.5, noise: "soft", size_m: 8, seed: 1, lower: 0.55, upper: null, soft_lower: 0.2, soft_upper: 0, opposite: false, curve: [] },
  ];
}

/** Neighbours in the column that stand in one group, from the top down; '' is no group. */
export interface Run {
  group: string;
  layers: { layer: Layer; index: number }[];
}

export function runsOf(layers: readonly Layer[]): Run[] {
  const runs: Run[] = [];
  for (let index = layers.length - 1; index >= 0; index--) {
    const layer = layers[index];
    if (!layer) continue;
    const last = runs.at(-1);
    if (last && layer.group !== "" && last.group === layer.group) last.layers.push({ layer, index });
    else runs.push({ group: layer.group, layers: [{ layer, index }] });
  }
  return runs;
}

export function inGroup(recipe: Recipe, group: string, change: (layer: Layer) => Layer): Recipe {
  return { ...recipe, layers: recipe.layers.map((layer) => (layer.group === group ? change(layer) : layer)) };
}

/** The recipe with one layer in a group, standing beside the group's others. */
export function grouped(recipe: Recipe, id: string, group: string): Recipe {
  const layer = recipe.layers.find((one) => one.id === id);
  if (!layer) return recipe;
  const put = { ...layer, group };
  const others = recipe.layers.filter((one) => one.id !== id);
  const top = others.findLastIndex((one) => one.group === group);
  if (group === "" || top < 0) return { ...recipe, layers: recipe.layers.map((one) => (one.id === id ? put : one)) };
  return { ...recipe, layers: others.toSpliced(top + 1, 0, put) };
}
