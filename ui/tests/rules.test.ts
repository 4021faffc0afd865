/** Rules as the page edits them, scales of charts, groups of layers. */

import { CATALOGUE } from "../src/generated/catalogue";
import { describe, expect, test } from "vitest";
import { goneName, made, onMeasure, type Clause } from "../src/rooms/cover/clauses";
import {
  added,
  bracketed,
  changed,
  foldedRuns,
  inRule,
  joining,
  ruled,
  withClause,
} from "../src/rooms/cover/edit-rule";
import { placeOn, valueOn } from "../src/rooms/cover/edges";
import { grouped, inGroup, runsOf } from "../src/rooms/cover/new-layer";
import { readers, withMask, withPath } from "../src/rooms/cover/new-marks";
import { layer, recipe } from "./samples";

const steep = onMeasure("slope", CATALOGUE.nominal);
const high = onMeasure("elevation", CATALOGUE.nominal);
const broken: Clause = { ...made.noise(), join: "break-up" };

describe("a scale told by its edges", () => {
  test.each([[[0, 1, 2, 4]], [[-5, 0, 5]], [[1, 10, 100, 1000]]])("%j goes there and back", (edges) => {
    for (const place of [0, 0.1, 0.5, 0.77, 1]) expect(placeOn(edges, valueOn(edges, place))).toBeCloseTo(place, 9);
  });
  test("values beyond it lie at its ends", () => {
    expect([placeOn([0, 1, 2], -7), placeOn([0, 1, 2], 99)]).toEqual([0, 1]);
  });
});

describe("a rule", () => {
  test("takes new clauses before what breaks up its edges", () => {
    const one = layer("one", { rule: { clauses: [steep, broken] } });
    expect(added(one, high).map((clause) => clause.join)).toEqual(["and", "and", "break-up"]);
    expect(added(one, broken)).toHaveLength(3);
  });
  test("puts a clause in brackets, adds to them, takes out of them and opens them again", () => {
    const one = layer("one", { rule: { clauses: [{ ...steep, join: "except" }, high] } });
    const inside = layer("one", { rule: { clauses: bracketed(one, 0) } });
    expect(inside.rule.clauses[0]).toMatchObject({
      kind: "bracket",
      join: "except",
      clauses: [{ measure: "slope", join: "and" }],
    });
    const two = layer("one", { rule: { clauses: added(inside, { ...high, join: "or" }, 0) } });
    expect(two.rule.clauses[0]).toMatchObject({
      clauses: [{ measure: "slope" }, { measure: "elevation", join: "or" }],
    });
    expect(bracketed(two, 0)).toMatchObject([
      { measure: "slope", join: "except" },
      { measure: "elevation" },
      { measure: "elevation" },
    ]);
    const less = layer("one", { rule: { clauses: changed(two, { k: 0, inside: 0 }, null) } });
    expect(changed(less, { k: 0, inside: 0 }, null)).toEqual([high]);
  });
  test("is changed as it is by then, and a clause of another kind is left alone", () => {
    const before = layer("one", { rule: { clauses: [steep] } });
    const meanwhile = recipe(layer("one", { rule: { clauses: [steep, high] } }));
    const add = inRule(before, (now) => added(now, broken));
    expect(add(meanwhile).layers[0]?.rule.clauses).toEqual([steep, high, broken]);
    const softer = withClause(before, { k: 0 }, { ...steep, soft_lower: 9 });
    expect(softer(meanwhile).layers[0]?.rule.clauses).toEqual([{ ...steep, soft_lower: 9 }, high]);
    const other = recipe(layer("one", { rule: { clauses: [made.path("lane", "Lane")] } }));
    expect(softer(other)).toEqual(other);
  });
  test("reads on from one clause to the next", () => {
    expect(joining(steep, true)).toBe("");
    expect(joining({ ...steep, join: "except" }, true)).toBe("everywhere except ");
    expect(joining({ ...steep, join: "add" }, false)).toBe(", and added ");
    expect(joining(broken, false)).toBe(", broken up by ");
  });
});

test("what a clause refers to is named when it is gone", () => {
  const shown = recipe(layer("base"));
  expect(goneName(made.path("lane", "Old lane"), shown)).toBe("Old lane");
  for (const kind of CATALOGUE.clauses)
    for (const where of kind.refers) {
      expect(goneName(made.about(kind, where, { id: "lost1", name: "Lost" }), shown)).toBe("Lost");
      const there = goneName(made.about(kind, where, { id: "base", name: "base" }), shown);
      expect(there).toBe(where === "layer" ? null : "base");
    }
  expect(goneName(steep, shown)).toBeNull();
});

describe("new marks", () => {
  const one = layer("base", { name: "Moss" });
  test("are painted in beside what the rule lets in already, or alone where it has none", () => {
    const ruled = layer("top", { name: "Moss", rule: { clauses: [steep] } });
    const { id, change } = withMask(recipe(one, ruled), ruled, "in", 0.25);
    const after = change(recipe(one, ruled));
    expect(after.layers[1]?.rule.clauses[1]).toMatchObject({
      kind: "painted",
      mask: id,
      called: "Paint of Moss",
      join: "add",
    });
    expect(readers(after, id)).toEqual(["Moss"]);
    expect(withMask(after, ruled, "in", 0.25).name).toBe("Paint of Moss 2");
    expect(withMask(recipe(one), one, "in", 0.25).change(recipe(one)).layers[0]?.rule.clauses[0]?.join).toBe("and");
    expect(withMask(recipe(one), one, "out", 0.25).change(recipe(one)).layers[0]?.rule.clauses[0]?.join).toBe("except");
  });
  test("lie on the ground", () => {
    const after = withPath(recipe(one), one, "in").change(recipe(one));
    for (const point of after.marks.paths[0]?.points ?? []) {
      expect(point.east_m).toBeGreaterThanOrEqual(0);
      expect(point.east_m).toBeLessThanOrEqual(1000);
    }
  });
});

describe("groups", () => {
  const shown = recipe(
    layer("one", { group: "Slate" }),
    layer("two"),
    layer("three", { group: "Slate" }),
    layer("four", { group: "Slate" }),
  );
  test("are runs of neighbours, from the top down", () => {
    expect(runsOf(shown.layers).map((run) => [run.group, run.layers.map((each) => each.layer.id)])).toEqual([
      ["Slate", ["four", "three"]],
      ["", ["two"]],
      ["Slate", ["one"]],
    ]);
  });
  test("take a layer in beside the others", () => {
    expect(grouped(shown, "two", "Slate").layers.map((each) => each.id)).toEqual(["one", "three", "four", "two"]);
    expect(grouped(shown, "four", "").layers.at(-1)?.group).toBe("");
    expect(inGroup(shown, "Slate", (each) => ({ ...each, on: false })).layers.filter((each) => !each.on)).toHaveLength(
      3,
    );
  });
});

test("a long sentence folds what is alike, and a short one nothing", () => {
  const kept: Clause[] = Array.from({ length: 7 }, (_, k) => ({
    ...made.painted(`mask${k}`, `Mask ${k}`),
    join: "except",
  }));
  expect(foldedRuns([steep, ...kept, broken])).toEqual([
    { from: 0, to: 1, hidden: 0 },
    { from: 1, to: 8, hidden: 5 },
    { from: 8, to: 9, hidden: 0 },
  ]);
  expect(foldedRuns([steep, ...kept.slice(0, 5)]).every((run) => run.hidden === 0)).toBe(true);
  expect(foldedRuns([])).toEqual([]);
});

test("a rule that was found takes a mask's place: alone as it is, among other clauses in brackets", () => {
  const slope = steep;
  const height = { ...high, join: "except" as const };
  const mask = { ...made.noise(), join: "or" as const };
  const alone = layer("layer123", { rule: { clauses: [{ ...mask, join: "and" }] } });
  expect(ruled(alone, 0, [slope, height])).toEqual([slope, height]);
  const among = layer("layer123", { rule: { clauses: [slope, mask] } });
  expect(ruled(among, 1, [slope])).toEqual([slope, { ...slope, join: "or" }]);
  const [first, bracket] = ruled(among, 1, [slope, height]);
  expect(first).toEqual(slope);
  expect(bracket).toMatchObject({ kind: "bracket", join: "or", clauses: [slope, height] });
  expect(ruled(among, 1, [])).toEqual([slope, mask]);
});
