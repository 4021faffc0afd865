import { describe, expect, it } from "vitest";
import type { Spot } from "../src/api/types";
import type { Fit } from "../src/generated/recipe";
import { carried, turnedAbout } from "../src/rooms/cover/fit-hand";
import { newFit } from "../src/rooms/cover/new-layer";
import { runsOf } from "../src/rooms/cover/cut-runs";

const spot = (eastM: number, northM: number, elevationM = 0): Spot => ({
  eastM,
  northM,
  elevationM,
  slopeDeg: 0,
  measures: {},
});

/** Where a place lies on the texture, in metres right and up it, as the core computes it. */
function onTexture(fit: Fit, at: Spot): [number, number] {
  const turn = (fit.turn_deg * Math.PI) / 180;
  const [east, north] = [at.eastM - fit.offset_east_m, at.northM - fit.offset_north_m];
  return [Math.cos(turn) * east + Math.sin(turn) * north, Math.cos(turn) * north - Math.sin(turn) * east];
}

describe("the hand on a texture", () => {
  const fit = { ...newFit(2, 0.1), turn_deg: 30, offset_east_m: 0.4, offset_north_m: -1.2, offset_up_m: 0.5 };

  it("carries what lay under it", () => {
    const [from, to] = [spot(10, 20, 3), spot(11.5, 19.25, 4)];
    const after = { ...fit, ...carried(fit, from, to) };
    expect(onTexture(after, to)[0]).toBeCloseTo(onTexture(fit, from)[0], 3);
    expect(onTexture(after, to)[1]).toBeCloseTo(onTexture(fit, from)[1], 3);
    expect(after.offset_up_m).toBe(0.5);
    const steep = { ...fit, projection: "triplanar" as const };
    expect(carried(steep, from, to).offset_up_m).toBeCloseTo(1.5);
  });

  it("turns it about the place where it was taken", () => {
    const at = spot(7, -3);
    const after = { ...fit, ...turnedAbout(fit, at, 41) };
    expect(after.turn_deg).toBeCloseTo(71);
    expect(onTexture(after, at)[0]).toBeCloseTo(onTexture(fit, at)[0], 3);
    expect(onTexture(after, at)[1]).toBeCloseTo(onTexture(fit, at)[1], 3);
  });

  it("keeps turns within half a circle", () => {
    expect(turnedAbout({ ...fit, turn_deg: 170 }, spot(0, 0), 30).turn_deg).toBeCloseTo(-160);
    expect(turnedAbout({ ...fit, turn_deg: -170 }, spot(0, 0), -30).turn_deg).toBeCloseTo(160);
  });
});

describe("a cut", () => {
  it("is told apart into runs of one layer", () => {
    expect(runsOf([2, 2, 0, 0, 0, 2])).toEqual([
      { layer: 2, from: 0, to: 1 },
      { layer: 0, from: 2, to: 4 },
      { layer: 2, from: 5, to: 5 },
    ]);
    expect(runsOf([])).toEqual([]);
  });
});
