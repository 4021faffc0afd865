/** What the server answers with, besides the recipe (whose types are generated). */

import type { Recipe } from "../generated/recipe";

export type StandName = "far" | "mid" | "near";
export type Mode =
  | "lit"
  | "colour"
  | "roughness"
  | "normal"
  | "height"
  | "occlusion"
  | "presence"
  | "coverage"
  | "grid";

export interface SiteLine {
  id: string;
  title: string;
  changedAt: string;
  revision: number;
  widthM: number;
  depthM: number;
  lowestM: number;
  highestM: number;
  layers: number;
}

export interface SiteState {
  id: string;
  title: string;
  revision: number;
  recipe: Recipe;
  changedAt: string;
  undo: string | null;
  redo: string | null;
}

export interface SetLine {
  name: string;
  title: string;
  sizePx: number;
  tileM: number;
  reliefM: number;
}

export interface HeightFacts {
  file: string;
  fileName: string;
  format: string;
  bits: number;
  cols: number;
  rows: number;
  levels: number;
  lowest: number;
  highest: number;
  shareLowest: number;
  shareHighest: number;
}

export interface NewSite {
  title: string;
  file: string;
  file_name: string;
  width_m: number;
  depth_m: number;
  lowest_m: number;
  highest_m: number;
}

export interface CoverFacts {
  shares: number[];
  reasons: (string | null)[];
  densities: number[];
  chart: number[][];
  steepestDeg: number;
}

export interface Transect {
  distanceM: number[];
  elevationM: number[];
  layer: number[];
  pegAtM: number;
}

export interface Spot {
  eastM: number;
  northM: number;
  elevationM: number;
  slopeDeg: number;
  shares: number[];
}

export interface SheetFile {
  name: string;
  map: string;
  widthPx: number;
  heightPx: number;
  channels: number;
  bits: number;
  meaning: string;
}

export interface Job {
  id: string;
  title: string;
  state: "running" | "done" | "cancelled" | "failed";
  shareDone: number;
  secondsLeft: number | null;
  message: string;
  result: { folder?: string; path?: string; files?: { name: string; bytes: number }[] };
}
