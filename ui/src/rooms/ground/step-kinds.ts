/** The kinds of steps as the catalogue tells them, and new steps as a ground's facts begin them. */

import { newId } from "../../parts/new-id";
import type { Beginnings, NumberField, StepKind as KindOfStep } from "../../generated/answers";
import { CATALOGUE } from "../../generated/catalogue";
import type { Ground } from "../../generated/recipe";

export type Step = Ground["steps"][number];
export type StepKind = Step["kind"];
export type { KindOfStep, NumberField };

export const KINDS = Object.fromEntries(CATALOGUE.steps.map((one) => [one.kind, one])) as Record<StepKind, KindOfStep>;
export const ORDER = CATALOGUE.steps.map((one) => one.kind as StepKind);
export const CHARACTERS = CATALOGUE.characters.map((value) => ({
  value,
  label: value.charAt(0).toUpperCase() + value.slice(1),
}));

export const dice = () => (crypto.getRandomValues(new Uint32Array(1))[0] ?? 1) % 100_000;

/** A new step that already does something sensible on the ground that these beginnings are of. */
export function newStep(kind: StepKind, begin: Beginnings): Step {
  const step = begin.steps[kind];
  if (!step) throw new Error(`nothing begins a step of kind ${kind}`);
  return { ...step, id: newId(), ...("seed" in step ? { seed: dice() } : {}) };
}
