/** What the server answers with, besides the recipe (whose types are generated). */

import type { Ground, RawLayout, Recipe } from "../generated/recipe";

export type StandName = "far" | "mid" | "near";
export type Mode =
  | "lit"
  | "colour"
  | "roughness"
  | "gloss"
  | "metallic"
  | "normal"
  | "height"
  | "occlusion"
  | "presence"
  | "coverage"
  | "stretch"
  | "density"
  | "grid"
  | "overlay"
  | "wear";

export interface SiteLine {
  id: string;
  title: string;
  changedAt: string;
  revision: number;
  widthM: number;
  depthM: number;
  layers: number;
  steps: number;
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

export interface HeightFacts {
  file: string;
  fileName: string;
  format: string;
  bits: number;
  kind: string;
  cols: number;
  rows: number;
  levels: number;
  /** Distance between levels where there are few of them, else 0. */
  step: number;
  lowest: number;
  highest: number;
  shareLowest: number;
  shareHighest: number;
  holes: number;
  pages: number;
  channels: string[];
  cellM: [number, number] | null;
  guesses: { raw: RawLayout; confidence: number }[];
  steepestDeg?: number;
  meanDeg?: number;
}

export interface TrueSize {
  width_m: number;
  depth_m: number;
  lowest_m: number;
  highest_m: number;
}

export interface NewSite {
  title: string;
  ground: Ground;
}

export interface GroundFacts {
  rows: number;
  cols: number;
  cellXM: number;
  cellYM: number;
  lowestM: number;
  highestM: number;
  steepestDeg: number;
  meanDeg: number;
  shareLowest: number;
  shareHighest: number;
  left: boolean;
  /** How fine a painted mask of this ground is. */
  maskSampleM: number;
}

export interface MeasureKind {
  name: string;
  title: string;
  unit: string;
  scale: "even" | "about zero" | "logarithmic" | "compass";
  about: string;
  radiusM: number | null;
  above: string;
  below: string;
}

export interface Histogram {
  counts: number[];
  low: number;
  high: number;
  shownLow: number;
  shownHigh: number;
  mean: number;
  scale: MeasureKind["scale"];
}

export interface Cut {
  distanceM: number[];
  elevationM: number[];
}

export interface CoverFacts {
  shares: number[];
  reasons: (string | null)[];
  densities: number[];
  /** Pixels along a side of a set that would do where Near shows it nearest. */
  enough: number[];
}

/** How much of a layer's tile is found again, 0 none to 1, before and after what its fit does against it. */
export interface Repetition {
  farBefore: number;
  farAfter: number;
  nearBefore: number;
  nearAfter: number;
}

/** The relief of some ground about the peg, metres along the ground's normal. */
export interface ReliefFacts {
  lowestM: number;
  highestM: number;
  shareAbove: number;
  /** How far above the plain ground one stands on it: how deep feet are that stand on the plain ground. */
  standM: number;
  shareHeldBack: number;
  aboutM: number;
}

export interface BootCut {
  distanceM: number[];
  groundM: number[];
  surfaceM: number[];
  layer: number[];
  standM: number;
  pegAtM: number;
}

export interface FitAt {
  stretch: number;
  density: number;
  reliefM: number;
}

export interface Legend {
  title: string;
  unit: string;
  scale: MeasureKind["scale"];
  low: number;
  high: number;
}

/** How much of a ground lies at each pair of values of two measures: counts by row (up) between edges. */
export interface Chart {
  counts: number[][];
  acrossEdges: number[];
  upEdges: number[];
}

export interface ClauseFacts {
  share: number;
  counts: number[] | null;
  edges: number[] | null;
}

export interface Allowance {
  words: string;
  join: string;
  lets_in: number;
  decides: boolean;
}

export interface Account {
  layer: string;
  presence: number;
  clauses: Allowance[];
}

export interface MaskImageFacts {
  file: string;
  fileName: string;
  widthPx: number;
  heightPx: number;
  format: string;
  bits: number;
  notes: string[];
  channels: { channel: "R" | "G" | "B" | "A" | "brightness"; lowest: number; highest: number; share: number; levels: number }[];
}

/** Spots of a picture, 0..1 from left and top; null behind the eye. */
export type Projected = ([number, number] | null)[];

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
  measures: Partial<Record<string, number>>;
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

export interface HandedOff {
  folder?: string;
  path?: string;
  files?: { name: string; bytes: number }[];
}

export interface Job<R = unknown> {
  id: string;
  title: string;
  state: "running" | "done" | "cancelled" | "failed";
  shareDone: number;
  secondsLeft: number | null;
  message: string;
  result: R;
}
