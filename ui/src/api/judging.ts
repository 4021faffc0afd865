/** Findings on the server: what is odd about a site, and what mends it. */

import type { Finding, Findings, FoundRule, MendedSite } from "../generated/answers";
import type { Recipe, Rule } from "../generated/recipe";
import { ask, posting, send } from "./client";

export type { Finding, Findings, FoundRule };

export const findings = (title: string, recipe: Recipe, dear: boolean) =>
  ask<Findings>("/api/findings", { title, recipe, dear });

export const mend = (title: string, recipe: Recipe, id: string) =>
  ask<MendedSite>("/api/findings/mend", { title, recipe, id });

/** The rule over the ground's measures that says best what a mask says. */
export const findRule = (recipe: Recipe, mask: Rule) => ask<FoundRule>("/api/find-rule", { recipe, mask });

/** Where it errs, as a picture of the ground. */
export const ruleErrors = async (recipe: Recipe, mask: Rule, found: Rule): Promise<Blob> =>
  (await send("/api/find-rule/errors.png", posting({ recipe, mask, found }))).blob();
