/** Numbers as people type and drag them, and clauses with their limits. */

import { CATALOGUE } from "../src/generated/catalogue";
import { describe, expect, test } from "vitest";
import { metresBetween, onSteps, shown, typedNumber } from "../src/parts/number";
import { reordered } from "../src/parts/drag-handle";
import { percent } from "../src/rooms/cover/column";
import { valueText } from "../src/rooms/ground/values";
import { MEASURES, newLimit, softOf, withLimit, withSoft } from "../src/rooms/cover/clauses";

describe("typing", () => {
  test.each([
    ["6.5", 6.5],
    ["6,5 m", 6.5],
    [" −12 ° ", -12],
    ["1e2", 100],
    ["30m", 30],
  ])("%s is understood", (text, value) => expect(typedNumber(text, -100, 100)).toBe(value));
  test.each(["", "m", "twelve", "101", "-101", "1.2.3", "NaN", "Infinity"])("%s is refused", (text) =>
    expect(typedNumber(text, -100, 100)).toBeNull(),
  );
});

describe("dragging", () => {
  test("values fall on whole steps without the crumbs of binary fractions", () => {
    expect(onSteps(0.1 + 0.2, 0.1, 0, 1)).toBe(0.3);
    expect(onSteps(31.26, 0.5, 0, 90)).toBe(31.5);
  });
  test("and stay between their limits", () => {
    expect(onSteps(-4, 0.5, 0, 90)).toBe(0);
    expect(onSteps(99, 0.5, 0, 90)).toBe(90);
  });
});

test("shown numbers have a true minus and never a minus zero", () => {
  expect(shown(-3.14, 1)).toBe("−3.1");
  expect(shown(-0.001, 2)).toBe("0.00");
});

test("a share that is small is not shown as none, and none is", () => {
  expect([0, 0.0004, 0.015, 0.37, 1].map(percent)).toEqual(["0%", "<0.1%", "1.5%", "37%", "100%"]);
});

describe.each(MEASURES)("a clause of %s", (name) => {
  const clause = newLimit(name, CATALOGUE.nominal);
  test("takes each limit and softness without touching the others", () => {
    const changed = withSoft(withLimit({ ...clause, lower: 1, upper: null }, "upper", 77), "upper", 3);
    expect([changed.lower, changed.upper, softOf(changed, "upper")]).toEqual([1, 77, 3]);
    expect(softOf(changed, "lower")).toBe(softOf(clause, "lower"));
  });
});

test("a limit stops at the other one, but a facing goes round through north", () => {
  const both = withLimit(withLimit(newLimit("slope", CATALOGUE.nominal), "lower", 20), "upper", 60);
  expect(withLimit(both, "lower", 80).lower).toBe(60);
  expect(withLimit(both, "upper", 5).upper).toBe(20);
  expect(withLimit(both, "upper", null).upper).toBeNull();
  const facing = withLimit(withLimit(newLimit("aspect", CATALOGUE.nominal), "lower", 300), "upper", 40);
  expect([facing.lower, facing.upper]).toEqual([300, 40]);
});

test("a list is reordered without losing or doubling anything", () => {
  expect(reordered(["a", "b", "c", "d"], 0, 2)).toEqual(["b", "c", "a", "d"]);
  expect(reordered(["a", "b", "c", "d"], 3, 0)).toEqual(["d", "a", "b", "c"]);
  expect(reordered(["a", "b"], 1, 9)).toEqual(["a", "b"]);
  expect(reordered(["a", "b"], 1, -3)).toEqual(["b", "a"]);
  expect(reordered(["a", "b"], 5, 0)).toEqual(["a", "b"]);
});

test.each([
  [1234567, "m²", "1.23 km²"],
  [12.345, "m²", "12.3 m²"],
  [0.0042, "1/m", "0.0042 1/m"],
  [-31.26, "°", "−31.3°"],
  [0, "m", "0 m"],
])("%f %s reads %s", (value, unit, text) => expect(valueText(value, unit)).toBe(text));

test.each([
  [0.021, 0.299, "0.02–0.30 m"],
  [-1.25, 6, "−1.3–6.0 m"],
  [83.2, 227.6, "83–228 m"],
])("heights %f to %f are told as %s", (low, high, told) => {
  expect(metresBetween(low, high)).toBe(told);
});
