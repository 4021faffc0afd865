/** New masks and paths with the clause that reads them, as one change. */

import { newId } from "../../parts/new-id";
import type { Recipe } from "../../generated/recipe";
import type { Ruled } from "../../state/site";
import { made, referenceOf, type Single } from "./clauses";
import { freeName } from "../../state/part-names";
import { added, inRule } from "./edit-rule";

/** Painted in, it is added to what the rule lets in already; the only clause of a rule is all there is. */
export function joined(layer: Ruled, way: "in" | "out", clause: Single): Single {
  const standing = layer.rule.clauses.some((one) => one.join !== "break-up");
  return { ...clause, join: way === "out" ? "except" : standing ? "add" : "and" };
}

export function withMask(recipe: Recipe | null, layer: Ruled, way: "in" | "out", sampleM: number) {
  const id = newId();
  const name = freeName(`${way === "in" ? "Paint" : "Bare"} of ${layer.name}`, recipe?.marks.masks ?? []);
  const change = (one: Recipe): Recipe => {
    const mask = { id, name, sample_m: sampleM, tiles: [] };
    const marked = { ...one, marks: { ...one.marks, masks: [...one.marks.masks, mask] } };
    return inRule(layer, (now) => added(now, joined(now, way, made.painted(id, name))))(marked);
  };
  return { id, name, change };
}

export function withPath(recipe: Recipe | null, layer: Ruled, way: "in" | "out") {
  const id = newId();
  const name = freeName(`Path of ${layer.name}`, recipe?.marks.paths ?? []);
  const change = (one: Recipe): Recipe => {
    const { ground, peg } = one;
    const reach = Math.max(ground.width_m, ground.depth_m) / 12;
    const held = (v: number, most: number) => Number(Math.min(most, Math.max(0, v)).toFixed(2));
    const points = [-1, 0, 1].map((k) => ({
      east_m: held(peg.east_m + k * reach, ground.width_m),
      north_m: held(peg.north_m + (k === 0 ? 0.15 : 0) * reach, ground.depth_m),
    }));
    const width = Math.max(0.05, Number((Math.max(ground.width_m, ground.depth_m) / 300).toPrecision(2)));
    const path = {
      id,
      name,
      points,
      width_m: width,
      soft_m: width / 4,
      wobble_m: width / 10,
      wobble_size_m: width * 3,
      seed: 1,
    };
    const marked = { ...one, marks: { ...one.marks, paths: [...one.marks.paths, path] } };
    return inRule(layer, (now) => added(now, joined(now, way, made.path(id, name))))(marked);
  };
  return { id, name, change };
}

function asks(rule: Ruled["rule"], id: string): boolean {
  return rule.clauses
    .flatMap((one) => (one.kind === "bracket" ? one.clauses : [one]))
    .some((one) => referenceOf(one)?.id === id);
}

/** The names of layers, wears and kept rules that read a mask, path or image. */
export function readers(recipe: Recipe, id: string): string[] {
  const follows = recipe.wears.filter((wear) => wear.follows.kind === "path" && wear.follows.path === id);
  const onThings = recipe.things.flatMap(({ cover }) => [...cover.layers, ...cover.wears]);
  const touching = recipe.strews.filter((strew) => strew.touches.some((one) => one.mask === id));
  const reading = [...recipe.layers, ...recipe.wears, ...recipe.strews, ...onThings].filter(
    (one) => asks(one.rule, id) || [...follows, ...touching].some((other) => other.id === one.id),
  );
  return [
    ...reading.map((one) => one.name),
    ...recipe.kept_rules.filter((kept) => asks(kept.rule, id)).map((kept) => `the kept rule ${kept.name}`),
  ];
}
