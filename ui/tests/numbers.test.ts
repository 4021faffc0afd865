/** Numbers as people type and drag them, and clauses with their limits. */

import { describe, expect, test } from "vitest";
import { onSteps, shown, typedNumber } from "../src/parts/number";
import { percent } from "../src/rooms/cover/column";
import { limit, measureOf, newClause, soft, withLimit, withSoft } from "../src/rooms/cover/clauses";

const range = { lowest_m: 0, highest_m: 100 };

describe("typing", () => {
  test.each([
    ["6.5", 6.5], ["6,5 m", 6.5], [" −12 ° ", -12], ["1e2", 100], ["30m", 30],
  ])("%s is understood", (text, value) => expect(typedNumber(text, -100, 100)).toBe(value));
  test.each(["", "m", "twelve", "101", "-101", "1.2.3", "NaN", "Infinity"])("%s is refused", (text) =>
    expect(typedNumber(text, -100, 100)).toBeNull());
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

describe.each(["slope", "elevation"] as const)("a clause of %s", (name) => {
  const clause = newClause(name, range);
  test("begins with a lower limit, soft, inside this ground's range", () => {
    const lower = limit(clause, "lower");
    expect(lower).not.toBeNull();
    expect(lower).toBeGreaterThanOrEqual(measureOf(name, range).least);
    expect(lower).toBeLessThanOrEqual(measureOf(name, range).most);
    expect(limit(clause, "upper")).toBeNull();
    expect(soft(clause, "lower")).toBeGreaterThan(0);
  });
  test("takes each limit and softness without touching the others", () => {
    const changed = withSoft(withLimit(clause, "upper", 77), "upper", 3);
    expect([limit(changed, "upper"), soft(changed, "upper")]).toEqual([77, 3]);
    expect([limit(changed, "lower"), soft(changed, "lower")]).toEqual([limit(clause, "lower"), soft(clause, "lower")]);
  });
  test("stops a limit at the other one", () => {
    const both = withLimit(withLimit(clause, "lower", 20), "upper", 60);
    expect(limit(withLimit(both, "lower", 80), "lower")).toBe(60);
    expect(limit(withLimit(both, "upper", 5), "upper")).toBe(20);
    expect(limit(withLimit(both, "upper", null), "upper")).toBeNull();
  });
});
