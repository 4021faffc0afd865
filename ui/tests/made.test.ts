/** Whatever the page begins is a recipe as the models have it: held against the schema that they publish. */

import Ajv2020 from "ajv/dist/2020";
import { expect, test } from "vitest";
import { CATALOGUE } from "../src/generated/catalogue";
import type { Layer, Recipe } from "../src/generated/recipe";
import { made, MEASURES, onMeasure, type Clause } from "../src/rooms/cover/clauses";
import { newLayer } from "../src/rooms/cover/new-layer";
import { withMask, withPath } from "../src/rooms/cover/new-marks";
import { newStep, ORDER } from "../src/rooms/ground/step-kinds";
import schema from "../../docs/recipe.schema.json";
import * as samples from "./samples";

const fits = new Ajv2020({ strict: false, allErrors: true }).compile(schema);
const SIZES = [
  [0.5, 0.5],
  [24, 16],
  [1200, 1200],
  [120_000, 90_000],
] as const;

function complaints(whole: Recipe): string[] {
  fits(whole);
  return (fits.errors ?? []).map((one) => `${one.instancePath} ${one.message ?? ""}`);
}

const layer = (more: Partial<Layer> = {}): Layer =>
  samples.layer("Slate", { id: "layer0001", set: "5".repeat(40), ...more });

/** A whole recipe: what the samples of other tests leave out is as the page has it of the server. */
function recipe(...layers: Layer[]): Recipe {
  const light: Recipe["light"] = {
    sun_bearing_deg: 235,
    sun_height_deg: 34,
    when: null,
    sun: 1,
    sun_width_deg: 0.53,
    sky: 1,
    overcast: 0,
    exposure_ev: 0,
    visibility_km: null,
    scale_height_m: 4000,
    mist: { on: false, top_m: 0, soft_m: 10, visibility_m: 400, colour: "#ffffff" },
    image: null,
    beyond: "ground",
  };
  const water: Recipe["water"] = {
    on: false,
    level_m: 0,
    clarity_m: 1.5,
    colour: "#7f8f6a",
    ripple_m: 0.004,
    ripple_bearing_deg: 250,
    wet_m: 0.12,
  };
  return { ...samples.recipe(...layers), format: "elvatch-recipe", light, water, shots: [], sheets: [] };
}

const ruled = (clause: Clause) => recipe(layer({ rule: { clauses: [clause] } }));

test("a recipe of a sample is one, and the schema notices what is not", () => {
  expect(complaints(recipe(layer()))).toEqual([]);
  const wrong = ruled({ ...made.noise(), size_m: -1 } as Clause);
  expect(complaints(wrong).join()).toContain("size_m");
  expect(complaints({ ...recipe(), peg: { east_m: 0, north_m: 0, up: 1 } } as unknown as Recipe)).not.toEqual([]);
});

test.each(ORDER)("a new step: %s", (kind) => {
  const whole = recipe();
  expect(complaints({ ...whole, ground: { ...whole.ground, steps: [newStep(kind, CATALOGUE.nominal)] } })).toEqual([]);
});

test.each(MEASURES)("a new clause on %s", (name) => {
  expect(complaints(ruled(onMeasure(name, CATALOGUE.nominal)))).toEqual([]);
});

test("new clauses of every other kind", () => {
  const id = "abcd1234";
  const every = [
    made.noise(),
    made.painted(id, "Paint"),
    made.path(id, "Path"),
    made.image(id, "Image", "brightness"),
    ...CATALOGUE.clauses.flatMap((kind) => kind.refers.map((where) => made.about(kind, where, { id, name: "Part" }))),
    made.bracket(made.noise()),
  ];
  for (const clause of every) expect(complaints(ruled(clause))).toEqual([]);
});

test("a new layer, and new marks", () => {
  const set = { name: "5".repeat(40), title: "A name of some length ".repeat(9).slice(0, 80), tileM: 2, reliefM: 0.05 };
  expect(complaints(recipe(newLayer(set, [onMeasure("slope", CATALOGUE.nominal), made.noise()])))).toEqual([]);
  const one = layer({ name: "x".repeat(80) });
  for (const way of ["in", "out"] as const) {
    expect(complaints(withMask(recipe(one), one, way, 0.25).change(recipe(one)))).toEqual([]);
    for (const [width_m, depth_m] of SIZES) {
      const whole = { ...recipe(one), peg: { east_m: 0, north_m: 0 } };
      const sized = { ...whole, ground: { ...whole.ground, width_m, depth_m } };
      expect(complaints(withPath(sized, one, way).change(sized))).toEqual([]);
    }
  }
});
