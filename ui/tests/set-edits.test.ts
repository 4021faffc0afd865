/** Changes of sets made faster than the server answers, beside other windows, and while another set is looked at. */

import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { SetState } from "../src/api/stock";
import { useSite } from "../src/state/site";
import { useStock } from "../src/state/stock";

interface Sent {
  base: number;
  label: string;
  description: { title: string; tags: string[]; tile_m: number };
}

/** A server of sets that takes its time and refuses what was made on another revision than the one in force. */
class Server {
  readonly sent: Sent[] = [];
  down = false;
  /** The set whose answers come late. */
  late = "";
  private readonly sets = new Map<string, Record<string, unknown>>();

  constructor(...names: string[]) {
    for (const name of names) this.put(name, { title: name, tags: [], tile_m: 2 }, 1);
    vi.stubGlobal("fetch", async (path: string, init: RequestInit = {}) => {
      const wanted = init.body ? (JSON.parse(init.body as string) as Sent) : null;
      const [code, body] = this.answer(path, init.method ?? "GET", wanted);
      await new Promise((done) => setTimeout(done, path.endsWith(this.late) ? 60 : 20));
      return new Response(JSON.stringify(body), { status: code, headers: { "Content-Type": "application/json" } });
    });
  }

  put(name: string, description: object, revision: number): void {
    this.sets.set(name, {
      name,
      revision,
      description,
      content: JSON.stringify(description).length,
      setAside: false,
      undo: "named",
      redo: null,
    });
  }

  of(name: string): SetState {
    return this.sets.get(name) as unknown as SetState;
  }

  private answer(path: string, method: string, wanted: Sent | null): [number, unknown] {
    if (this.down) return [500, { message: "Something went wrong here." }];
    const name = /^\/api\/sets\/([^/]+)/.exec(path)?.[1];
    if (name === undefined) return [200, { sets: [], total: 0 }];
    if (method === "GET" || wanted === null) return [200, this.of(name)];
    if (wanted.base !== this.of(name).revision)
      return [422, { message: `${name}: found a newer change made in another window` }];
    if (method === "PUT") {
      this.sent.push(wanted);
      this.put(name, wanted.description, wanted.base + 1);
    } else this.put(name, { title: `${name} undone`, tags: [], tile_m: 2 }, wanted.base - 1);
    return [200, this.of(name)];
  }
}

const stock = () => useStock.getState();
const told = () => stock().chosen?.description;
const kept = () => vi.waitFor(() => expect(stock().keeping).toBe(false));

beforeEach(() => {
  useStock.setState({ chosen: null, changed: null, keeping: false, job: null, sheet: "wall" });
  useSite.setState({ trouble: null, lost: null });
});
afterEach(() => vi.unstubAllGlobals());

describe("changes of a set", () => {
  it("made before the first is answered are all kept, in order, and shown at once", async () => {
    const server = new Server("peat");
    await stock().choose("peat");
    stock().describe("named", { title: "Peat above the dam" });
    stock().describe("tags", { tags: ["damp"] });
    stock().describe("metres per repeat", { tile_m: 3 });
    expect(told()).toMatchObject({ title: "Peat above the dam", tags: ["damp"], tile_m: 3 });
    await kept();
    expect(useSite.getState().trouble).toBeNull();
    expect(server.sent.map((one) => [one.base, one.label])).toEqual([
      [1, "named"],
      [2, "tags"],
      [3, "metres per repeat"],
    ]);
    expect(server.of("peat").description).toMatchObject({ title: "Peat above the dam", tags: ["damp"], tile_m: 3 });
    expect(told()).toEqual(server.of("peat").description);
  });
  it("made after an undo that is on its way are laid on what the undo gave", async () => {
    const server = new Server("peat");
    await stock().choose("peat");
    stock().describe("named", { title: "Wrong" });
    stock().step("undo");
    stock().describe("tags", { tags: ["damp"] });
    await kept();
    expect(server.of("peat").description).toMatchObject({ title: "peat undone", tags: ["damp"] });
    expect(told()).toEqual(server.of("peat").description);
  });
  it("do not bring back a set that is no longer chosen", async () => {
    const server = new Server("peat", "mud");
    await stock().choose("peat");
    stock().describe("tags", { tags: ["damp"] });
    await stock().choose("mud");
    await kept();
    expect(stock().chosen?.name).toBe("mud");
    expect(server.of("peat").description).toMatchObject({ tags: ["damp"] });
    await stock().choose("peat");
    stock().describe("named", { title: "Peat" });
    await kept();
    expect(server.of("peat").description).toMatchObject({ title: "Peat", tags: ["damp"] });
  });
  it("that another window came before are shown as they stand and can be made again", async () => {
    const server = new Server("peat");
    await stock().choose("peat");
    server.put("peat", { title: "peat", tags: ["theirs"], tile_m: 5 }, 9);
    stock().describe("named", { title: "Mine" });
    await kept();
    expect(useSite.getState().trouble).toContain("another window");
    expect(told()).toMatchObject({ title: "peat", tags: ["theirs"] });
    useSite.getState().lost?.again();
    await kept();
    expect(server.of("peat").description).toMatchObject({ title: "Mine", tags: ["theirs"], tile_m: 5 });
  });
  it("that the server cannot take are not lost", async () => {
    const server = new Server("peat");
    await stock().choose("peat");
    server.down = true;
    stock().describe("named", { title: "Mine" });
    await kept();
    expect(told()?.title).toBe("peat");
    server.down = false;
    useSite.getState().lost?.again();
    await kept();
    expect(server.of("peat").description.title).toBe("Mine");
  });
  it("are not undone by a look at the set that was answered before them", async () => {
    const server = new Server("peat", "mud");
    await stock().choose("peat");
    stock().describe("named", { title: "Mine" });
    await kept();
    server.late = "peat";
    stock().step("undo");
    void stock().choose("mud");
    await stock().choose("peat");
    expect(told()?.title).toBe("peat undone");
    stock().describe("tags", { tags: ["damp"] });
    await kept();
    expect(server.of("peat").description).toMatchObject({ title: "peat undone", tags: ["damp"] });
    expect(useSite.getState().trouble).toBeNull();
  });
  it("made again after another set was chosen do not bring the first one back", async () => {
    const server = new Server("peat", "mud");
    await stock().choose("peat");
    server.put("peat", { title: "peat", tags: [], tile_m: 5 }, 9);
    stock().describe("named", { title: "Mine" });
    await kept();
    await stock().choose("mud");
    useSite.getState().lost?.again();
    await kept();
    expect(stock().chosen?.name).toBe("mud");
    expect(server.of("peat").description.title).toBe("Mine");
  });
  it("are kept before long work begins on them", async () => {
    const server = new Server("peat");
    await stock().choose("peat");
    stock().describe("relief", { relief_m: 0.2 });
    expect((await stock().latest(server.of("peat"))).revision).toBe(2);
  });
});

describe("choosing", () => {
  it("shows the set chosen last, whichever answer comes last", async () => {
    new Server("peat", "mud").late = "peat";
    const slow = stock().choose("peat");
    const fast = stock().choose("mud");
    await Promise.all([slow, fast]);
    expect(stock().chosen?.name).toBe("mud");
  });
});
