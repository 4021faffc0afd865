/** A small recipe and a site as the server answers with it. */

import { CATALOGUE } from "../src/generated/catalogue";
import type { SiteState } from "../src/api/types";
import { inLayer } from "../src/state/site";
import { newFit, newLayer } from "../src/rooms/cover/new-layer";
import type { Layer, Recipe } from "../src/generated/recipe";

export function layer(id: string, part: Partial<Layer> = {}): Layer {
  return {
    id,
    name: id,
    set: "a".repeat(64),
    on: true,
    opacity: 1,
    group: "",
    rule: { clauses: [] },
    fit: newFit(2, 0.1),
    edge: { ...CATALOGUE.layer.edge, width_m: 0.05, fingers: 0 },
    look: newLayer({ name: "", title: "", tileM: 2, reliefM: 0.1 }).look,
    ...part,
  };
}

export function recipe(...layers: Layer[]): Recipe {
  const stand = { bearing_deg: 0, tilt_deg: 20, distance_m: 50, view_deg: 38 };
  return {
    version: 10,
    ground: {
      width_m: 1000,
      depth_m: 1000,
      source: { kind: "flat", samples: 65, level_m: 0 },
      steps: [],
      picture: null,
      upright: null,
    },
    layers,
    wears: [],
    things: [],
    strews: [],
    set_things: [],
    waved: [],
    references: [],
    marks: { masks: [], paths: [], images: [] },
    kept_rules: [],
    peg: { east_m: 500, north_m: 500 },
    stands: { far: stand, mid: stand, near: stand },
  } as unknown as Recipe;
}

export function state(revision: number, shown: Recipe, id = "site"): SiteState {
  return {
    id,
    title: "A site",
    revision,
    recipe: shown,
    changedAt: "2026-01-01T00:00:00Z",
    undo: revision > 1 ? "something" : null,
    redo: null,
  };
}

export const opacity = (id: string, value: number) => inLayer(id, (one) => ({ ...one, opacity: value }));
