/** The guide's pages as they stand in docs/guide: their sections, in the order of the work, and what is found in them. */

const FILES = import.meta.glob<string>("../../../docs/guide/*.md", { query: "?raw", import: "default", eager: true });

/** In this order they are read; others follow by name. */
const ORDER = [
  "first-steps",
  "sites-and-hand-off",
  "ground",
  "stock",
  "cover",
  "rules",
  "fit",
  "wear",
  "light",
  "things",
  "hand-off",
];

export interface Section {
  slug: string;
  title: string;
  text: string;
}

export interface Page {
  name: string;
  title: string;
  sections: Section[];
}

/** A place in the guide: a page and, after #, one of its sections. */
export type GuidePlace = string;

/** Headings become addresses as in the files themselves. */
export function slugOf(title: string): string {
  return title
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s-]/gu, "")
    .trim()
    .replace(/\s+/g, "-");
}

/** A page's text in sections: what stands before the first has no title of its own. */
export function pageOf(name: string, text: string): Page {
  const [head = "", ...rest] = text.split(/^## /m);
  const title = /^# (.*)$/m.exec(head)?.[1] ?? name;
  const first: Section = { slug: "", title, text: head.replace(/^# .*$/m, "").trim() };
  const sections = rest.map((part) => {
    const end = part.indexOf("\n");
    const heading = (end < 0 ? part : part.slice(0, end)).trim();
    return { slug: slugOf(heading), title: heading, text: end < 0 ? "" : part.slice(end).trim() };
  });
  return { name, title, sections: [first, ...sections] };
}

function ranked(name: string): number {
  const at = ORDER.indexOf(name);
  return at < 0 ? ORDER.length : at;
}

export const PAGES: readonly Page[] = Object.entries(FILES)
  .map(([path, text]) => pageOf(path.replace(/^.*\/|\.md$/g, ""), text))
  .sort((a, b) => ranked(a.name) - ranked(b.name) || a.title.localeCompare(b.title));

export interface Found {
  place: GuidePlace;
  page: string;
  title: string;
  /** The words about what was found. */
  around: string;
}

function plain(text: string): string {
  return text
    .replace(/!\[[^\]]*\]\([^)]*\)/g, "")
    .replace(/\[([^\]]*)\]\([^)]*\)/g, "$1")
    .replace(/[*`_|]/g, "")
    .replace(/\s+/g, " ");
}

function around(text: string, words: string[]): string {
  const lower = text.toLowerCase();
  const at = Math.max(0, Math.min(...words.map((word) => lower.indexOf(word)).filter((one) => one >= 0)));
  const start = Number.isFinite(at) && at > 40 ? lower.indexOf(" ", at - 40) + 1 : 0;
  const part = text.slice(start, start + 120);
  return `${start > 0 ? "…" : ""}${part}${start + 120 < text.length ? "…" : ""}`;
}

/** Sections that hold all the words, those that have them in their titles first. */
export function search(pages: readonly Page[], wanted: string): Found[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const found = pages.flatMap((page) =>
    page.sections.map((section) => {
      const text = plain(section.text);
      const [title, body] = [`${page.title} ${section.title}`.toLowerCase(), text.toLowerCase()];
      const there = words.every((word) => title.includes(word) || body.includes(word));
      const inTitle = words.filter((word) => section.title.toLowerCase().includes(word)).length;
      const often = words.reduce((sum, word) => sum + body.split(word).length - 1, 0);
      const place = section.slug ? `${page.name}#${section.slug}` : page.name;
      return { there, rank: 100 * inTitle + often, hit: { place, page: page.title, title: section.title, text } };
    }),
  );
  return found
    .filter((one) => one.there)
    .sort((a, b) => b.rank - a.rank)
    .slice(0, 20)
    .map(({ hit }) => ({ place: hit.place, page: hit.page, title: hit.title, around: around(hit.text, words) }));
}
