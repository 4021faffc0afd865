/** What the hand does in the pictures of the Cover room, and what is lit up there. None of it is kept. */

import { numberOf } from "./numbers";
import { usualsOf } from "./numbers";
import { create } from "zustand";
import type { MeasureName } from "../rooms/cover/clauses";
import type { Brushed, DrawnStroke, FitAt, ReliefFacts, Spot } from "../api/types";

export type Tool = "turn" | "paint" | "path" | "probe" | "fit" | "pick" | "lasso" | "set";
export type BrushTool = "add" | "take" | "smooth";

export interface Brush {
  tool: BrushTool;
  size_m: number;
  strength: number;
  soft: number;
  flow: number;
}

interface Tools {
  tool: Tool;
  /** The mask that is painted on, and the path whose points are moved. */
  mask: string | null;
  path: string | null;
  brush: Brush;
  drawn: DrawnStroke | null;
  solo: string | null;
  across: MeasureName;
  up: MeasureName;
  brushed: Brushed | null;
  /** The place pointed at, with the chart's measures. */
  pointed: Spot | null;
  /** How what lies there is fitted, while a looking mode shows it. */
  pointedFit: FitAt | null;
  probed: { east: number; north: number } | null;
  /** Relief above which ground is counted, metres. */
  reliefLimit: number;
  relief: ReliefFacts | null;
  /** Whether roughness is shown and told as gloss; it is stored as roughness. */
  gloss: boolean;
  /** Whether any layer's set sends out light. */
  emits: boolean;
  take: (tool: Tool) => void;
  paintOn: (mask: string) => void;
  draw: (path: string) => void;
  rest: () => void;
}

export const useTools = create<Tools>((set) => ({
  tool: "turn",
  mask: null,
  path: null,
  brush: { tool: "add", ...usualsOf("MaskStroke", ["size_m", "strength", "soft", "flow"]) },
  drawn: null,
  solo: null,
  across: "slope",
  up: "elevation",
  brushed: null,
  pointed: null,
  pointedFit: null,
  probed: null,
  reliefLimit: numberOf("ViewNumbers", "relief_limit_m").usual,
  relief: null,
  gloss: false,
  emits: false,
  take: (tool) => set({ tool }),
  paintOn: (mask) => set({ tool: "paint", mask }),
  draw: (path) => set({ tool: "path", path }),
  rest: () => set({ tool: "turn", drawn: null, probed: null }),
}));
