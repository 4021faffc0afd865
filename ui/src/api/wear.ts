/** What is asked about wear, and about snapshots to compare it with. */

import type { Recipe, Wear } from "../generated/recipe";
import { json, posting, send } from "./client";
import type { Control } from "./stock";

export interface WearKind {
  what: string;
  title: string;
  about: string;
  tileM: number;
  follows: "ground" | "downhill" | "levels" | "path";
  controls: Control[];
}

/** What an overlay's numbers look like; counts in even bins from 0 to 1. */
export interface Known {
  darkOnLight: boolean;
  sure: number;
  counts: number[];
  levels: number;
  lowest: number;
  highest: number;
  note: string;
}

/** What a wear does, in numbers: before and after on the ground it changes. */
export interface Told {
  share: number;
  roughness: [number, number] | null;
  metallic: [number, number] | null;
  lightness: [number, number] | null;
  reliefMm: number | null;
  worn: number | null;
  sentence: string;
  limited: string | null;
}

export interface KeptWear {
  id: string;
  name: string;
}

export interface Snapshot {
  id: string;
  name: string;
  madeAt: string;
}

export const kinds = () => json<WearKind[]>("/api/wear-kinds");
export const kindUrl = (what: string) => `/api/wear-kinds/${what}.png`;
export const begin = (recipe: Recipe, id: string, of: "kind" | "set" | "kept", name: string) =>
  json<Wear>("/api/wear/begin", posting({ recipe, id, of, name }));
export const known = (source: Wear["source"]) => json<Known>("/api/overlay", posting({ source }));
/** The overlay as a small grey picture, drawn small itself when it is for something that moves; the caller lets the address go. */
export async function overlayPicture(source: Wear["source"], px: number, turned: boolean, quick: boolean): Promise<string> {
  return URL.createObjectURL(await (await send("/api/overlay.png", posting({ source, px, turned, quick }))).blob());
}
export const told = (recipe: Recipe, wear: number) => json<Told>("/api/wear/told", posting({ recipe, wear }));
export const kept = () => json<KeptWear[]>("/api/kept-wear");
export const keep = (name: string, wear: Wear) => json<KeptWear>("/api/kept-wear", posting({ name, wear }));
export const forget = (id: string) => json<{ removed: string }>(`/api/kept-wear/${id}`, { method: "DELETE" });

export const snapshots = (site: string) => json<Snapshot[]>(`/api/sites/${site}/snapshots`);
export const keepSnapshot = (site: string, name: string) => json<Snapshot[]>(`/api/sites/${site}/snapshots`, posting({ name }));
export const snapshot = (site: string, id: string) => json<Recipe>(`/api/sites/${site}/snapshots/${id}`);
export const dropSnapshot = (site: string, id: string) => json<Snapshot[]>(`/api/sites/${site}/snapshots/${id}`, { method: "DELETE" });
