/** Which step is selected, how the ground is looked at, what the brush is like. Not part of the recipe. */

import type { Draped } from "../api/types";
import { usualsOf } from "./numbers";
import { create } from "zustand";
import type { Ground, Recipe } from "../generated/recipe";
import { useSite } from "./site";

type Step = Ground["steps"][number];

export interface Brush {
  tool: "raise" | "lower" | "smooth" | "flatten";
  size_m: number;
  amount_m: number;
  strength: number;
  soft: number;
}

export interface Line {
  start: [number, number];
  end: [number, number];
}

interface GroundRoomState {
  selected: string | null;
  measure: Draped | null;
  radiusM: number | null;
  contourM: number | null;
  line: Line | null;
  brush: Brush;
  seeds: Record<string, number[]>;
}

export const useGroundRoom = create<GroundRoomState>(() => ({
  selected: null,
  measure: null,
  radiusM: null,
  contourM: null,
  line: null,
  brush: { tool: "raise", ...usualsOf("Stroke", ["size_m", "amount_m", "strength", "soft"]) },
  seeds: {},
}));

export function withSteps(change: (steps: Step[]) => Step[]): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, ground: { ...recipe.ground, steps: change(recipe.ground.steps) } });
}

/** A change of one step, whatever its kind: only fields that the kind has may be named. */
export function inStep(id: string, change: Partial<Step> | ((step: Step) => Step)): (recipe: Recipe) => Recipe {
  return withSteps((steps) =>
    steps.map((step) => {
      if (step.id !== id) return step;
      return typeof change === "function" ? change(step) : ({ ...step, ...change } as Step);
    }),
  );
}

export function useSelectedStep(): Step | null {
  const selected = useGroundRoom((s) => s.selected);
  return useSite((s) => s.shown?.ground.steps.find((step) => step.id === selected) ?? null);
}

/** What the map shows: an image that is no longer there is not asked for. */
export function useShownMeasure(): Draped | null {
  const measure = useGroundRoom((s) => s.measure);
  const picture = useSite((s) => s.shown?.ground.picture ?? null);
  return measure === "image" && picture === null ? null : measure;
}
