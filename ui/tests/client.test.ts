/** The one place that talks to the server: what it says of every way an answer can fail, and what it reads off a picture. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import type { FrameAsked } from "../src/api/types";
import { reused } from "../src/api/changes";
import { layer, opacity, recipe, state } from "./samples";

const answering = (answer: Response | Error) => {
  const fetched = vi.fn<(path: string, init: RequestInit) => Promise<Response>>(() =>
    answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer.clone()),
  );
  vi.stubGlobal("fetch", fetched);
  return fetched;
};
const refusal = (work: Promise<unknown>) =>
  work.then(
    () => expect.unreachable("it was not refused"),
    (error: unknown) => error,
  );
const wanted: FrameAsked = {
  recipe: recipe(layer("mud")),
  resting: true,
  preview: false,
  measure: null,
  radius_m: null,
  drawn: null,
  brushed: null,
  views: [{ stand: "far", width_px: 400, height_px: 300, mode: "lit", layer: -1, solo: -1, wear: -1 }],
};
const quiet = () => new AbortController().signal;

beforeEach(() => vi.stubGlobal("window", { location: { hostname: "localhost" } }));
afterEach(() => vi.unstubAllGlobals());

test("a refusal is the server's own sentence", async () => {
  answering(Response.json({ message: "mud.png: found 3 channels, expected 1; choose another." }, { status: 422 }));
  expect(await refusal(api.sites())).toMatchObject({
    message: "mud.png: found 3 channels, expected 1; choose another.",
    status: 422,
    state: null,
  });
});

test("a conflict brings the state that is in force", async () => {
  const newer = state(7, recipe(layer("low")));
  answering(Response.json({ message: "This site was changed in another window.", state: newer }, { status: 409 }));
  expect(await refusal(api.edit("site", 6, "mine", recipe()))).toMatchObject({ status: 409, state: newer });
});

test("an answer that is no JSON is told by its status", async () => {
  answering(new Response("<h1>Bad gateway</h1>", { status: 502 }));
  expect(await refusal(api.site("site"))).toMatchObject({ message: "The server answered 502.", status: 502 });
});

test("a server that is gone is said to be, but a request given up is not", async () => {
  answering(new TypeError("fetch failed"));
  expect(await refusal(api.frame(wanted, quiet()))).toMatchObject({
    message: expect.stringContaining("The server does not answer") as string,
    status: 0,
  });
  answering(new DOMException("given up", "AbortError"));
  expect(await refusal(api.frame(wanted, quiet()))).toMatchObject({ name: "AbortError" });
});

test("all requests of a window name it alike, and carry what they send as JSON", async () => {
  const fetched = answering(Response.json(state(2, recipe())));
  await api.step("site", 1, "undo");
  await api.edit("site", 2, "opacity", recipe(layer("mud")));
  const [undo, edit] = fetched.mock.calls;
  const headers = (call: typeof undo) => call?.[1].headers as Record<string, string>;
  expect(headers(undo)["X-Window"]).toMatch(/^\d+-\d+$/);
  expect(headers(edit)["X-Window"]).toBe(headers(undo)["X-Window"]);
  expect(undo?.[0]).toBe("/api/sites/site/undo");
  expect([edit?.[0], edit?.[1].method, headers(edit)["Content-Type"]]).toEqual([
    "/api/sites/site/recipe",
    "PUT",
    "application/json",
  ]);
  expect(JSON.parse(edit?.[1].body as string)).toEqual({ base: 2, label: "opacity", recipe: recipe(layer("mud")) });
});

/** A frame as the server writes it. */
function framed(head: object, ...parts: Uint8Array[]): Response {
  const text = new TextEncoder().encode(JSON.stringify(head));
  const length = new Uint8Array(new Uint32Array([text.length]).buffer);
  return new Response(new Blob([length, text, ...parts] as BlobPart[]));
}

test("a frame is taken apart into its pictures, each with its distance, its scale and where the peg stands", async () => {
  class Pixels {
    constructor(
      readonly data: Uint8ClampedArray,
      readonly width: number,
      readonly height: number,
    ) {}
  }
  vi.stubGlobal("ImageData", Pixels);
  const one = {
    stand: "far",
    widthPx: 2,
    heightPx: 1,
    bytes: 8,
    distanceM: 1190,
    mmPerPixel: 2200.5,
    peg: [0.25, 0.75],
  };
  const two = { stand: "near", widthPx: 1, heightPx: 1, bytes: 4, distanceM: 4.4, mmPerPixel: 5, peg: null };
  const bytes = (from: number, count: number) => Uint8Array.from({ length: count }, (_, k) => from + k);
  answering(framed({ serverMs: 41, codec: "plain", pictures: [one, two] }, bytes(10, 8), bytes(50, 4)));
  const { serverMs, pictures } = await api.frame(wanted, quiet());
  expect(serverMs).toBe(41);
  expect(pictures).toMatchObject([
    { stand: "far", distanceM: 1190, mmPerPixel: 2200.5, peg: [0.25, 0.75] },
    { stand: "near", peg: null },
  ]);
  expect(pictures.map(({ pixels }) => [...(pixels as ImageData).data])).toEqual([[...bytes(10, 8)], [...bytes(50, 4)]]);
});

test("a question says what differs from what the server has; whole where another revision is in force there", async () => {
  const kept = recipe(layer("low"), layer("top"));
  api.standOn(state(4, kept));
  const now = opacity("top", 0.3)(kept);
  const fetched = answering(Response.json([]));
  await api.askable(now, "top");
  const sent = (k: number) => JSON.parse(fetched.mock.calls[k]?.[1].body as string) as { recipe: unknown };
  const at = ["layers", 1, "opacity"];
  expect(sent(0).recipe).toEqual({ base: { site: "site", revision: 4, changes: [{ at, put: 0.3 }] } });
  fetched.mockImplementationOnce(() => Promise.resolve(Response.json({ message: "another" }, { status: 428 })));
  await api.askable(now, "top");
  expect(sent(2).recipe).toEqual(now);
});

test("what came anew is made of the older objects wherever both say the same", () => {
  const before = recipe(layer("low"), layer("top"));
  const came = JSON.parse(JSON.stringify(opacity("top", 0.3)(before))) as typeof before;
  const made = reused(before, came);
  expect(made).toEqual(came);
  expect(made.layers[0]).toBe(before.layers[0]);
  expect(made.layers[1]?.fit).toBe(before.layers[1]?.fit);
  expect(made.ground).toBe(before.ground);
  expect(reused(before, JSON.parse(JSON.stringify(before)))).toBe(before);
});

test("a map without limits has none", async () => {
  const ask = { recipe: recipe(), moving: false, preview: false, measure: "slope", radius_m: null };
  answering(new Response("png", { headers: { "X-Shown": "0.5,41.25" } }));
  const size = { width: 300, height: 200 };
  expect(await api.groundMap(ask, size, 5)).toMatchObject({ low: 0.5, high: 41.25 });
  answering(new Response("png"));
  expect(await api.groundMap(ask, size, 5)).toMatchObject({ low: null, high: null });
});
