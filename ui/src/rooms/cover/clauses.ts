/** Clauses as the interface handles them: one shape for every measure, units kept with it. */

import type { Beginnings, ClauseKind, MeasureKind, Span, ThingMeasureLine } from "../../generated/answers";
import { CATALOGUE } from "../../generated/catalogue";
import { numberOf } from "../../state/numbers";
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

/** How a soft end in a measure's unit is stepped and typed: from none to as far as the measure reaches. */
export const softSpan = ({ unit, most, step, digits }: Measure) => ({ unit, least: 0, most, step, digits });

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

const JOINED = { join: "and", strength: numberOf("OnNoise", "strength").usual } as const;

export function onMeasure(name: MeasureName, begin: Beginnings): OnMeasure {
  return { ...newLimit(name, begin), ...JOINED };
}

export type Where = ClauseKind["refers"][number];
export type Named = { id: string; name: string };

const CLAUSE_KINDS: ReadonlyMap<string, ClauseKind> = new Map(CATALOGUE.clauses.map((one) => [one.kind, one]));

/** What the catalogue tells of a kind of clause; of those that read measures it tells that apart. */
export const kindOf = (clause: Clause): ClauseKind | null => CLAUSE_KINDS.get(clause.kind) ?? null;

/** A new clause of a kind that reads no measure. */
function fresh<K extends Clause["kind"]>(kind: K): Extract<Clause, { kind: K }> {
  const found = CLAUSE_KINDS.get(kind);
  if (!found) throw new Error(`nothing begins a clause of the kind ${kind}`);
  return found.begins as Extract<Clause, { kind: K }>;
}

/** A clause that refers to another part than it did, or for the first time. */
export function pointedAt<C extends Clause>(clause: C, where: Where, part: Named): C {
  const kind = kindOf(clause);
  if (!kind?.idField) return clause;
  const several = kind.whereField ? { [kind.whereField]: where } : {};
  return { ...clause, ...several, [kind.idField]: part.id, called: part.name };
}

/** What a clause refers to, where it refers to something. */
export function referenceOf(clause: Clause): { where: Where; id: string; called: string } | null {
  const kind = kindOf(clause);
  const first = kind?.refers[0];
  if (!kind?.idField || !first) return null;
  const where = kind.whereField ? (textOf(clause, kind.whereField) as Where) : first;
  return { where, id: textOf(clause, kind.idField), called: textOf(clause, "called") };
}

/** A clause that reads something marked on the ground, or noise, or another layer. */
export const made = {
  noise: (): Single => fresh("noise"),
  painted: (id: string, name: string): Single => pointedAt(fresh("painted"), "mask", { id, name }),
  path: (id: string, name: string): Single => pointedAt(fresh("path"), "path", { id, name }),
  image: (id: string, name: string, channel: Channel): Single => ({
    ...pointedAt(fresh("image"), "image", { id, name }),
    channel,
  }),
  about: (kind: ClauseKind, where: Where, part: Named): Single =>
    pointedAt(fresh(kind.kind as Single["kind"]), where, part),
  bracket: (inside: Single): Bracket => ({ ...fresh("bracket"), clauses: [{ ...inside, join: "and" }] }),
};

/** Clauses with limits and a curve. */
export type Limiting = Extract<Clause, { curve: unknown }>;

export const isCurved = (clause: Clause): clause is Limiting => kindOf(clause)?.curved ?? true;
/** Whether a clause reads a value from 0 to 1. */
export const isValue = (clause: Clause): clause is Limiting => kindOf(clause)?.reads === "value";
/** Whether a clause asks how far something is. */
export const isDistance = (clause: Clause): clause is OnNear => kindOf(clause)?.reads === "distance";

/** A field of a clause of any kind, as text. */
export const textOf = (clause: Clause, field: string): string =>
  String((clause as unknown as Record<string, unknown>)[field]);

/** A phrase of a clause with its fields filled in; what opens the rest of it stands in brackets. */
export const filled = (phrase: string, clause: Clause): string =>
  phrase.replace(/\{(\w+)(?::g)?\}/g, (_, field: string) => textOf(clause, field));

/** What rules of a thing's cover may ask of a place on it. */
export function thingMeasure(of: OnThing["of"]): ThingMeasureLine {
  const found = CATALOGUE.thingMeasures.find((one) => one.name === of);
  if (!found) throw new Error(`nothing tells what ${of} of a thing is`);
  return found;
}

/** All parts of a site of a kind that clauses may refer to, wherever they are. */
export function partsOf(where: Where, recipe: Recipe): readonly Named[] {
  const { masks, paths, images } = recipe.marks;
  switch (where) {
    case "mask":
      return [...masks, ...recipe.things.flatMap((one) => one.cover.masks)];
    case "path":
      return paths;
    case "image":
      return [...images, ...recipe.things.flatMap((one) => one.cover.images)];
    case "layer":
      return recipe.layers;
    case "strew":
      return recipe.strews;
    case "thing":
      return recipe.set_things;
  }
}

/** The name of what a clause refers to when that is no longer there. */
export function goneName(clause: Clause, recipe: Recipe): string | null {
  const found = referenceOf(clause);
  if (!found || partsOf(found.where, recipe).some((one) => one.id === found.id)) return null;
  return found.called;
}

/** What a clause is called in the history and in labels. */
export function nameOf(clause: Clause): string {
  if (clause.kind === "measure") return SHORT[clause.measure];
  if (clause.kind === "thing") return thingMeasure(clause.of).title.toLowerCase();
  if (clause.join === "break-up") return "break-up";
  return filled(kindOf(clause)?.short ?? clause.kind, clause);
}

const COMPASS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];
export const compass = (bearing: number) => COMPASS[Math.round(bearing / 45) % 8] ?? "north";
