/** Changes of steps as changes of the recipe: only the step named changes, and nothing else of the site. */

import { CATALOGUE } from "../src/generated/catalogue";
import { expect, test } from "vitest";
import type { Recipe } from "../src/generated/recipe";
import { newStep, type Step } from "../src/rooms/ground/step-kinds";
import { inStep, withSteps } from "../src/state/steps";
import { complaint, sizeText } from "../src/true-size";
import { recipe } from "./samples";

const smooth: Step = { ...newStep("smooth", CATALOGUE.nominal), id: "smooth1" };
const settle: Step = { ...newStep("settle", CATALOGUE.nominal), id: "settle1" };
const site: Recipe = withSteps(() => [smooth, settle])(recipe());

test("a step is changed by its id, others and the rest of the site stay the very same", () => {
  const changed = inStep("settle1", { repose_deg: 20 })(site);
  expect(changed.ground.steps[0]).toBe(smooth);
  expect(changed.ground.steps[1]).toEqual({ ...settle, repose_deg: 20 });
  expect(changed.layers).toBe(site.layers);
  expect(changed.ground.source).toBe(site.ground.source);
  expect(site.ground.steps[1]).toBe(settle);
});

test("a step that is not there changes nothing", () => {
  expect(inStep("gone", { strength: 0 })(site)).toEqual(site);
});

test("a change may look at the step it is of", () => {
  const halved = inStep("smooth1", (step) => ({ ...step, strength: step.strength / 2 }))(site);
  expect(halved.ground.steps.map((step) => step.strength)).toEqual([0.5, 1]);
});

test.each([
  [{ width_m: 100, depth_m: 50, lowest_m: 0, highest_m: 10 }, null],
  [{ width_m: NaN, depth_m: 50, lowest_m: 0, highest_m: 10 }, "expected numbers"],
  [{ width_m: 0, depth_m: 50, lowest_m: 0, highest_m: 10 }, "expected a width and a depth above 0 m"],
  [{ width_m: 3e5, depth_m: 50, lowest_m: 0, highest_m: 10 }, "expected at most 200 km"],
  [{ width_m: 100, depth_m: 50, lowest_m: 10, highest_m: 10 }, "expected the highest above the lowest"],
])("a true size %o is answered with %s", (size, said) => expect(complaint(size)).toBe(said));

test("sizes are said in metres or kilometres", () => {
  expect([sizeText(24, 16), sizeText(1200, 1200), sizeText(2000, 500)]).toEqual([
    "24 × 16 m",
    "1.2 × 1.2 km",
    "2 × 0.5 km",
  ]);
});
