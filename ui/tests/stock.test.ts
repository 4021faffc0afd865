/** The Stock room's own logic: what is asked for, what a drop is called, how files move between sets. */

import { describe, expect, it } from "vitest";
import { wishQuery, type FileGuess, type SetGuess } from "../src/api/stock";
import { strayText } from "../src/app";
import { wanted } from "../src/rooms/stock/dropped";
import { quickMend } from "../src/rooms/stock/figures";
import { moved, typed, type Row } from "../src/rooms/stock/intake-sheet";
import { neededPx } from "../src/rooms/stock/set-sheet";
import { metres } from "../src/rooms/stock/wall";
import { dropTitle, NO_WISH } from "../src/state/stock";

function row(title: string, ...names: string[]): Row {
  const files = names.map((name) => ({ path: name, meaning: "colour" as const, turn_green: false }));
  const guesses: FileGuess[] = names.map((name) => ({
    path: name,
    name,
    widthPx: 64,
    heightPx: 64,
    bits: 8,
    channels: 3,
    meaning: "colour",
    sure: 1,
    reason: "",
    warnings: [],
  }));
  const decision = {
    title,
    category: "rock" as const,
    tags: [],
    collections: [],
    notes: "",
    tile_m: 1,
    relief_m: 0.1,
    lookup_px: null,
    files,
    manifest: null,
  };
  const guess: SetGuess = { decision, tileReason: "", warnings: [], reliefShare: null, files: guesses };
  return { guess, decision, tile: "1", relief: "100", on: true };
}

const paths = (rows: Row[]) => rows.map((one) => [one.decision.title, ...one.decision.files.map((file) => file.path)]);

describe("files of a drop", () => {
  it("move from one set to another, guess and decision alike", () => {
    const after = moved([row("a", "a1", "a2"), row("b", "b1")], 0, 1, 1);
    expect(paths(after)).toEqual([
      ["a", "a1"],
      ["b", "b1", "a2"],
    ]);
    expect(after.map((one) => one.guess.files.length)).toEqual([1, 2]);
  });
  it("leave no empty set behind", () => {
    expect(paths(moved([row("a", "a1"), row("b", "b1")], 0, 0, 1))).toEqual([["b", "b1", "a1"]]);
  });
  it("stay where they are when there is nowhere to go", () => {
    const rows = [row("a", "a1")];
    expect(moved(rows, 0, 0, 5)).toBe(rows);
    expect(moved(rows, 0, 0, 0)).toBe(rows);
  });
  it("are taken by their endings, hidden ones left", () => {
    expect(["a/b.PNG", "x.exr", "s/set.json", "pack.zip"].every(wanted)).toBe(true);
    expect(["a.txt", ".git/x.png", "__MACOSX/x.png", "set.json.bak", "json"].some(wanted)).toBe(false);
  });
  it("name the drop by their folder, else by the first of them", () => {
    expect(dropTitle(["slate/a.png", "slate/b.png"])).toBe("slate");
    expect(dropTitle(["wet silt.zip"])).toBe("wet silt");
    expect(dropTitle([])).toBe("");
  });
  it("are told where they belong when dropped elsewhere", () => {
    expect(strayText(["pack.zip"])).toContain("dropped in Stock");
    expect(strayText(["a.png", "b.png"])).toContain("dropped in Stock");
    expect(strayText(["hill.r16"])).toContain("dropped in Sites");
  });
});

describe("what is looked for", () => {
  it("is asked in full and nothing else", () => {
    expect(wishQuery(NO_WISH, null)).toBe("sort=title");
    const wish = {
      ...NO_WISH,
      text: "wet & dry",
      roles: ["normal", "height"],
      leastPx: 1024,
      seam: "shows" as const,
      aside: true,
    };
    const query = new URLSearchParams(wishQuery(wish, "abc"));
    expect(query.get("text")).toBe("wet & dry");
    expect(query.getAll("role")).toEqual(["normal", "height"]);
    expect([query.get("least_px"), query.get("seam"), query.get("aside"), query.get("site")]).toEqual([
      "1024",
      "shows",
      "1",
      "abc",
    ]);
  });
});

describe("sizes", () => {
  it("are the power of two that the near stand needs", () => {
    expect(neededPx(2, null)).toBeNull();
    expect(neededPx(2, 2 / 1000)).toBe(1024);
    expect(neededPx(2, 2 / 1200)).toBe(1024);
    expect(neededPx(2, 2 / 1400)).toBe(2048);
    expect(neededPx(0.05, 1)).toBe(16);
  });
  it("are read as they are typed, with point or comma", () => {
    expect([typed("1.5"), typed("1,5"), typed(" 2 ")]).toEqual([1.5, 1.5, 2]);
    expect([typed(""), typed("wide"), typed("1.5 m")].every(Number.isNaN)).toBe(true);
  });
  it("are shown in the unit that fits", () => {
    expect([metres(2.5), metres(0.4), metres(0.035)]).toEqual(["2.5 m", "40 cm", "3.5 cm"]);
  });
});

describe("findings", () => {
  it("that need no choice are mended at once", () => {
    expect(quickMend("turn-green")?.ask).toEqual({ kind: "turn", role: "normal" });
    expect(quickMend("invert-mask")?.ask).toEqual({ kind: "turn", role: "mask" });
    expect(quickMend("seamless")).toBeNull();
  });
});
