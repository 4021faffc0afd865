/** Things and strews on the server: what is kept, models brought in, how many lie where, single ones picked. */

import type { BroughtIn, FieldFacts, Picked, Removed, SetFast, ThingLine } from "../generated/answers";
import type { Recipe, Thing } from "../generated/recipe";
import { ask, json, posting, send } from "./client";
import type { PictureAsked } from "./types";

export type { BroughtIn, FieldFacts, Picked, SetFast, ThingLine };

export const keptThings = () => json<ThingLine[]>("/api/things");

export const keepThing = (thing: Thing) => json<ThingLine>("/api/things", posting({ thing }));

export const forgetThing = (id: string) => json<Removed>(`/api/things/${id}`, { method: "DELETE" });

export interface Reading {
  up?: "y" | "z";
  unit?: string;
}

export function bringModel(file: File, reading: Reading): Promise<BroughtIn> {
  const form = new FormData();
  form.append("file", file);
  if (reading.up) form.append("up", reading.up);
  if (reading.unit) form.append("unit", reading.unit);
  return json<BroughtIn>("/api/things/bring", { method: "POST", body: form });
}

/** The textures of a model that was brought in, as files that the stock takes. */
export async function texturesOf(found: BroughtIn): Promise<File[]> {
  const { source, name } = found.thing;
  if (source.kind !== "brought") return [];
  const all = Array.from({ length: found.textures }, async (_, k) => {
    const answer = await fetch(`/api/things/models/${source.file}/texture/${k}.png`);
    if (!answer.ok) throw new Error(`a texture of ${name} could not be read`);
    const title = found.textures > 1 ? `${name}_${k + 1}` : name;
    return new File([await answer.blob()], `${title}_base_colour.png`, { type: "image/png" });
  });
  return Promise.all(all);
}

/** Where a picture of a thing is found; figure: beside the surveyor. */
export function portraitUrl(thing: Thing, figure: boolean): string {
  const wanted = new URLSearchParams({ thing: JSON.stringify(thing.source), figure: figure ? "yes" : "no" });
  return `/api/things/portrait.png?${wanted.toString()}`;
}

/** A picture of a thing in what covers it, as an address to be let go. */
export async function coveredPortrait(thing: Thing, figure: boolean): Promise<string> {
  const answer = await send("/api/things/portrait.png", posting({ thing, figure }));
  return URL.createObjectURL(await answer.blob());
}

export const strewFacts = (recipe: Recipe, preview: boolean) =>
  ask<FieldFacts>("/api/strews/facts", { recipe, preview });

export function pickThing(request: PictureAsked, across: number, down: number): Promise<Picked> {
  const { recipe, stand, width_px, height_px, preview } = request;
  return ask<Picked>("/api/strews/pick", { recipe, stand, width_px, height_px, preview, across, down });
}

export const setFast = (recipe: Recipe, strew: string, corners: readonly { east_m: number; north_m: number }[]) =>
  ask<SetFast>("/api/strews/fast", { recipe, strew, corners });
