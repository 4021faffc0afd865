/** What the server answers with, under the names that the page uses; all of it is generated from Python. */

import type { JobState, Lines, ModeKind } from "../generated/answers";

export type {
  Account,
  Allowance,
  BootCut,
  Chart,
  ClauseFacts,
  CoverFacts,
  Cut,
  FitAt,
  GroundFacts,
  HandedOff,
  HeightFacts,
  Histogram,
  Legend,
  MaskImageFacts,
  MeasureKind,
  Probe,
  ReliefFacts,
  Repetition,
  SiteLine,
  SiteState,
  Spot,
  Transect,
} from "../generated/answers";

export type StandName = "far" | "mid" | "near";
export type Mode = ModeKind["mode"];

/** Spots of a picture, 0..1 from left and top; null behind the eye. */
export type Projected = Lines["lines"][number];

/** A job, and what it makes, which is there once it is done. */
export type Job<R = unknown> = Omit<JobState, "result"> & { result: R };
