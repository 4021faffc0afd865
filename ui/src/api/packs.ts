/** Whole sites that move, and grounds kept for any site. */

import type { KeptGround, KeptGrounds, PackFacts } from "../generated/answers";
import type { Ground } from "../generated/recipe";
import { json, posting, withBody } from "./client";
import type { Job, SiteState } from "./types";

export type { KeptGround, PackFacts };

export const packUrl = (site: string) => `/api/sites/${site}/pack`;

export function bringPack(file: File): Promise<PackFacts> {
  const form = new FormData();
  form.append("file", file, file.name);
  return json("/api/packs", { method: "POST", body: form });
}
export const openPack = (pack: string) => json<Job<SiteState>>(`/api/packs/${pack}/open`, posting({}));
export const letPackGo = (pack: string) => json<unknown>(`/api/packs/${pack}`, { method: "DELETE" });

export const keptGrounds = async () => (await json<KeptGrounds>("/api/kept-grounds")).grounds;
export const keepGround = async (name: string, ground: Ground) =>
  (await json<KeptGrounds>("/api/kept-grounds", posting({ name, ground }))).grounds;
export const forgetGround = async (id: string) =>
  (await json<KeptGrounds>(`/api/kept-grounds/${id}`, { method: "DELETE" })).grounds;
export const siteOnGround = (id: string, title: string) =>
  json<SiteState>(`/api/kept-grounds/${id}/sites`, posting({ title }));
export const layUnder = (site: string, base: number, ground: string) =>
  json<SiteState>(`/api/sites/${site}/ground`, withBody("PUT", { base, ground }));
