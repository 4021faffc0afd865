/** What the Hand-off room asks: what a sheet comes to, files looked into, what was written. */

import type {
  HandedOff,
  HandedOffs,
  KeptSheets,
  LookedInto,
  MeshLook,
  SheetLines,
  Thumb,
  Thumbs,
} from "../generated/answers";
import type { Recipe } from "../generated/recipe";
import { bytesOf } from "../parts/use-picture";
import { ask, json, posting, withBody } from "./client";
import type { Job } from "./types";

export type Sheet = Recipe["sheets"][number];
export type Entry = Sheet["entries"][number];
export type MapsEntry = Extract<Entry, { kind: "maps" }>;
export type KitEntry = Extract<Entry, { kind: "kit" }>;
export type MeshEntry = Extract<Entry, { kind: "mesh" }>;
export type GroundEntry = Extract<Entry, { kind: "ground" }>;
export type StillsEntry = Extract<Entry, { kind: "stills" }>;
export type ThingsEntry = Extract<Entry, { kind: "things" }>;
export type WholeEntry = Exclude<Entry, { kind: "maps" }>;
export type Slot = MapsEntry["holds"][number];
export type { HandedOff, LookedInto, MeshLook, SheetLines, Thumb };

/** A part of a file: so many pixels from a texel on, each of `step` texels. */
export interface Window {
  left: number;
  top: number;
  columns: number;
  rows: number;
  step: number;
}

export const sheetLines = (site: string, recipe: Recipe, sheet: string) =>
  ask<SheetLines>(`/api/sites/${site}/sheet`, { recipe, sheet });
export const sheetThumbs = (site: string, recipe: Recipe, sheet: string) =>
  ask<Thumbs>(`/api/sites/${site}/sheet-thumbs`, { recipe, sheet });
export const lookInto = (site: string, recipe: Recipe, sheet: string, file: string, window: Window) =>
  ask<LookedInto>(`/api/sites/${site}/look-into`, { recipe, sheet, file, ...window });

/** Where a mesh is looked at from, which level of it, how. */
export interface MeshSeen {
  level: number;
  bearing_deg: number;
  tilt_deg: number;
  nearness: number;
  wire: boolean;
  width_px: number;
  height_px: number;
}

export const lookAtMesh = (site: string, recipe: Recipe, sheet: string, entry: string, seen: MeshSeen) =>
  ask<MeshLook>(`/api/sites/${site}/mesh-look`, { recipe, sheet, entry, ...seen });

export const startWriting = (site: string, sheet: string) =>
  json<Job<HandedOff>>(`/api/sites/${site}/bakes`, posting({ sheet }));
export const landed = async (site: string) => (await json<HandedOffs>(`/api/sites/${site}/landed`)).landed;
export const discard = async (site: string, folder: string) =>
  (await json<HandedOffs>(`/api/sites/${site}/landed/${folder}`, { method: "DELETE" })).landed;
export const lookLanded = (folder: string, file: string, window: Window) =>
  json<LookedInto>(`/api/handed-off/${folder}/look`, posting({ file, ...window }));
export const fileUrl = (folder: string, name: string) => `/api/handed-off/${folder}/${name}`;
export const zipUrl = (folder: string) => `/api/handed-off/${folder}`;

export const keptSheets = () => json<KeptSheets>("/api/sheets");
export const keepSheet = (sheet: Sheet) => json<KeptSheets>("/api/sheets", posting({ sheet }));
export const forgetSheet = (name: string) => json<KeptSheets>("/api/sheets", withBody("DELETE", { name }));

/** The numbers of what was looked into, row by row, channel by channel. */
export function numbersOf(looked: LookedInto): Float32Array {
  return new Float32Array(bytesOf(looked.values).buffer);
}
