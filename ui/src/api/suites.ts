/** Suites of layers: kept, laid on sites, taken out and brought in. */

import type { Removed, SuiteLaid, SuiteLine } from "../generated/answers";
import type { Recipe } from "../generated/recipe";
import { ask, json } from "./client";
import type { Job } from "./types";

export type { SuiteLine } from "../generated/answers";

export type How = "limits" | "quantiles";

export const all = () => json<SuiteLine[]>("/api/suites");
export const keep = (recipe: Recipe, layers: string[], name: string, of_site: string) =>
  ask<SuiteLine>("/api/suites", { recipe, layers, name, of_site });
export const lay = (recipe: Recipe, suite: string, above: string | null, how: How) =>
  ask<SuiteLaid>(`/api/suites/${suite}/lay`, { recipe, above, how });
export const forget = (suite: string) => json<Removed>(`/api/suites/${suite}`, { method: "DELETE" });
export const packUrl = (suite: string) => `/api/suites/${suite}/pack`;
export function bring(file: File): Promise<Job<SuiteLine>> {
  const form = new FormData();
  form.append("file", file, file.name);
  return json("/api/suites/brought", { method: "POST", body: form });
}
