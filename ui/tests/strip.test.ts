import { expect, test } from "vitest";
import { cellsOf, fiveOf, layOutNumber, nearestFirst, siteWith, useStrip, type Asked } from "../src/judging/strip";
import { useSite } from "../src/state/site";
import type { Recipe } from "../src/generated/recipe";

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

const number = (label: string, value: number, show: (value: number) => (recipe: Recipe) => Recipe): Asked => ({
  ...tile,
  label,
  unit: "m",
  value,
  onMove: (next) => useSite.getState().preview(show(next)),
  onKeep: () => undefined,
});

test("a second number makes a sheet of both, what is first in its middle, and each picture has both values", () => {
  const east = number("East", 2, (east_m) => (recipe) => ({ ...recipe, peg: { ...recipe.peg, east_m } }));
  const north = number("North", 4, (north_m) => (recipe) => ({ ...recipe, peg: { ...recipe.peg, north_m } }));
  layOutNumber(east);
  expect(useStrip.getState()).toMatchObject({ asked: { label: "East" }, second: null });
  layOutNumber(north);
  expect(useStrip.getState()).toMatchObject({ asked: { label: "East" }, second: { label: "North" } });
  const cells = cellsOf(east, north, 1);
  expect(cells).toHaveLength(25);
  expect(cells[12]).toEqual({ value: 2, other: 4 });
  const order = nearestFirst(cells, east, north);
  expect(order[0]).toEqual({ value: 2, other: 4 });
  expect(new Set(order.slice(21).map((one) => `${one.value} ${one.other ?? ""}`))).toEqual(
    new Set([cells[0], cells[4], cells[20], cells[24]].map((one) => `${one?.value ?? ""} ${one?.other ?? ""}`)),
  );
  const site = { peg: { east_m: 0, north_m: 0 } } as Recipe;
  expect(siteWith(site, { value: 1, other: 8 }, east, north).peg).toEqual({ east_m: 1, north_m: 8 });
  expect(siteWith(site, { value: 1, other: null }, east, null).peg).toEqual({ east_m: 1, north_m: 0 });
});
