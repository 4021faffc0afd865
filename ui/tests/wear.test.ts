/** Wear in the column: on which layer it stands, how it is moved, what becomes of it when its layer goes. */

import { describe, expect, it } from "vitest";
import type { Recipe, Wear } from "../src/generated/recipe";
import { lyingOf } from "../src/rooms/cover/lie";
import { laidOn, shifted, standsOn, wearsOn, withoutLayer } from "../src/rooms/cover/wear/wear-order";
import { inRuled, inWear, useSite } from "../src/state/site";
import { layer, recipe } from "./samples";

function wear(id: string, place: string | null, part: Partial<Wear> = {}): Wear {
  return {
    id,
    name: id,
    on: true,
    place,
    over: [],
    rule: { clauses: [] },
    strength: 1,
    source: { kind: "made", what: "smears", seed: 1, controls: {} },
    range: { turned: false, none_at: 0, full_at: 1, soft: 0 },
    follows: { kind: "ground" },
    lie: layer("like").fit,
    by_relief: { where: "everywhere", level: 0.5, soft: 0.3 },
    effects: { roughness: null, metallic: null, colour: null, relief: null, worn_through: null },
    ...part,
  };
}

const site: Recipe = {
  ...recipe(layer("low"), layer("mid"), layer("top")),
  wears: [wear("dirt", "low"), wear("cracks", "low"), wear("dust", null)],
};
const order = (one: Recipe) => one.layers.map((each) => wearsOn(one, each.id).map((w) => w.id));

describe("wear in the column", () => {
  it("stands on the layer it names, or on the topmost", () => {
    expect(order(site)).toEqual([["dirt", "cracks"], [], ["dust"]]);
    expect(standsOn(site, wear("lost", "gone"))).toBe("top");
    expect(standsOn({ ...site, layers: [] }, wear("any", null))).toBeNull();
  });

  it("is moved one place at a time, first past its neighbours and then onto the next layer", () => {
    const once = shifted(site, "dirt", 1);
    expect(order(once)).toEqual([["cracks", "dirt"], [], ["dust"]]);
    const twice = shifted(once, "dirt", 1);
    expect(order(twice)).toEqual([["cracks"], ["dirt"], ["dust"]]);
    const thrice = shifted(twice, "dirt", 1);
    expect(order(thrice)).toEqual([["cracks"], [], ["dirt", "dust"]]);
    expect(order(shifted(shifted(thrice, "dirt", -1), "dirt", -1))).toEqual([["cracks", "dirt"], [], ["dust"]]);
    expect(shifted(site, "dirt", -1)).toEqual(site);
    expect(order(shifted(site, "dust", 1))).toEqual(order(site));
  });

  it("is laid over what stands on a layer already", () => {
    expect(order(laidOn(site, "dust", "low"))).toEqual([["dirt", "cracks", "dust"], [], []]);
  });

  it("comes to lie on the layer below when its own is removed", () => {
    expect(order(withoutLayer({ ...site, wears: [wear("dirt", "mid")] }, "mid"))).toEqual([["dirt"], []]);
    expect(order(withoutLayer(site, "low"))).toEqual([["dirt", "cracks"], ["dust"]]);
  });

  it("has a rule and a lie of its own that are changed as a layer's are", () => {
    const clause = { kind: "noise" } as unknown as Wear["rule"]["clauses"][number];
    const ruled = inRuled("cracks", (one) => ({ ...one.rule, clauses: [clause] }))(site);
    expect(ruled.wears.map((one) => one.rule.clauses.length)).toEqual([0, 1, 0]);
    expect(ruled.layers).toEqual(site.layers);
    const moved = lyingOf(site, "cracks")?.change({ tile_m: 9 })(site);
    expect(moved?.wears.map((one) => one.lie.tile_m)).toEqual([2, 9, 2]);
    expect(
      lyingOf(site, "mid")
        ?.change({ tile_m: 9 })(site)
        .layers.map((one) => one.fit.tile_m),
    ).toEqual([2, 9, 2]);
    const levels = inWear("cracks", (one) => ({ ...one, follows: { kind: "levels" } as unknown as Wear["follows"] }))(
      site,
    );
    expect(lyingOf(levels, "cracks")).toBeNull();
  });
});

describe("looking at wear alone", () => {
  it("looks at the mask of what is selected, and at no overlay without a wear", () => {
    useSite.setState({ shown: site, selected: "low", mode: "presence" });
    useSite.getState().select("cracks");
    expect(useSite.getState().mode).toBe("wear");
    useSite.getState().look("overlay");
    useSite.getState().select("dust");
    expect(useSite.getState().mode).toBe("overlay");
    useSite.getState().select("mid");
    expect(useSite.getState().mode).toBe("lit");
  });
});
