import { expect, test } from "vitest";
import { fiveOf } from "../src/judging/strip";

const tile = { value: 2, least: 0.05, most: 200, step: 0.05, decades: true };

test("five values lie about the one that is, in ratios where the number spans decades", () => {
  expect(fiveOf(tile, 1)).toEqual([1, 1.45, 2, 2.8, 3.9]);
  expect(fiveOf(tile, 0.5)[1]).toBeGreaterThan(1.45);
  expect(fiveOf({ value: 0, least: -180, most: 180, step: 1, decades: false }, 1)).toEqual([-90, -45, 0, 45, 90]);
});

test("the ends of the scale cut values off, and none stands twice", () => {
  expect(fiveOf({ value: 1, least: 0, most: 1, step: 0.01, decades: false }, 1)).toEqual([0.75, 0.88, 1]);
  expect(new Set(fiveOf({ ...tile, value: 0.05 }, 0.1)).size).toBe(fiveOf({ ...tile, value: 0.05 }, 0.1).length);
});
