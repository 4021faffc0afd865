/** Clauses as the interface handles them: one shape for every measure, units kept with it. */

import type { Beginnings, MeasureKind, Span, ThingMeasureLine } from "../../generated/answers";
import { CATALOGUE } from "../../generated/catalogue";
import type { Bracket, Layer, MeasureClause, OnMeasure, OnNear, OnThing, Recipe } from "../../generated/recipe";

export type Clause = Layer["rule"]["clauses"][number];
export type Single = Bracket["clauses"][number];
export type Join = Clause["join"];
export type Channel = Extract<Single, { kind: "image" }>["channel"];
export type End = "lower" | "upper";
export type MeasureName = MeasureClause["measure"];
export type Limited = Pick<MeasureClause, "lower" | "upper" | "soft_lower" | "soft_upper"> & {
  every?: number | null;
};

export const MEASURES = CATALOGUE.measures.map((one) => one.name);
export const KINDS = Object.fromEntries(CATALOGUE.measures.map((one) => [one.name, one])) as Record<
  MeasureName,
  MeasureKind
>;
export const SHORT = Object.fromEntries(CATALOGUE.measures.map((one) => [one.name, one.short])) as Record<
  MeasureName,
  string
>;

export interface Measure extends Span {
  unit: MeasureKind["unit"];
  /** Of its surroundings, for measures that look about; null for others. */
  radiusM: number | null;
  /** What a drag of one pixel changes. */
  perPixel: (value: number) => number;
}

/** How numbers of a measure are stepped, typed and dragged on the ground that these beginnings are of. */
export function measureOf(name: MeasureName, begin: Beginnings): Measure {
  const span = begin.spans[name];
  if (!span) throw new Error(`nothing tells what ${name} may be`);
  return {
    ...span,
    unit: KINDS[name].unit,
    radiusM: KINDS[name].radiusM,
    perPixel: (value) => Math.max(span.pixel, value * span.pixelShare),
  };
}

export function withLimit<T extends Limited & { measure?: MeasureName }>(clause: T, end: End, value: number | null): T {
  const other = clause[end === "lower" ? "upper" : "lower"];
  // a limit pushed past the other one stops there; a facing goes round through north
  const free = value === null || other === null || clause.measure === "aspect";
  const held = free ? value : end === "lower" ? Math.min(value, other) : Math.max(value, other);
  const next = { ...clause, [end]: held };
  // bands that would meet move apart; one that is open on a side comes once
  if (next.every === null || next.every === undefined) return next;
  if (next.lower === null || next.upper === null) return { ...next, every: null };
  return { ...next, every: Math.max(next.every, Number(((next.upper - next.lower) * 1.05 + 1e-6).toPrecision(6))) };
}

export function withSoft<T extends Limited>(clause: T, end: End, value: number): T {
  return { ...clause, [`soft_${end}`]: value };
}

export const softOf = (clause: Limited, end: End) => (end === "lower" ? clause.soft_lower : clause.soft_upper);

/** A limit of a measure, as a step of the ground takes it. */
export function newLimit(name: MeasureName, begin: Beginnings): MeasureClause {
  const limit = begin.limits[name];
  if (!limit) throw new Error(`nothing begins a clause on ${name}`);
  return limit;
}

const JOINED = { join: "and", strength: 0.5 } as const;

export function onMeasure(name: MeasureName, begin: Beginnings): OnMeasure {
  return { ...newLimit(name, begin), ...JOINED };
}

/** A new clause of a kind that reads no measure. */
function fresh<K extends Clause["kind"]>(kind: K): Extract<Clause, { kind: K }> {
  return CATALOGUE.clauses[kind] as Extract<Clause, { kind: K }>;
}

/** A clause that reads something marked on the ground, or noise, or another layer. */
export const made = {
  noise: (): Single => fresh("noise"),
  painted: (mask: string, called: string): Single => ({ ...fresh("painted"), mask, called }),
  path: (path: string, called: string): Single => ({ ...fresh("path"), path, called }),
  image: (image: string, called: string, channel: Channel): Single => ({
    ...fresh("image"),
    image,
    called,
    channel,
  }),
  layer: (layer: string, called: string): Single => ({ ...fresh("layer"), layer, called }),
  near: (to: OnNear["to"], target: string, called: string): Single => ({ ...fresh("near"), to, target, called }),
  bracket: (inside: Single): Clause => ({ ...fresh("bracket"), clauses: [{ ...inside, join: "and" }] }),
};

/** What rules of a thing's cover may ask of a place on it. */
export function thingMeasure(of: OnThing["of"]): ThingMeasureLine {
  const found = CATALOGUE.thingMeasures.find((one) => one.name === of);
  if (!found) throw new Error(`nothing tells what ${of} of a thing is`);
  return found;
}

/** What a clause may ask the nearness of. */
export function nearOf(to: OnNear["to"], recipe: Recipe): readonly { id: string; name: string }[] {
  return { strew: recipe.strews, path: recipe.marks.paths, thing: recipe.set_things }[to];
}

/** The name of what a clause refers to when that is no longer there. */
export function goneName(clause: Clause, recipe: Recipe): string | null {
  const { paths } = recipe.marks;
  const masks = [...recipe.marks.masks, ...recipe.things.flatMap((one) => one.cover.masks)];
  const images = [...recipe.marks.images, ...recipe.things.flatMap((one) => one.cover.images)];
  const there = (id: string, all: readonly { id: string }[]) => all.some((one) => one.id === id);
  switch (clause.kind) {
    case "painted":
      return there(clause.mask, masks) ? null : clause.called;
    case "path":
      return there(clause.path, paths) ? null : clause.called;
    case "image":
      return there(clause.image, images) ? null : clause.called;
    case "layer":
      return there(clause.layer, recipe.layers) ? null : clause.called;
    case "near":
      return there(clause.target, nearOf(clause.to, recipe)) ? null : clause.called;
    default:
      return null;
  }
}

/** What a clause is called in the history and in labels. */
export function nameOf(clause: Clause): string {
  switch (clause.kind) {
    case "measure":
      return SHORT[clause.measure];
    case "noise":
      return clause.join === "break-up" ? "break-up" : "noise";
    case "painted":
    case "path":
    case "image":
    case "layer":
      return clause.called;
    case "near":
      return `near ${clause.called}`;
    case "thing":
      return thingMeasure(clause.of).title.toLowerCase();
    default:
      return "brackets";
  }
}

const COMPASS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];
export const compass = (bearing: number) => COMPASS[Math.round(bearing / 45) % 8] ?? "north";
