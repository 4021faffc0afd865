/** The Stock room's state against a server that answers late, fails, or has nothing. */

import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { NO_WISH, useStock } from "../src/state/stock";
import { useSite } from "../src/state/site";

type Answer = { status?: number; body: unknown; after?: number };

/** Answers requests by the first rule whose path and method fit. */
function serve(rules: [method: string, path: RegExp, answer: (call: number) => Answer][]): string[] {
  const asked: string[] = [];
  const calls = new Map<RegExp, number>();
  vi.stubGlobal("fetch", async (path: string, init: RequestInit = {}) => {
    const method = init.method ?? "GET";
    asked.push(`${method} ${path}`);
    const rule = rules.find(([wanted, fits]) => wanted === method && fits.test(path));
    if (!rule) throw new Error(`nobody answers ${method} ${path}`);
    const call = calls.get(rule[1]) ?? 0;
    calls.set(rule[1], call + 1);
    const { status = 200, body, after = 0 } = rule[2](call);
    await new Promise((done) => setTimeout(done, after));
    return new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
  });
  return asked;
}

const found = (title: string) => ({
  sets: [{ title }],
  total: 1,
  categories: {},
  tones: {},
  collections: {},
  finestPixelM: null,
});
const job = (state: string, shareDone: number, result: unknown = {}, message = "") => ({
  id: "j1",
  title: "work",
  state,
  shareDone,
  secondsLeft: null,
  message,
  result,
});

beforeEach(() => {
  useStock.setState({ wish: NO_WISH, found: null, job: null, sheet: "wall", bringing: null, replacing: null });
  useSite.setState({ trouble: null });
});
afterEach(() => vi.unstubAllGlobals());

describe("searching", () => {
  it("never lets an older answer take the place of a newer one", async () => {
    serve([
      ["GET", /text=s&/, () => ({ body: found("old"), after: 60 })],
      ["GET", /text=sl&/, () => ({ body: found("new"), after: 5 })],
    ]);
    useStock.getState().look({ text: "s" });
    useStock.getState().look({ text: "sl" });
    await vi.waitFor(() => expect(useStock.getState().found?.sets[0]?.title).toBe("new"));
    await new Promise((done) => setTimeout(done, 90));
    expect(useStock.getState().found?.sets[0]?.title).toBe("new");
  });
  it("keeps what is shown when the server fails, and says why", async () => {
    useStock.setState({ found: null });
    serve([["GET", /stock/, () => ({ status: 500, body: { message: "Something went wrong here." } })]]);
    await useStock.getState().reload();
    expect(useSite.getState().trouble).toBe("Something went wrong here.");
  });
});

describe("long work", () => {
  it("is followed until it is done", async () => {
    serve([
      [
        "GET",
        /jobs/,
        (call) => ({ body: call < 2 ? job("running", 0.3 * (call + 1)) : job("done", 1, { set: "abc" }) }),
      ],
    ]);
    const ended = await useStock
      .getState()
      .run(() => Promise.resolve({ ...job("running", 0), result: { set: "" } } as never));
    expect(ended).toMatchObject({ state: "done", result: { set: "abc" } });
  });
  it("that fails says what was found and gives nothing", async () => {
    serve([
      ["GET", /jobs/, () => ({ body: job("failed", 0.2, {}, "mud: found no map, expected one; bring one in.") })],
    ]);
    expect(await useStock.getState().run(() => Promise.resolve(job("running", 0) as never))).toBeNull();
    expect(useSite.getState().trouble).toContain("found no map");
  });
  it("is one at a time", async () => {
    useStock.setState({ job: job("running", 0.5) as never });
    const start = vi.fn();
    expect(await useStock.getState().run(start as never)).toBeNull();
    expect(start).not.toHaveBeenCalled();
    expect(useSite.getState().trouble).toContain("already");
  });
});

describe("bringing in", () => {
  const file = (name: string) => ({ path: name, file: new File(["x"], name) });
  it("looks at what came and shows the proposal", async () => {
    const asked = serve([
      ["POST", /intake$/, () => ({ body: { drop: "d1" } })],
      ["POST", /files$/, () => ({ body: { files: 1 } })],
      ["POST", /look$/, () => ({ status: 202, body: job("running", 0) })],
      ["GET", /jobs/, () => ({ body: job("done", 1, { drop: "d1", refused: [], sets: [] }) })],
    ]);
    await useStock.getState().bringIn([file("mud_d.png"), file("mud_n.png")]);
    expect(useStock.getState().bringing?.proposal.drop).toBe("d1");
    expect(useStock.getState().sheet).toBe("intake");
    expect(asked.filter((one) => one.endsWith("/files"))).toHaveLength(2);
  });
  it("clears the drop and goes back to the wall when nothing in it is an image", async () => {
    const asked = serve([
      ["POST", /intake$/, () => ({ body: { drop: "d2" } })],
      ["POST", /files$/, () => ({ body: { files: 0 } })],
      ["DELETE", /intake\/d2/, () => ({ body: { cleared: "d2" } })],
    ]);
    await useStock.getState().bringIn([file("pack.zip")]);
    expect(useStock.getState().sheet).toBe("wall");
    expect(useSite.getState().trouble).toContain("Found no images");
    expect(asked).toContain("DELETE /api/intake/d2");
  });
  it("says why an unsafe archive was refused and leaves nothing on the tray", async () => {
    const asked = serve([
      ["POST", /intake$/, () => ({ body: { drop: "d3" } })],
      ["POST", /files$/, () => ({ status: 422, body: { message: "bad.zip: found a path that leaves its folder" } })],
      ["DELETE", /intake\/d3/, () => ({ body: { cleared: "d3" } })],
    ]);
    await useStock.getState().bringIn([file("bad.zip")]);
    expect(useSite.getState().trouble).toContain("leaves its folder");
    expect(asked).toContain("DELETE /api/intake/d3");
  });
});
