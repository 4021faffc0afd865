/** What the server answers with and is asked, under the names that the page uses; all of it is generated from Python. */

import type { FrameAsked, JobState, Lines, ModeKind } from "../generated/answers";

export type {
  Account,
  Allowance,
  BootCut,
  Brushed,
  Chart,
  ClauseFacts,
  CoverFacts,
  Cut,
  DrawnStroke,
  FitAt,
  FrameAsked,
  GroundFacts,
  HandedOff,
  HeightFacts,
  Histogram,
  Legend,
  MaskImageFacts,
  MeasureKind,
  PictureAsked,
  Probe,
  ReliefFacts,
  Repetition,
  SiteLine,
  SiteState,
  Spot,
  Transect,
  ViewAsked,
} from "../generated/answers";

export type StandName = "far" | "mid" | "near";
export type Mode = ModeKind["mode"];
/** A measure, or the image of the ground, laid over a picture or map. */
export type Draped = NonNullable<FrameAsked["measure"]>;

/** Spots of a picture, 0..1 from left and top; null behind the eye. */
export type Projected = Lines["lines"][number];

/** A job, and what it makes, which is there once it is done. */
export type Job<R = unknown> = Omit<JobState, "result"> & { result: R };
