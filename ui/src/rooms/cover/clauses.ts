/** Clauses as the interface handles them: one shape for every measure, units kept with it. */

import type { ElevationClause, Layer, SlopeClause } from "../../generated/recipe";
import type { Range } from "../../state/ground";

export type Clause = Layer["rule"]["clauses"][number];
export type End = "lower" | "upper";

export interface Measure {
  name: Clause["measure"];
  unit: string;
  least: number;
  most: number;
  step: number;
  perPixel: number;
  above: string;
  below: string;
  usualSoft: number;
}

export function measureOf(name: Clause["measure"], range: Range): Measure {
  if (name === "slope") {
    return { name, unit: "°", least: 0, most: 90, step: 0.5, perPixel: 0.25, above: "steeper than", below: "gentler than", usualSoft: 5 };
  }
  const span = range.highest_m - range.lowest_m;
  const step = span > 40 ? 0.5 : span > 4 ? 0.05 : 0.005;
  return { name, unit: "m", least: -20000, most: 20000, step, perPixel: span / 400, above: "above", below: "below", usualSoft: Number((span / 30).toPrecision(1)) };
}

export function limit(clause: Clause, end: End): number | null {
  if (clause.measure === "slope") return end === "lower" ? clause.lower_deg : clause.upper_deg;
  return end === "lower" ? clause.lower_m : clause.upper_m;
}

export function soft(clause: Clause, end: End): number {
  if (clause.measure === "slope") return end === "lower" ? clause.soft_lower_deg : clause.soft_upper_deg;
  return end === "lower" ? clause.soft_lower_m : clause.soft_upper_m;
}

export function withLimit(clause: Clause, end: End, value: number | null): Clause {
  const other = limit(clause, end === "lower" ? "upper" : "lower");
  // a limit pushed past the other one stops there
  const held = value === null || other === null ? value : end === "lower" ? Math.min(value, other) : Math.max(value, other);
  if (clause.measure === "slope") {
    return end === "lower" ? { ...clause, lower_deg: held } : { ...clause, upper_deg: held };
  }
  return end === "lower" ? { ...clause, lower_m: held } : { ...clause, upper_m: held };
}

export function withSoft(clause: Clause, end: End, value: number): Clause {
  if (clause.measure === "slope") {
    return end === "lower" ? { ...clause, soft_lower_deg: value } : { ...clause, soft_upper_deg: value };
  }
  return end === "lower" ? { ...clause, soft_lower_m: value } : { ...clause, soft_upper_m: value };
}

export function newClause(name: Clause["measure"], range: Range): Clause {
  if (name === "slope") {
    const made: SlopeClause = { measure: "slope", lower_deg: 30, upper_deg: null, soft_lower_deg: 5, soft_upper_deg: 5, opposite: false };
    return made;
  }
  const middle = Math.round((range.lowest_m + range.highest_m) / 2);
  const softness = measureOf("elevation", range).usualSoft;
  const made: ElevationClause = { measure: "elevation", lower_m: middle, upper_m: null, soft_lower_m: softness, soft_upper_m: softness, opposite: false };
  return made;
}
