/** Pictures in step with what is wanted: together and small while moving, each in full at rest, never stuck, never backwards. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import type { FrameAsked, StandName } from "../src/api/types";
import { FrameLoop, type Wanted } from "../src/rooms/cover/frame-loop";
import { layer, recipe } from "./samples";

interface Asked {
  request: FrameAsked;
  signal: AbortSignal;
  answer: (serverMs?: number) => void;
  refuse: (error: Error) => void;
}
let asked: Asked[];
let seen: { stand: StandName; widthPx: number; mark: number }[];
let rested: Map<StandName, boolean>;
let troubles: (string | null)[];
let loop: FrameLoop;
let answered: number;
/** What a picture was asked with, told apart by a number that the answer brings back as its distance. */
let mark = 0;

function wanted(stand: StandName, changed: unknown = ++mark, preview = false, density = 1): Wanted {
  const view = { stand, width_px: 640, height_px: 380, mode: "lit" as const, layer: -1, solo: -1, wear: -1 };
  const nothing = { measure: null, radius_m: null, drawn: null, brushed: null };
  const of = recipe(layer("low"));
  return { recipe: of, asked: { preview, ...nothing }, view, density, inputs: [stand, changed], places: [stand] };
}
const both = (far: unknown, near: unknown) =>
  new Map<StandName, Wanted>([
    ["far", wanted("far", far)],
    ["near", wanted("near", near)],
  ]);
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const at = (k: number): Asked => {
  const one = asked[k];
  if (!one) throw new Error(`only ${asked.length} frames were asked for`);
  return one;
};
/** Each is answered, one after the other. */
const answerEach = async (...all: number[]) => {
  for (const k of all) {
    at(k).answer();
    await pass(1);
  }
};
const stands = (k: number) => at(k).request.views.map((view) => view.stand);

beforeEach(() => {
  vi.useFakeTimers();
  [asked, seen, troubles] = [[], [], []];
  rested = new Map();
  [mark, answered] = [0, 0];
  vi.spyOn(api, "frame").mockImplementation(
    (request, signal) =>
      new Promise((done, refuse) => {
        signal.addEventListener("abort", () => refuse(new DOMException("stopped", "AbortError")));
        const pictures = request.views.map((view) => ({
          stand: view.stand,
          widthPx: view.width_px,
          heightPx: view.height_px,
          distanceM: asked.length,
          mmPerPixel: 1,
          peg: null,
          things: 0,
          pixels: {} as ImageData,
        }));
        const answer = (serverMs = 1) => {
          answered += 1;
          done({ serverMs, pictures });
        };
        asked.push({ request, signal, refuse, answer });
      }),
  );
  loop = new FrameLoop({
    picture: (stand, { widthPx, distanceM }) => seen.push({ stand, widthPx, mark: distanceM }),
    rested: (stand, yes) => rested.set(stand, yes),
    trouble: (message) => troubles.push(message),
  });
});
afterEach(() => {
  loop.end("far");
  loop.end("near");
  vi.useRealTimers();
  vi.restoreAllMocks();
});

test("the next picture at rest is asked before the last is drawn, and the first at once", async () => {
  loop.want(both(1, 1), true);
  at(0).answer();
  await pass(0);
  loop.want(both(2, 2), true);
  const before = asked.length;
  loop.want(both(2, 2), false);
  await pass(0);
  expect(asked.length).toBeGreaterThan(before);
  const drawnAt: number[] = [];
  const first = asked.length;
  const push = seen.push.bind(seen);
  seen.push = (...all) => {
    drawnAt.push(asked.length);
    return push(...all);
  };
  expect(at(first - 1).request.resting).toBe(true);
  at(first - 1).answer();
  await pass(0);
  expect(drawnAt).toEqual([first + 1]);
  expect(stands(first)).not.toEqual(stands(first - 1));
});

test("a finer screen sees all in full first, then each as fine as it is; a change begins anew", async () => {
  const fine = (changed: number) =>
    new Map<StandName, Wanted>([
      ["far", wanted("far", changed, false, 2)],
      ["near", wanted("near", changed, false, 2)],
    ]);
  loop.want(fine(1), false);
  await answerEach(0, 1, 2);
  expect(asked.map(({ request }) => request.views.map((view) => view.width_px))).toEqual([
    [320, 320],
    [640],
    [640],
    [1280],
  ]);
  expect([rested.get("far"), rested.get("near")]).toEqual([false, false]);
  loop.want(fine(2), false);
  expect(at(3).signal.aborted).toBe(true);
  await pass(1);
  await answerEach(4, 5, 6, 7, 8);
  expect(seen.slice(4).map(({ stand, widthPx }) => [stand, widthPx])).toEqual(
    [320, 640, 1280].flatMap((widthPx) => [
      ["far", widthPx],
      ["near", widthPx],
    ]),
  );
  expect([rested.get("far"), rested.get("near")]).toEqual([true, true]);
  loop.want(fine(2), false);
  await pass(5000);
  expect(asked).toHaveLength(9);
});

test("a page made small is made with no more pixels than the screen has, in one go", async () => {
  loop.want(new Map([["far", wanted("far", 1, false, 0.4)]]), false);
  await answerEach(0, 1);
  // small ones neither
  expect(seen.map(({ widthPx }) => widthPx)).toEqual([256, 256]);
  expect(rested.get("far")).toBe(true);
});

test("a change is one question for all that it changes, small; then each is asked for in full, that under the pointer first", async () => {
  loop.point("near");
  loop.want(both(1, 1), false);
  expect(asked).toHaveLength(1);
  expect(at(0).request.resting).toBe(false);
  expect(at(0).request.views.map(({ stand, width_px }) => [stand, width_px])).toEqual([
    ["near", 320],
    ["far", 320],
  ]);
  at(0).answer();
  await pass(1);
  expect([at(1).request.resting, stands(1)]).toEqual([true, ["near"]]);
  expect(rested.get("near")).toBe(false);
  at(1).answer();
  await pass(1);
  expect([at(2).request.resting, stands(2)]).toEqual([true, ["far"]]);
  at(2).answer();
  await pass(1);
  expect([rested.get("near"), rested.get("far")]).toEqual([true, true]);
  expect(seen.map(({ stand, widthPx }) => [stand, widthPx])).toEqual([
    ["near", 320],
    ["far", 320],
    ["near", 640],
    ["far", 640],
  ]);
  // nothing changed: nothing more is asked
  loop.want(both(1, 1), false);
  await pass(5000);
  expect(asked).toHaveLength(3);
});

test("only what changed is asked for", async () => {
  loop.want(both(1, 1), true);
  at(0).answer();
  await pass(1);
  loop.want(both(1, 2), true);
  expect(stands(1)).toEqual(["near"]);
});

test("during a drag one question is under way at a time, and the newest is never skipped", async () => {
  for (let k = 1; k <= 6; k += 1) loop.want(both(k, k), true);
  expect(asked).toHaveLength(1);
  at(0).answer();
  await pass(1);
  expect(asked).toHaveLength(2);
  at(1).answer();
  await pass(1);
  expect(asked).toHaveLength(2);
  // a hand that holds still sees them in full
  await pass(400);
  expect(at(2).request.resting).toBe(true);
});

test("a slow server never lets pictures go backwards, nor piles questions up", async () => {
  for (let k = 1; k <= 40; k += 1) {
    loop.want(both(k, k), true);
    await pass(30);
    if (k % 17 === 0) at(asked.length - 1).answer();
    await pass(1);
    expect(asked.length - answered).toBe(1);
  }
  at(asked.length - 1).answer();
  await pass(1);
  const far = seen.filter((one) => one.stand === "far").map((one) => one.mark);
  expect(far).toEqual([...far].sort((a, b) => a - b));
  expect(asked.length).toBeLessThanOrEqual(4);
});

test("when the hand lets go what was under way is given up, and the pictures are made in full at once", async () => {
  loop.want(both(1, 1), true);
  at(0).answer();
  await pass(1);
  loop.want(both(2, 2), true);
  loop.want(both(3, 3), false);
  expect(at(1).signal.aborted).toBe(true);
  await pass(1);
  expect(at(2).request.resting).toBe(true);
  await answerEach(2, 3);
  expect([rested.get("near"), rested.get("far")]).toEqual([true, true]);
});

test("a change drops the full picture that is under way", async () => {
  loop.want(both(1, 1), false);
  at(0).answer();
  await pass(1);
  loop.want(both(2, 1), true);
  expect(at(1).signal.aborted).toBe(true);
  expect([at(2).request.resting, stands(2)]).toEqual([false, ["far"]]);
});

test("what the server stopped for another question is asked for again, and so is what a lost connection took", async () => {
  loop.want(both(1, 1), false);
  at(0).answer();
  await pass(1);
  at(1).refuse(new api.ServerError("A newer request took its place.", 410, null));
  await pass(1100);
  expect(at(2).request.resting).toBe(true);
  at(2).refuse(new api.ServerError("The server does not answer.", 0, null));
  await pass(1);
  expect(troubles.at(-1)).toBe("The server does not answer.");
  await pass(1100);
  at(3).answer();
  await pass(1);
  expect(troubles.at(-1)).toBeNull();
});

test("what was refused is told, and not asked again until something changes", async () => {
  loop.want(both(1, 1), false);
  at(0).refuse(new api.ServerError("layer: found a circle.", 422, null));
  await pass(5000);
  expect([asked.length, troubles.at(-1)]).toEqual([1, "layer: found a circle."]);
  loop.want(both(2, 1), false);
  expect(asked).toHaveLength(2);
});

test("a preview of a ground is never called at rest", async () => {
  loop.want(new Map([["far", wanted("far", 1, true)]]), false);
  at(0).answer();
  await pass(1);
  at(1).answer();
  await pass(1);
  expect(rested.get("far")).toBe(false);
});

test("where sets take long they come smaller the next time, and what they need is made ready meanwhile", async () => {
  loop.want(both(1, 1), true);
  await pass(300);
  at(0).answer();
  await pass(1);
  loop.want(both(1, 1), false);
  await pass(1);
  at(1).answer();
  await pass(1);
  at(2).answer();
  await pass(1);
  expect(at(3).request).toMatchObject({ making_ready: true, resting: false });
  expect(at(3).request.views[0]?.width_px).toBe(224);
  // a change takes its place at once
  loop.want(both(2, 2), true);
  expect(at(3).signal.aborted).toBe(true);
  expect(at(4).request.views[0]?.width_px).toBe(224);
});

test("where sets take far too long they come smaller while the hand still moves; of a ground that moves they do not", async () => {
  const widths = async (preview: boolean) => {
    asked = [];
    const far = () => new Map<StandName, Wanted>([["far", wanted("far", ++mark, preview)]]);
    loop.want(far(), true);
    for (let k = 0; k < 5; k++) {
      await pass(150);
      loop.want(far(), true);
      at(k).answer();
      await pass(0);
    }
    return asked.map((one) => one.request.views[0]?.width_px);
  };
  expect(await widths(true)).toEqual([224, 224, 224, 224, 224, 224]);
  at(5).answer();
  await pass(0);
  // the fourth was asked when the third had been seen to be slow
  expect(await widths(false)).toEqual([320, 320, 320, 224, 224, 224]);
});

test("a picture in full is not drawn over by a small one when another moves after a drag", async () => {
  loop.want(both(1, 1), true);
  at(0).answer();
  await pass(1);
  // let go with a last change that was never shown small
  loop.want(both(2, 2), true);
  loop.want(both(2, 2), false);
  await pass(1);
  await answerEach(2, 3);
  expect(rested.get("far")).toBe(true);
  const inFull = seen.filter((one) => one.stand === "far").at(-1);
  loop.want(both(2, 3), true);
  await pass(1);
  expect(asked.at(-1)?.request.views.map((view) => view.stand)).toEqual(["near"]);
  at(asked.length - 1).answer();
  await pass(1);
  expect(seen.filter((one) => one.stand === "far").at(-1)).toEqual(inFull);
  expect(inFull?.widthPx).toBe(640);
});

test("nothing is asked for or shown once the pictures are gone", async () => {
  loop.want(both(1, 1), false);
  loop.end("far");
  loop.end("near");
  at(0).answer();
  await pass(1000);
  expect(asked).toHaveLength(1);
});

test("a ground that moves is asked for a size smaller than a cover that does, and in full at rest", async () => {
  const far = (preview: boolean) => new Map<StandName, Wanted>([["far", wanted("far", ++mark, preview)]]);
  loop.want(far(false), true);
  at(0).answer();
  await pass(0);
  loop.want(far(true), true);
  at(1).answer();
  await pass(0);
  expect([0, 1].map((k) => at(k).request.views[0]?.width_px)).toEqual([320, 224]);
  loop.want(far(false), false);
  await pass(0);
  expect(asked.at(-1)?.request.views[0]?.width_px).toBe(640);
});
