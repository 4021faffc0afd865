import { expect, test } from "vitest";
import { movesBetween } from "../src/guide/first-steps";
import { PAGES, pageOf, search, slugOf } from "../src/guide/pages";
import { made } from "../src/rooms/cover/clauses";
import * as samples from "./samples";

const places = new Set(
  PAGES.flatMap((page) => page.sections.map((one) => (one.slug ? `${page.name}#${one.slug}` : page.name))),
);

test("every link between pages leads to a place that is there", () => {
  const links = PAGES.flatMap((page) =>
    page.sections.flatMap((section) =>
      [...section.text.matchAll(/\]\(([\w-]*)(?:\.md)?(#[\w-]+)?\)/g)].map(([, file, slug]) => ({
        from: page.name,
        to: `${file || page.name}${slug ?? ""}`,
      })),
    ),
  );
  expect(links.length).toBeGreaterThan(20);
  expect(links.filter((one) => !places.has(one.to))).toEqual([]);
});

test("every panel's way to the guide leads to a place that is there", () => {
  const sources = import.meta.glob<string>("../src/**/*.tsx", { query: "?raw", import: "default", eager: true });
  const asked = Object.values(sources).flatMap((text) =>
    [...text.matchAll(/(?:GuideLink at|\bguide|data-guide)="([\w#-]+)"/g)].map((found) => found[1] ?? ""),
  );
  expect(asked.length).toBeGreaterThan(10);
  expect(asked.filter((one) => !places.has(one))).toEqual([]);
});

test("a page falls into its sections, and headings become addresses as files have them", () => {
  const page = pageOf("some", "# The page\n\nFirst words.\n\n## Where it lies\n\nMore, *so*.\n\n## Last\n");
  expect(page.title).toBe("The page");
  expect(page.sections.map((one) => one.slug)).toEqual(["", "where-it-lies", "last"]);
  expect(page.sections[1]?.text).toBe("More, *so*.");
  expect(slugOf("At most four layers a tile")).toBe("at-most-four-layers-a-tile");
});

test("search finds sections that hold all words, those with them in the title first", () => {
  const pages = [
    pageOf("a", "# Alpha\n\n## Moss\n\nGreen and damp.\n\n## Stone\n\nMoss lies on it, moss again, damp."),
    pageOf("b", "# Beta\n\nNothing of it."),
  ];
  expect(search(pages, "moss").map((one) => one.place)).toEqual(["a#moss", "a#stone"]);
  expect(search(pages, "moss damp again").map((one) => one.place)).toEqual(["a#stone"]);
  expect(search(pages, "granite")).toEqual([]);
  expect(search(pages, "  ")).toEqual([]);
});

test("moves of a first site are told by what changed between two states that were kept", () => {
  const bare = samples.recipe();
  const laid = { ...bare, layers: [...bare.layers, samples.layer("newone12")] };
  const [top] = laid.layers.slice(-1);
  if (!top) throw new Error("no layer");
  const changed = (part: Partial<typeof top>) => ({
    ...laid,
    layers: laid.layers.map((one) => (one.id === top.id ? { ...one, ...part } : one)),
  });
  expect(movesBetween(bare, laid)).toEqual(["layer"]);
  expect(movesBetween(laid, changed({ rule: { clauses: [made.noise()] } }))).toEqual(["rule"]);
  expect(movesBetween(laid, changed({ fit: { ...top.fit, tile_m: 3.3 } }))).toEqual(["fit"]);
  expect(movesBetween(laid, laid)).toEqual([]);
  expect(movesBetween(null, bare)).toEqual([]);
});
