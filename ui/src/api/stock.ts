/** What the stock answers, and how it is asked. Documents (descriptions, facts, decisions) are generated types. */

import type { Decision, FileDecision, SetDescription, StockDocuments } from "../generated/stock";
import { CATALOGUE } from "../generated/catalogue";
import { json, posting, send, withBody } from "./client";
import type {
  Begun,
  Cleared,
  Counted,
  Generators,
  KeptSets,
  NewSet,
  MendedSet,
  PackList,
  ProposedSets as Proposal,
  Removed,
  SetSheet as SetState,
  WallOfSets as Found,
} from "../generated/answers";
import type { Job } from "./types";

export type Role = keyof SetDescription["maps"] & string;
export type Category = SetDescription["category"];
export type Meaning = FileDecision["meaning"];
export type MendAsk = StockDocuments["mend"];

export const ROLES = CATALOGUE.roles.map((one) => one.role);
export const ROLE_TITLES: Record<string, string> = Object.fromEntries(
  CATALOGUE.roles.map((one) => [one.role, one.title]),
);
export const CATEGORIES: readonly Category[] = CATALOGUE.categories;

export interface Wish {
  text: string;
  category: string;
  roles: string[];
  leastPx: number;
  seam: "" | "seamless" | "shows";
  tone: string;
  collection: string;
  aside: boolean;
  sort: "title" | "newest" | "size" | "seam" | "repetition" | "tile";
}

export type {
  Control,
  GeneratorKind as Generator,
  GuessedFile as FileGuess,
  GuessedSet as SetGuess,
  PackLine as Pack,
  ProposedSets as Proposal,
  SetLine,
  SetSheet as SetState,
  WallOfSets as Found,
} from "../generated/answers";

export interface SampleAsk {
  width_px: number;
  height_px: number;
  across_m: number;
  sun_bearing_deg: number;
  sun_height_deg: number;
  figure: boolean;
  resting: boolean;
}

export function wishQuery(wish: Wish, site: string | null): string {
  const query = new URLSearchParams();
  if (wish.text) query.set("text", wish.text);
  if (wish.category) query.set("category", wish.category);
  for (const role of wish.roles) query.append("role", role);
  if (wish.leastPx) query.set("least_px", String(wish.leastPx));
  if (wish.seam) query.set("seam", wish.seam);
  if (wish.tone) query.set("tone", wish.tone);
  if (wish.collection) query.set("collection", wish.collection);
  if (wish.aside) query.set("aside", "1");
  query.set("sort", wish.sort);
  if (site) query.set("site", site);
  return query.toString();
}

export const find = (query: string) => json<Found>(`/api/stock?${query}`);
export const sets = async () => (await json<Found>("/api/stock")).sets;
export const one = (name: string) => json<SetState>(`/api/sets/${name}`);
export const swatchUrl = (name: string, content?: string) =>
  `/api/sets/${name}/swatch.png${content ? `?content=${content}` : ""}`;
export const mapUrl = (state: SetState, role: string, px: number) =>
  `/api/sets/${state.name}/map/${role}.png?px=${px}&content=${state.content}`;
export const outUrl = (name: string) => `/api/sets/${name}/out.zip`;

const blob = async (path: string, asked: unknown, signal?: AbortSignal): Promise<Blob> =>
  (await send(path, { ...posting(asked), ...(signal && { signal }) })).blob();
const picture = async (path: string, asked: unknown) => URL.createObjectURL(await blob(path, asked));
export const sample = (name: string, ask: SampleAsk) => picture(`/api/sets/${name}/sample`, ask);
export const judge = (drop: string, decision: Decision, view: SampleAsk) =>
  picture(`/api/intake/${drop}/sample`, { decision, view });
export const preview = (kind: string, seed: number, controls: Record<string, number>) =>
  picture("/api/generators/preview", { kind, seed, controls });
export const previewBlob = (
  kind: string,
  seed: number,
  controls: Record<string, number>,
  signal: AbortSignal,
): Promise<Blob> => blob("/api/generators/preview", { kind, seed, controls, laid_out: true }, signal);

export const describe = (state: SetState, label: string, description: SetDescription) =>
  json<SetState>(`/api/sets/${state.name}`, withBody("PUT", { base: state.revision, label, description }));
export const step = (state: SetState, way: "undo" | "redo") =>
  json<SetState>(`/api/sets/${state.name}/${way}`, posting({ base: state.revision }));
export const setAside = (name: string, aside: boolean) => json<SetState>(`/api/sets/${name}/aside`, posting({ aside }));
export const remove = (name: string) => json<Removed>(`/api/sets/${name}`, { method: "DELETE" });
export const mend = (state: SetState, ask: MendAsk) =>
  json<Job<MendedSet>>(`/api/sets/${state.name}/mend`, posting({ base: state.revision, ask }));

export const generators = () => json<Generators>("/api/generators");
export interface MakeAsk {
  kind: string;
  seed: number;
  size_px: number;
  controls: Record<string, number>;
  into: string | null;
  base: number;
}
export const make = (ask: MakeAsk) => json<Job<NewSet>>("/api/sets/make", posting(ask));

export const begin = (title: string) => json<Begun>("/api/intake", posting({ title }));
export function addFile(drop: string, path: string, file: File): Promise<Counted> {
  const form = new FormData();
  form.append("path", path);
  form.append("file", file, file.name);
  return json(`/api/intake/${drop}/files`, { method: "POST", body: form });
}
export const look = (drop: string) => json<Job<Proposal>>(`/api/intake/${drop}/look`, posting({}));
export const keep = (drop: string, decisions: Decision[], into: SetState | null) =>
  json<Job<KeptSets>>(
    `/api/intake/${drop}/keep`,
    posting({ sets: decisions, into: into?.name ?? null, base: into?.revision ?? 0 }),
  );
export const clear = (drop: string) => json<Cleared>(`/api/intake/${drop}`, { method: "DELETE" });

export const packs = (text: string, category: string) =>
  json<PackList>(`/api/supplier?${new URLSearchParams({ text, category }).toString()}`);
export const packUrl = (id: string) => `/api/supplier/${id}/swatch.webp`;
export const fetchPack = (id: string, px: number) =>
  json<Job<Proposal>>(`/api/supplier/${id}/fetch`, posting({ size_px: px }));
