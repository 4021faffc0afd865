/** Clauses as the interface handles them: one shape for every measure, units kept with it. */

import type { MeasureKind } from "../../api/types";
import type { Bracket, Layer, MeasureClause, OnMeasure, Recipe } from "../../generated/recipe";
import type { Range } from "../../state/ground";

export type Clause = Layer["rule"]["clauses"][number];
export type Single = Bracket["clauses"][number];
export type Join = Clause["join"];
export type End = "lower" | "upper";
export type MeasureName = MeasureClause["measure"];
export type Limited = Pick<MeasureClause, "lower" | "upper" | "soft_lower" | "soft_upper">;

export interface Measure {
  unit: MeasureClause["unit"] | "";
  least: number;
  most: number;
  step: number;
  digits: number;
  /** What a drag of one pixel changes. */
  perPixel: (value: number) => number;
  usualSoft: number;
}

const UNITS: Record<MeasureName, MeasureClause["unit"]> = {
  "elevation": "m", "slope": "°", "aspect": "°", "curvature-profile": "1/m", "curvature-plan": "1/m", "curvature-mean": "1/m",
  "relative-height": "m", "openness": "°", "drainage": "m²", "wetness": "ln m", "worn": "m", "dropped": "m", "flow": "m²",
};

export const SHORT: Record<MeasureName, string> = {
  "elevation": "elevation", "slope": "slope", "aspect": "facing", "curvature-profile": "bend down", "curvature-plan": "bend across",
  "curvature-mean": "bend", "relative-height": "relative height", "openness": "openness", "drainage": "drainage", "wetness": "wetness",
  "worn": "worn", "dropped": "dropped", "flow": "flow",
};
export const MEASURES = Object.keys(UNITS) as MeasureName[];

/** How numbers of a measure are stepped, typed and dragged on this ground. */
export function measureOf(name: MeasureName, range: Range): Measure {
  const even = (unit: Measure["unit"], least: number, most: number, step: number, digits: number, perPixel: number, usualSoft: number): Measure =>
    ({ unit, least, most, step, digits, perPixel: () => perPixel, usualSoft });
  switch (name) {
    case "slope": return even("°", 0, 90, 0.5, 1, 0.25, 5);
    case "aspect": return even("°", 0, 360, 1, 0, 1, 20);
    case "openness": return even("°", 0, 180, 0.5, 1, 0.25, 3);
    case "curvature-profile": case "curvature-plan": case "curvature-mean": return even("1/m", -100, 100, 0.001, 3, 0.0005, 0.02);
    case "wetness": return even("ln m", -50, 50, 0.1, 1, 0.03, 0.8);
    case "drainage": case "flow":
      return { unit: "m²", least: 0, most: 1e9, step: 1, digits: 0, perPixel: (value) => Math.max(1, value * 0.012), usualSoft: 50 };
    case "worn": case "dropped": case "relative-height": return even("m", -5000, 5000, 0.01, 2, 0.01, 0.2);
    default: {
      const span = range.highest_m - range.lowest_m;
      const fine = span > 40 ? 0.5 : span > 4 ? 0.05 : 0.005;
      return even("m", -20000, 20000, fine, fine < 0.05 ? 3 : 1, span / 400, Number((span / 30).toPrecision(1)));
    }
  }
}

export function withLimit<T extends Limited & { measure?: MeasureName }>(clause: T, end: End, value: number | null): T {
  const other = clause[end === "lower" ? "upper" : "lower"];
  // a limit pushed past the other one stops there; a facing goes round through north
  const free = value === null || other === null || clause.measure === "aspect";
  const held = free ? value : end === "lower" ? Math.min(value, other) : Math.max(value, other);
  return { ...clause, [end]: held };
}

export function withSoft<T extends Limited>(clause: T, end: End, value: number): T {
  return { ...clause, [`soft_${end}`]: value };
}

export const softOf = (clause: Limited, end: End) => (end === "lower" ? clause.soft_lower : clause.soft_upper);

/** Where a new limit begins: the middle of what there is, so that it is seen to do something. */
function start(name: MeasureName, range: Range): [number | null, number | null] {
  switch (name) {
    case "slope": return [30, null];
    case "aspect": return [315, 45];
    case "curvature-mean": return [null, -0.02];
    case "curvature-profile": case "curvature-plan": return [0.02, null];
    case "relative-height": return [0.5, null];
    case "openness": return [null, 80];
    case "drainage": case "flow": return [1000, null];
    case "wetness": return [6, null];
    case "worn": case "dropped": return [0.2, null];
    default: return [Math.round((range.lowest_m + range.highest_m) / 2), null];
  }
}

/** A limit of a measure, as a step of the ground takes it. */
export function newLimit(name: MeasureName, range: Range): MeasureClause {
  const { usualSoft } = measureOf(name, range);
  const [lower, upper] = start(name, range);
  return { kind: "measure", measure: name, unit: UNITS[name], radius_m: null, lower, upper, soft_lower: usualSoft, soft_upper: usualSoft, opposite: false, curve: [] };
}

const JOINED = { join: "and", strength: 0.5 } as const;

export function onMeasure(name: MeasureName, range: Range): OnMeasure {
  return { ...newLimit(name, range), ...JOINED };
}

const STRAIGHT = [{ inside: 0, share: 0 }, { inside: 1, share: 1 }];
const AS_IT_IS = { ...JOINED, lower: 1, upper: null, soft_lower: 1, soft_upper: 0, opposite: false, curve: STRAIGHT };

/** A clause that reads something marked on the ground, or noise, or another layer. */
export const made = {
  noise: (): Single => ({ kind: "noise", ...JOINED, noise: "soft", size_m: 8, seed: 1, lower: 0.55, upper: null, soft_lower: 0.2, soft_upper: 0, opposite: false, curve: [] }),
  painted: (mask: string, called: string): Single => ({ kind: "painted", ...AS_IT_IS, mask, called }),
  path: (path: string, called: string): Single => ({ kind: "path", ...JOINED, path, called, wider_m: 0, opposite: false }),
  image: (image: string, called: string, channel: "R" | "G" | "B" | "A" | "brightness"): Single => ({ kind: "image", ...AS_IT_IS, image, called, channel }),
  layer: (layer: string, called: string): Single => ({ kind: "layer", ...AS_IT_IS, layer, called }),
  bracket: (inside: Single): Clause => ({ kind: "bracket", ...JOINED, clauses: [{ ...inside, join: "and" }], opposite: false }),
};

/** Layers whose presence a layer may ask for without asking for itself in the end. */
export function askable(recipe: Recipe, of: string): Layer[] {
  const asks = (layer: Layer): string[] =>
    layer.rule.clauses.flatMap((clause) => (clause.kind === "bracket" ? clause.clauses : [clause])).flatMap((one) => (one.kind === "layer" ? [one.layer] : []));
  const reaches = (from: string, seen: Set<string>): boolean => {
    if (from === of) return true;
    if (seen.has(from)) return false;
    seen.add(from);
    const layer = recipe.layers.find((one) => one.id === from);
    return layer !== undefined && asks(layer).some((next) => reaches(next, seen));
  };
  return recipe.layers.filter((layer) => !reaches(layer.id, new Set()));
}

/** The name of what a clause refers to when that is no longer there. */
export function goneName(clause: Clause, recipe: Recipe): string | null {
  const { masks, paths, images } = recipe.marks;
  const there = (id: string, all: readonly { id: string }[]) => all.some((one) => one.id === id);
  switch (clause.kind) {
    case "painted": return there(clause.mask, masks) ? null : clause.called;
    case "path": return there(clause.path, paths) ? null : clause.called;
    case "image": return there(clause.image, images) ? null : clause.called;
    case "layer": return there(clause.layer, recipe.layers) ? null : clause.called;
    default: return null;
  }
}

/** What a clause is called in the history and in labels. */
export function nameOf(clause: Clause): string {
  switch (clause.kind) {
    case "measure": return SHORT[clause.measure];
    case "noise": return clause.join === "break-up" ? "break-up" : "noise";
    case "painted": case "path": case "image": case "layer": return clause.called;
    default: return "brackets";
  }
}

/** Words for a measure's limits; until the server has said them, plain ones. */
export function wordsOf(name: MeasureName, kinds: readonly MeasureKind[]): { above: string; below: string } {
  const kind = kinds.find((one) => one.name === name);
  return { above: kind?.above ?? `${SHORT[name]} over`, below: kind?.below ?? `${SHORT[name]} under` };
}

const COMPASS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];
export const compass = (bearing: number) => COMPASS[Math.round(bearing / 45) % 8] ?? "north";
