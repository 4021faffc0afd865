/** The one place that talks to the server: what it says of every way an answer can fail, and what it reads off a picture. */

import { afterEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import { layer, recipe, state } from "./samples";

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
const wanted: api.PictureRequest = {
  recipe: recipe(layer("mud")),
  stand: "far",
  width_px: 400,
  height_px: 300,
  resting: true,
  mode: "lit",
  layer: -1,
  preview: false,
  measure: null,
  radius_m: null,
};
const quiet = () => new AbortController().signal;

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
  expect(await refusal(api.picture(wanted, quiet()))).toMatchObject({
    message: expect.stringContaining("The server does not answer") as string,
    status: 0,
  });
  answering(new DOMException("given up", "AbortError"));
  expect(await refusal(api.picture(wanted, quiet()))).toMatchObject({ name: "AbortError" });
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

test("a picture tells its distance, its scale and where the peg stands", async () => {
  const told = {
    "X-Distance-M": "1190.000",
    "X-Mm-Per-Pixel": "2200.500",
    "X-Server-Ms": "41",
    "X-Peg": "0.25000,0.75000",
  };
  answering(new Response(new Blob(["png"]), { headers: told }));
  const seen = await api.picture(wanted, quiet());
  expect(seen).toMatchObject({ distanceM: 1190, mmPerPixel: 2200.5, serverMs: 41, peg: { across: 0.25, down: 0.75 } });
  vi.unstubAllGlobals();
  expect(await (await fetch(seen.url)).text()).toBe("png");
  // behind the eye there is no peg
  answering(new Response(new Blob(["png"]), { headers: { ...told, "X-Peg": "" } }));
  expect((await api.picture(wanted, quiet())).peg).toBeNull();
});

test("a map without limits has none", async () => {
  const ask: api.GroundAsk = { ground: recipe().ground, preview: false, measure: "slope", radius_m: null };
  answering(new Response("png", { headers: { "X-Shown": "0.5,41.25" } }));
  expect(await api.groundMap(ask, 300, 200, 5)).toMatchObject({ low: 0.5, high: 41.25 });
  answering(new Response("png"));
  expect(await api.groundMap(ask, 300, 200, 5)).toMatchObject({ low: null, high: null });
});
