/** What is asked about wear, and about snapshots to compare it with. */

import type { Recipe, Wear } from "../generated/recipe";
import { ask, json, posting, send } from "./client";
import type { Known, KeptWear, Removed, Snapshot, Told, WearKind } from "../generated/answers";

export type { Known, KeptWear, Snapshot, Told, WearKind } from "../generated/answers";

export const kinds = () => json<WearKind[]>("/api/wear-kinds");
export const kindUrl = (what: string) => `/api/wear-kinds/${what}.png`;
/** A new wear as it begins on the ground, or on a thing so large. */
export const begin = (
  recipe: Recipe,
  id: string,
  of: "kind" | "set" | "kept",
  name: string,
  on_thing_m: number | null = null,
) => ask<Wear>("/api/wear/begin", { recipe, id, of, name, on_thing_m });
export const known = (source: Wear["source"]) => json<Known>("/api/overlay", posting({ source }));
/** The overlay as a small grey picture, drawn small itself when it is for something that moves; the caller lets the address go. */
export async function overlayPicture(
  source: Wear["source"],
  px: number,
  turned: boolean,
  quick: boolean,
): Promise<string> {
  return URL.createObjectURL(await (await send("/api/overlay.png", posting({ source, px, turned, quick }))).blob());
}
/** What a wear of the ground, or of a thing, does in numbers. */
export const told = (recipe: Recipe, wear: number, thing: string | null) =>
  ask<Told>("/api/wear/told", { recipe, wear, thing });
export const kept = () => json<KeptWear[]>("/api/kept-wear");
export const keep = (name: string, wear: Wear) => json<KeptWear>("/api/kept-wear", posting({ name, wear }));
export const forget = (id: string) => json<Removed>(`/api/kept-wear/${id}`, { method: "DELETE" });

export const snapshots = (site: string) => json<Snapshot[]>(`/api/sites/${site}/snapshots`);
export const keepSnapshot = (site: string, name: string) =>
  json<Snapshot[]>(`/api/sites/${site}/snapshots`, posting({ name }));
export const snapshot = (site: string, id: string) => json<Recipe>(`/api/sites/${site}/snapshots/${id}`);
export const dropSnapshot = (site: string, id: string) =>
  json<Snapshot[]>(`/api/sites/${site}/snapshots/${id}`, { method: "DELETE" });
