/** One picture in step with what is wanted: small while moving, full at rest, never stuck. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import { PictureLoop, type Wanted } from "../src/rooms/cover/picture-loop";
import { layer, recipe } from "./samples";

interface Asked {
  request: api.PictureRequest;
  signal: AbortSignal;
  answer: () => void;
  refuse: (error: Error) => void;
}
let asked: Asked[];
let seen: { of: Wanted; resting: boolean }[];
let troubles: (string | null)[];
let loop: PictureLoop;

const wanted = (mode: Wanted["mode"] = "lit"): Wanted => ({
  recipe: recipe(layer("low")),
  stand: "far",
  width_px: 640,
  height_px: 380,
  mode,
  layer: -1,
  preview: false,
  measure: null,
  radius_m: null,
});
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const at = (k: number): Asked => {
  const one = asked[k];
  if (!one) throw new Error(`only ${asked.length} pictures were asked for`);
  return one;
};

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("window", globalThis);
  [asked, seen, troubles] = [[], [], []];
  vi.spyOn(api, "picture").mockImplementation(
    (request, signal) =>
      new Promise((done, refuse) => {
        signal.addEventListener("abort", () => refuse(new DOMException("stopped", "AbortError")));
        asked.push({
          request,
          signal,
          refuse,
          answer: () => done({ url: "blob:x", distanceM: 1, mmPerPixel: 1, serverMs: 1, peg: null }),
        });
      }),
  );
  loop = new PictureLoop(
    (_answer, of, resting) => seen.push({ of, resting }),
    (message) => troubles.push(message),
  );
});
afterEach(() => {
  loop.end();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

test("a change is shown small at once, then in full", async () => {
  const lit = wanted();
  loop.want(lit, false);
  expect(at(0).request).toMatchObject({ width_px: 320, height_px: 190, resting: false });
  at(0).answer();
  await pass(200);
  expect(at(1).request).toMatchObject({ width_px: 640, height_px: 380, resting: true });
  at(1).answer();
  await pass(0);
  expect(seen).toEqual([
    { of: lit, resting: false },
    { of: lit, resting: true },
  ]);
});

test("during a drag one small picture is under way at a time, and the newest is never skipped", async () => {
  const wants = Array.from({ length: 6 }, () => wanted());
  for (const one of wants) loop.want(one, true);
  expect(asked).toHaveLength(1);
  at(0).answer();
  await pass(0);
  expect(asked).toHaveLength(2);
  at(1).answer();
  await pass(0);
  expect(asked).toHaveLength(2);
  expect(seen.at(-1)?.of).toBe(wants.at(-1));
});

test("a change drops the full picture that is under way", async () => {
  loop.want(wanted(), false);
  at(0).answer();
  await pass(200);
  const next = wanted("colour");
  loop.want(next, false);
  expect(at(1).signal.aborted).toBe(true);
  at(2).answer();
  await pass(200);
  at(3).answer();
  await pass(0);
  expect(seen.at(-1)).toEqual({ of: next, resting: true });
  expect(troubles.filter(Boolean)).toEqual([]);
});

test("a full picture that the server stopped for another request is asked for again", async () => {
  const lit = wanted();
  loop.want(lit, false);
  at(0).answer();
  await pass(200);
  at(1).refuse(new api.ServerError("A newer request took its place.", 410, null));
  await pass(200);
  expect(at(2).request.resting).toBe(true);
  at(2).answer();
  await pass(0);
  expect(seen.at(-1)).toEqual({ of: lit, resting: true });
});

test("trouble is said once and cleared by the next picture", async () => {
  loop.want(wanted(), false);
  at(0).refuse(new Error("The server does not answer."));
  await pass(200);
  expect(troubles).toEqual(["The server does not answer."]);
  at(1).answer();
  await pass(0);
  expect(troubles.at(-1)).toBeNull();
});

test("nothing is asked for or shown once the picture is gone", async () => {
  loop.want(wanted(), false);
  loop.end();
  at(0).answer();
  await pass(1000);
  expect(asked).toHaveLength(1);
  expect(seen).toEqual([]);
});
