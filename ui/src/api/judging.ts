/** Findings on the server: what is odd about a site, and what mends it. */

import type {
  Finding,
  Findings,
  FoundRule,
  MatchedLook,
  MendedSite,
  ReferenceFacts,
  TakenRule,
} from "../generated/answers";
import type { Patch, Recipe, Reference, Rule } from "../generated/recipe";
import { ask, askPicture, json, posting, send } from "./client";
import type { PictureAsked, StandName } from "./types";

export type { Finding, Findings, FoundRule };

export const findings = (title: string, recipe: Recipe, dear: boolean) =>
  ask<Findings>("/api/findings", { title, recipe, dear });

export const mend = (title: string, recipe: Recipe, id: string) =>
  ask<MendedSite>("/api/findings/mend", { title, recipe, id });

/** The rule over the ground's measures that says best what a mask says. */
export const findRule = (recipe: Recipe, mask: Rule, no: Rule | null) =>
  ask<FoundRule>("/api/find-rule", { recipe, mask, no });

/** Where it errs, as a picture of the ground. */
export const ruleErrors = async (recipe: Recipe, mask: Rule, found: Rule): Promise<Blob> =>
  (await send("/api/find-rule/errors.png", posting({ recipe, mask, found }))).blob();

/** One of the strip's pictures: small, and coarse unless it is to stay. */
export const stripPicture = (question: PictureAsked, signal: AbortSignal): Promise<Blob> =>
  askPicture("/api/strip.png", { ...question }, signal);

/** It with what it leaves of the mask painted as small masks. */
export const takeRule = (recipe: Recipe, mask: Rule, found: Rule, called: string) =>
  ask<TakenRule>("/api/find-rule/taken", { recipe, mask, found, called });

export interface Beside {
  picture: Blob;
  /** CIEDE2000 on the mean, and the share of pixels above 1; only of a difference. */
  mean: number | null;
  seen: number | null;
}

/** Another state of a site as the same picture, or how far apart both look. */
export async function picturesBeside(
  recipe: Recipe,
  other: Recipe,
  stand: StandName,
  [width_px, height_px]: readonly [number, number],
  difference: boolean,
): Promise<Beside> {
  const answer = await send("/api/beside.png", posting({ recipe, other, stand, width_px, height_px, difference }));
  const told = (name: string) => {
    const value = answer.headers.get(name);
    return value === null ? null : Number(value);
  };
  return { picture: await answer.blob(), mean: told("X-Mean-Difference"), seen: told("X-Seen") };
}

/** Keep a photograph; as a site refers to it. */
export function bringReference(file: File): Promise<Reference> {
  const form = new FormData();
  form.append("file", file, file.name);
  return json("/api/references", { method: "POST", body: form });
}
export const referenceUrl = (file: string) => `/api/references/${file}.png`;

/** A patch of a photograph beside the ground at the peg. */
export const referenceFacts = (recipe: Recipe, file: string, patch: Patch | null) =>
  ask<ReferenceFacts>("/api/references/facts", { recipe, file, patch });

/** A layer's look taken towards a patch. */
export const matchReference = (
  recipe: Recipe,
  layer: string,
  file: string,
  patch: Patch | null,
  seen_as: "lit" | "bare",
) => ask<MatchedLook>("/api/references/match", { recipe, layer, file, patch, seen_as });
