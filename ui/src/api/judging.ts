/** Findings on the server: what is odd about a site, and what mends it. */

import type { Finding, Findings, MendedSite } from "../generated/answers";
import type { Recipe } from "../generated/recipe";
import { ask } from "./client";

export type { Finding, Findings };

export const findings = (title: string, recipe: Recipe, dear: boolean) =>
  ask<Findings>("/api/findings", { title, recipe, dear });

export const mend = (title: string, recipe: Recipe, id: string) =>
  ask<MendedSite>("/api/findings/mend", { title, recipe, id });
