/** The ground as shaped: one job for the ground shown, ready only when it is that very one. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import type { GroundFacts, Job } from "../src/api/types";
import type { Ground } from "../src/generated/recipe";
import { useShaping } from "../src/state/ground";
import { recipe } from "./samples";

interface Begun {
  ground: Ground;
  answer: (job: Job) => void;
}
let begun: Begun[];
let polls: Record<string, Job>;
let cancelled: string[];

const ground = (width_m: number): Ground => ({ ...recipe().ground, width_m });
const job = (id: string, state: Job["state"], shareDone = 0): Job => ({
  id,
  title: "",
  state,
  shareDone,
  secondsLeft: null,
  message: "it failed",
  stepsDone: 0,
  steps: 0,
  result: {},
});
const facts = (rows: number) => ({ rows, lowestM: 0, highestM: 1 }) as GroundFacts;
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const shaping = () => useShaping.getState();

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("window", globalThis);
  [begun, polls, cancelled] = [[], {}, []];
  vi.spyOn(api, "shapeGround").mockImplementation((of) => new Promise((answer) => begun.push({ ground: of, answer })));
  vi.spyOn(api, "job").mockImplementation((id) => Promise.resolve(polls[id] ?? job(id, "running", 0.5)));
  vi.spyOn(api, "cancelJob").mockImplementation((id) => {
    cancelled.push(id);
    return Promise.resolve(job(id, "cancelled"));
  });
  vi.spyOn(api, "groundFacts").mockImplementation((_of, preview) => Promise.resolve(facts(preview ? 257 : 1025)));
  shaping().forget();
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

test("a ground is shaped once, however often it is said to be the one shown", async () => {
  for (let k = 0; k < 4; k++) {
    shaping().follow(ground(100), false);
    await pass(60);
  }
  expect(begun).toHaveLength(1);
  begun[0]?.answer(job("a", "running", 0.1));
  await pass(300);
  shaping().follow(ground(100), false);
  await pass(600);
  expect(begun).toHaveLength(1);
  expect(shaping()).toMatchObject({ ready: false, job: { shareDone: 0.5 } });
  polls["a"] = job("a", "done", 1);
  await pass(300);
  expect(shaping()).toMatchObject({ ready: true, facts: { rows: 1025 } });
});

test("another ground takes the place of the one under way, whose job is cancelled", async () => {
  shaping().follow(ground(100), false);
  await pass(1);
  begun[0]?.answer(job("a", "running"));
  await pass(10);
  shaping().follow(ground(200), false);
  expect(shaping().ready).toBe(false);
  expect(cancelled).toEqual(["a"]);
  await pass(400);
  expect(begun.map((one) => one.ground.width_m)).toEqual([100, 200]);
  begun[1]?.answer(job("b", "done", 1));
  polls["a"] = job("a", "done", 1);
  await pass(600);
  expect(shaping()).toMatchObject({ ready: true, job: { id: "b" } });
});

test("while something moves nothing is shaped in full; when it rests a preview's facts are there first", async () => {
  shaping().follow(ground(100), true);
  await pass(500);
  expect(begun).toHaveLength(0);
  expect(shaping()).toMatchObject({ ready: false, facts: null });
  shaping().follow(ground(100), false);
  await pass(1);
  expect(shaping()).toMatchObject({ ready: false, facts: { rows: 257 } });
  await pass(500);
  expect(begun).toHaveLength(1);
});

test("a late answer for a ground that is no longer shown changes nothing", async () => {
  shaping().follow(ground(100), false);
  await pass(1);
  shaping().follow(ground(200), true);
  begun[0]?.answer(job("a", "done", 1));
  await pass(50);
  expect(shaping()).toMatchObject({ ready: false, job: null });
});

test("what failed or was cancelled can be begun again", async () => {
  shaping().follow(ground(100), false);
  await pass(1);
  begun[0]?.answer(job("a", "failed"));
  await pass(10);
  expect(shaping().trouble).toBe("it failed");
  shaping().again();
  expect(shaping().trouble).toBeNull();
  begun[1]?.answer(job("b", "running"));
  await pass(10);
  shaping().cancel();
  expect(cancelled).toEqual(["b"]);
  polls["b"] = job("b", "cancelled");
  await pass(400);
  expect(shaping()).toMatchObject({ ready: false, trouble: null, job: { state: "cancelled" } });
});
