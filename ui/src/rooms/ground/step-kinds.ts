/** The kinds of steps: what each does, where it starts, which numbers it has. */

import type { Ground } from "../../generated/recipe";
import type { Range } from "../../state/ground";

export type Step = Ground["steps"][number];
export type StepKind = Step["kind"];

export interface NumberField {
  field: string;
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  digits?: number;
  decades?: boolean;
  usual: number;
  hint?: string;
}

export interface KindOfStep {
  title: string;
  about: string;
  fields: readonly NumberField[];
  /** What the switch "opposite" does, where there is one. */
  opposite?: string;
  seeded?: boolean;
}

const share = (field: string, label: string, usual: number, hint: string): NumberField => ({
  field, label, unit: "", least: 0, most: 1, step: 0.01, digits: 2, usual, hint,
});
const metres = (field: string, label: string, usual: number, most: number, hint: string, least = 0.1): NumberField => ({
  field, label, unit: "m", least, most, step: usual >= 20 ? 1 : 0.1, digits: usual >= 20 ? 0 : 1, decades: true, usual, hint,
});

export const KINDS: Record<StepKind, KindOfStep> = {
  form: {
    title: "Form", about: "adds generated ground: hills, ridges, dunes, gorges, a basin", seeded: true,
    opposite: "take it away instead",
    fields: [
      metres("size_m", "Feature size", 400, 20_000, "Size of its largest features", 1),
      metres("height_m", "Height", 80, 4_000, "About, from its lowest to its highest; nothing is ever clipped"),
      { field: "detail", label: "Detail", unit: "", least: 1, most: 12, step: 1, usual: 7, hint: "How many times features of half the size are added" },
      share("roughness", "Roughness", 0.5, "How strong each finer size is against the one before"),
    ],
  },
  terrace: {
    title: "Terraces", about: "cuts level benches with steep fronts", seeded: true,
    fields: [
      metres("spacing_m", "Spacing", 6, 500, "From one level to the next"),
      { field: "offset_m", label: "A level at", unit: "m", least: -20_000, most: 20_000, step: 0.1, digits: 1, usual: 0, hint: "Elevation of one of the levels" },
      share("sharpness", "Sharpness", 0.6, "How abruptly a bench ends"),
      share("irregularity", "Irregularity", 0.4, "How far levels wander and fade"),
    ],
  },
  smooth: {
    title: "Smooth", about: "smooths over a radius, or brings out what that would take away", opposite: "bring out detail",
    fields: [metres("radius_m", "Radius", 8, 2_000, "Over which heights are averaged")],
  },
  ridges: {
    title: "Sharpen ridges", about: "turns rounded crests into edges", opposite: "sharpen valleys instead",
    fields: [metres("radius_m", "Radius", 25, 1_000, "How far from the crest it takes hold")],
  },
  warp: {
    title: "Warp", about: "bends the ground sideways by noise", seeded: true,
    fields: [
      metres("amount_m", "Amount", 25, 2_000, "Farthest that a place is moved, about"),
      metres("size_m", "Size", 150, 20_000, "Size of the bends"),
      { field: "detail", label: "Detail", unit: "", least: 1, most: 8, step: 1, usual: 3 },
    ],
  },
  twist: {
    title: "Twist", about: "turns the ground about a place",
    fields: [
      { field: "turn_deg", label: "Turn", unit: "°", least: -720, most: 720, step: 1, usual: 40, hint: "Counter-clockwise seen from above" },
      metres("radius_m", "Radius", 300, 50_000, "Where the turning ends"),
    ],
  },
  remap: {
    title: "Heights by a curve", about: "maps heights by a rising curve", opposite: "the curve the other way round", fields: [],
  },
  level: {
    title: "Cut and fill to a level", about: "cuts what stands above a level, fills what lies below",
    fields: [
      { field: "level_m", label: "Level", unit: "m", least: -20_000, most: 20_000, step: 0.5, digits: 1, usual: 0 },
      { field: "soft_m", label: "Soft over", unit: "m", least: 0, most: 100, step: 0.1, digits: 1, usual: 0.5 },
    ],
  },
  course: {
    title: "Course", about: "cuts a valley or channel along a line, or fills a bank or dam along it", seeded: true,
    fields: [
      { field: "side_deg", label: "Sides", unit: "°", least: 1, most: 89, step: 0.5, digits: 1, usual: 30, hint: "Steepness of its sides" },
      { field: "soft_m", label: "Soft over", unit: "m", least: 0, most: 100, step: 0.1, digits: 1, usual: 1 },
      { field: "wander_m", label: "Wander", unit: "m", least: 0, most: 500, step: 1, usual: 0, hint: "How far the line strays" },
      metres("wander_size_m", "Wander size", 120, 5_000, "Size of its bends", 1),
    ],
  },
  settle: {
    title: "Settle", about: "lets loose ground slide until nothing is steeper than its angle of repose",
    fields: [{ field: "repose_deg", label: "Repose", unit: "°", least: 2, most: 85, step: 0.5, digits: 1, usual: 36, hint: "Angle of repose: scree 35 to 40, sand 33" }],
  },
  runoff: {
    title: "Runoff", about: "rain that runs off, wears the ground and drops what it took",
    fields: [
      { field: "rounds", label: "Rounds", unit: "", least: 1, most: 2_000, step: 10, usual: 220, hint: "How long it rains" },
      share("rain", "Rain", 0.5, "How hard it rains"),
      share("carry", "Carry", 0.5, "How much the water can carry"),
      share("softness", "Softness", 0.5, "How readily the ground comes loose"),
    ],
  },
  rivers: {
    title: "Rivers", about: "cuts valleys in one go", seeded: true,
    fields: [
      share("cut", "Cut", 0.5, "How deep they cut"),
      share("branching", "Branching", 0.5, "From a few large valleys to many small ones"),
      { field: "rounds", label: "Rounds", unit: "", least: 1, most: 100, step: 1, usual: 10 },
      { field: "lift_m", label: "Lift", unit: "m", least: 0, most: 1_000, step: 1, usual: 0, hint: "Lift of the land over all rounds, its border aside" },
      { field: "creep_m", label: "Creep", unit: "m", least: 0, most: 100, step: 0.1, digits: 1, usual: 3, hint: "Radius over which slopes round off" },
    ],
  },
  resample: {
    title: "Resample", about: "more or fewer samples; heights stay metres",
    fields: [{ field: "samples", label: "Samples", unit: "", least: 33, most: 8193, step: 1, usual: 2049, hint: "Along the longer side" }],
  },
  brush: { title: "Brush", about: "raise, lower, smooth or flatten by hand", fields: [] },
};

export const ORDER: readonly StepKind[] = [
  "form", "rivers", "runoff", "settle", "terrace", "smooth", "ridges", "warp", "twist", "remap", "level", "course", "brush", "resample",
];

export const CHARACTERS = [
  { value: "rolling", label: "Rolling" }, { value: "ridged", label: "Ridged" }, { value: "billowed", label: "Billowed" },
  { value: "cellular", label: "Cellular" }, { value: "dunes", label: "Dunes" }, { value: "gorges", label: "Gorges" },
  { value: "basin", label: "Basin" },
] as const;

export const newId = () => crypto.getRandomValues(new Uint32Array(2)).reduce((text, n) => text + n.toString(36), "step").slice(0, 16);
export const dice = () => (crypto.getRandomValues(new Uint32Array(1))[0] ?? 1) % 100_000;

const round = (value: number, step: number) => Number((Math.round(value / step) * step).toFixed(3));

/** A size in whole steps, finer where the ground is no larger than a few of them: never nothing. */
const size = (value: number, step: number) => (value < 2 * step ? Number(value.toPrecision(2)) : round(value, step));

/** A new step that already does something sensible on this ground. */
export function newStep(kind: StepKind, ground: Ground, range: Range): Step {
  const longest = Math.max(ground.width_m, ground.depth_m);
  const rise = Math.max(range.highest_m - range.lowest_m, 0.01);
  const middle = round((range.lowest_m + range.highest_m) / 2, 0.5);
  const common = { id: newId(), name: KINDS[kind].title, on: true, strength: 1, where: [] };
  const x = ground.width_m;
  const y = ground.depth_m;
  switch (kind) {
    case "form":
      return {
        ...common, kind, name: "Rolling form", character: "rolling", seed: dice(), size_m: size(longest / 3, 1), height_m: Math.max(1, round(longest / 12, 1)),
        detail: 7, roughness: 0.5, bearing_deg: 270, east_m: null, north_m: null, opposite: false,
      };
    case "terrace":
      return { ...common, kind, spacing_m: Math.max(0.2, round(rise / 16, 0.1)), offset_m: 0, sharpness: 0.6, irregularity: 0.4, seed: dice() };
    case "smooth":
      return { ...common, kind, radius_m: Math.max(0.2, round(longest / 120, 0.1)), opposite: false };
    case "ridges":
      return { ...common, kind, radius_m: Math.min(2000, Math.max(0.2, round(longest / 50, 0.1))), opposite: false };
    case "warp":
      return { ...common, kind, amount_m: round(longest / 40, 0.1), size_m: size(longest / 8, 1), detail: 3, seed: dice() };
    case "twist":
      return { ...common, kind, turn_deg: 40, radius_m: size(longest / 4, 1), east_m: null, north_m: null };
    case "remap":
      return { ...common, kind, curve: [{ before: 0, after: 0 }, { before: 0.5, after: 0.35 }, { before: 1, after: 1 }], opposite: false };
    case "level":
      return { ...common, kind, level_m: middle, cut: true, fill: true, soft_m: Math.max(0.1, round(rise / 60, 0.1)) };
    case "course":
      return {
        ...common, kind, cut: true, fill: false, side_deg: 30, soft_m: 1, wander_m: 0, wander_size_m: Math.max(1, round(longest / 10, 1)), seed: dice(),
        points: [0.15, 0.5, 0.85].map((t) => ({
          east_m: round(x * t, 0.1), north_m: round(y * (0.5 + 0.1 * Math.sin(t * 9)), 0.1), level_m: round(range.lowest_m + rise * 0.3, 0.1), half_width_m: round(longest / 80, 0.1),
        })),
      };
    case "settle":
      return { ...common, kind, repose_deg: 36 };
    case "runoff":
      return { ...common, kind, rounds: 220, rain: 0.5, carry: 0.5, softness: 0.5 };
    case "rivers":
      return { ...common, kind, cut: 0.5, branching: 0.5, rounds: 10, lift_m: 0, creep_m: Math.max(0.1, round(longest / 350, 0.1)), seed: dice() };
    case "resample":
      return { ...common, kind, samples: 2049 };
    case "brush":
      return { ...common, kind, strokes: [] };
  }
}
