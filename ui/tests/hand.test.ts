/** What the hand does before the server answers, and what keys step before they rest, is not lost. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Spot } from "../src/api/types";
import { FitHand } from "../src/rooms/cover/fit-hand";
import { ofLayer } from "../src/rooms/cover/lie";
import { resting, settle } from "../src/state/resting";
import { useSite } from "../src/state/site";
import { layer, recipe, state } from "./samples";

const spot = (eastM: number, northM: number): Spot => ({ eastM, northM, elevationM: 0, slopeDeg: 0, measures: {} });
const start = recipe(layer("mud"));
const mud = layer("mud");
const kept: string[] = [];
let answers: ((spot: Spot) => void)[];
const ask = () => new Promise<Spot>((answer) => answers.push(answer));
const fit = () => useSite.getState().shown?.layers[0]?.fit;
const tick = () => vi.advanceTimersByTimeAsync(0);

beforeEach(() => {
  vi.useFakeTimers();
  answers = [];
  kept.length = 0;
  useSite.setState({
    state: state(1, start),
    shown: start,
    selected: "mud",
    moving: false,
    keep: (label) => void kept.push(label),
  });
});
afterEach(() => {
  settle();
  vi.useRealTimers();
});

test("a turn that ends before its place is known is shown and kept when it is", async () => {
  const hand = new FitHand();
  hand.begin(ofLayer(mud), 100, true, [0.5, 0.5], ask);
  hand.move(150, [0.6, 0.5], ask);
  hand.end();
  expect(hand.holds).toBe(false);
  expect(kept).toEqual([]);
  answers[0]?.(spot(0, 0));
  await tick();
  expect(fit()?.turn_deg).toBe(-20);
  expect(kept).toEqual(["mud: turned on the ground"]);
});

test("a drag ends where the hand let go, though places in between were skipped", async () => {
  const hand = new FitHand();
  hand.begin(ofLayer(mud), 0, false, [0, 0], ask);
  answers[0]?.(spot(10, 10));
  await tick();
  for (const x of [1, 2, 3]) hand.move(x, [x / 10, 0], ask);
  hand.end();
  expect(answers).toHaveLength(2);
  answers[1]?.(spot(11, 10));
  await tick();
  expect(kept).toEqual([]);
  answers[2]?.(spot(13, 10));
  await tick();
  expect(fit()?.offset_east_m).toBe(3);
  expect(kept).toEqual(["mud: moved on the ground"]);
});

test("a hand that was dropped does nothing with a late answer", async () => {
  const hand = new FitHand();
  hand.begin(ofLayer(mud), 100, true, [0.5, 0.5], ask);
  hand.move(150, [0.6, 0.5], ask);
  hand.drop();
  answers[0]?.(spot(0, 0));
  await tick();
  expect(fit()?.turn_deg).toBe(0);
  expect(kept).toEqual([]);
});

test("a run of steps is kept once, the last of them, when the keys rest", () => {
  const rest = resting();
  for (const value of [1, 2, 3]) {
    rest.later(() => kept.push(`${value}`));
    vi.advanceTimersByTime(200);
  }
  expect(kept).toEqual([]);
  vi.advanceTimersByTime(400);
  expect(kept).toEqual(["3"]);
});

test("what waits is kept before anything else is, in the order in which it was stepped, and once", () => {
  const [one, other] = [resting(), resting()];
  one.later(() => kept.push("one"));
  other.later(() => kept.push("other"));
  settle();
  vi.advanceTimersByTime(1000);
  expect(kept).toEqual(["one", "other"]);
});
