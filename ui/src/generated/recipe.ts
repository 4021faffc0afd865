/* Made from docs/recipe.schema.json by make types. */

/**
 * A site's whole description.
 */
export interface Recipe {
  format: "elvatch-recipe";
  ground: Ground;
  hand_off: HandOff;
  /**
   * @maxItems 64
   */
  layers: Layer[];
  light: Light;
  peg: Peg;
  stands: Stands;
  version: 2;
}
/**
 * A terrain or slab: its true size, where its heights come from, and what shaped them.
 */
export interface Ground {
  /**
   * North-south size
   */
  depth_m: number;
  picture: GroundPicture | null;
  source: FileSource | FlatSource;
  /**
   * @maxItems 64
   */
  steps: (
    | FormStep
    | TerraceStep
    | SmoothStep
    | RidgesStep
    | WarpStep
    | TwistStep
    | RemapStep
    | LevelStep
    | CourseStep
    | SettleStep
    | RunoffStep
    | RiversStep
    | ResampleStep
    | BrushStep
  )[];
  /**
   * East-west size
   */
  width_m: number;
}
/**
 * A colour image over the whole ground.
 */
export interface GroundPicture {
  file: string;
  file_name: string;
}
/**
 * Heights read from a file, kept as it came; its lowest and highest value get their elevations.
 */
export interface FileSource {
  file: string;
  file_name: string;
  highest_m: number;
  kind: "file";
  lowest_m: number;
  reading: Reading;
}
/**
 * How a height file is read. Flips come before quarter turns, which go clockwise.
 */
export interface Reading {
  /**
   * Channel of an EXR; None takes the first
   */
  channel: string | null;
  flip_east_west: boolean;
  flip_north_south: boolean;
  /**
   * Value that marks a hole, besides NaN
   */
  no_data: number | null;
  /**
   * Page of a TIFF with several
   */
  page: number;
  quarter_turns: number;
  raw: RawLayout | null;
  /**
   * Smooth quantised heights by at most half a level
   */
  smooth_steps: boolean;
}
/**
 * The layout of a headerless file: its samples row by row, north first.
 */
export interface RawLayout {
  big_endian: boolean;
  height: number;
  samples: "u8" | "i8" | "u16" | "i16" | "u32" | "i32" | "f32";
  /**
   * Bytes before the first sample
   */
  skip_bytes: number;
  width: number;
}
/**
 * A level slab, to be left flat or shaped by steps.
 */
export interface FlatSource {
  kind: "flat";
  level_m: number;
  /**
   * Along the longer side
   */
  samples: number;
}
/**
 * Adds a generated form; several may be added together.
 */
export interface FormStep {
  /**
   * Where the wind of dunes comes from
   */
  bearing_deg: number;
  character: "rolling" | "ridged" | "billowed" | "cellular" | "dunes" | "gorges" | "basin";
  /**
   * How many times features of half the size are added
   */
  detail: number;
  /**
   * Middle of a basin; None is the middle of the ground
   */
  east_m: number | null;
  /**
   * About, from its lowest to its highest
   */
  height_m: number;
  id: string;
  kind: "form";
  name: string;
  north_m: number | null;
  on: boolean;
  /**
   * Taken away instead of added
   */
  opposite: boolean;
  /**
   * How strong each finer size is against the one before
   */
  roughness: number;
  seed: number;
  /**
   * Size of its largest features
   */
  size_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Between two elevations; a limit left out does not limit. Soft ends reach outwards.
 */
export interface ElevationClause {
  lower_m: number | null;
  measure: "elevation";
  opposite: boolean;
  soft_lower_m: number;
  soft_upper_m: number;
  upper_m: number | null;
}
/**
 * Between two steepnesses; a limit left out does not limit. Soft ends reach outwards.
 */
export interface SlopeClause {
  lower_deg: number | null;
  measure: "slope";
  opposite: boolean;
  soft_lower_deg: number;
  soft_upper_deg: number;
  upper_deg: number | null;
}
/**
 * Cuts levels.
 */
export interface TerraceStep {
  id: string;
  /**
   * How far levels wander, in spacings
   */
  irregularity: number;
  kind: "terrace";
  name: string;
  /**
   * Elevation of one of the levels
   */
  offset_m: number;
  on: boolean;
  seed: number;
  sharpness: number;
  /**
   * From one level to the next
   */
  spacing_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Smooths; its opposite brings out what it would take away.
 */
export interface SmoothStep {
  id: string;
  kind: "smooth";
  name: string;
  on: boolean;
  opposite: boolean;
  radius_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Sharpens ridges and rounds valleys; its opposite sharpens valleys and rounds ridges.
 */
export interface RidgesStep {
  id: string;
  kind: "ridges";
  name: string;
  on: boolean;
  opposite: boolean;
  radius_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Bends the ground sideways by noise.
 */
export interface WarpStep {
  /**
   * Farthest that a place is moved, about
   */
  amount_m: number;
  detail: number;
  id: string;
  kind: "warp";
  name: string;
  on: boolean;
  seed: number;
  size_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Turns the ground about a place, most in its middle.
 */
export interface TwistStep {
  east_m: number | null;
  id: string;
  kind: "twist";
  name: string;
  north_m: number | null;
  on: boolean;
  radius_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Counter-clockwise seen from above
   */
  turn_deg: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Maps heights by a rising curve; the range stays what it was.
 */
export interface RemapStep {
  /**
   * @minItems 2
   * @maxItems 12
   */
  curve: CurvePoint[];
  id: string;
  kind: "remap";
  name: string;
  on: boolean;
  /**
   * The curve the other way round
   */
  opposite: boolean;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * A point of a curve of heights, as shares of the range.
 */
export interface CurvePoint {
  after: number;
  before: number;
}
/**
 * Cuts what stands above a level and fills what lies below it.
 */
export interface LevelStep {
  cut: boolean;
  fill: boolean;
  id: string;
  kind: "level";
  level_m: number;
  name: string;
  on: boolean;
  /**
   * Height over which it takes hold
   */
  soft_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Cuts a valley, a channel or a bench along a line, or fills a bank or a dam along it.
 */
export interface CourseStep {
  cut: boolean;
  fill: boolean;
  id: string;
  kind: "course";
  name: string;
  on: boolean;
  /**
   * @minItems 2
   * @maxItems 64
   */
  points: CoursePoint[];
  seed: number;
  /**
   * Steepness of its sides
   */
  side_deg: number;
  soft_m: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * How far the line strays
   */
  wander_m: number;
  wander_size_m: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * A point of a course.
 */
export interface CoursePoint {
  east_m: number;
  half_width_m: number;
  level_m: number;
  north_m: number;
}
/**
 * Lets loose ground slide until nothing is steeper than its angle of repose.
 */
export interface SettleStep {
  id: string;
  kind: "settle";
  name: string;
  on: boolean;
  repose_deg: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Rain that runs off, takes ground along and drops it again.
 */
export interface RunoffStep {
  /**
   * How much the water can carry
   */
  carry: number;
  id: string;
  kind: "runoff";
  name: string;
  on: boolean;
  /**
   * How hard it rains
   */
  rain: number;
  rounds: number;
  /**
   * How readily the ground comes loose
   */
  softness: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Rivers that cut valleys in one go, while the ground is lifted and creeps.
 */
export interface RiversStep {
  /**
   * From a few large valleys to many small ones
   */
  branching: number;
  /**
   * Radius over which slopes round off
   */
  creep_m: number;
  /**
   * How deep they cut
   */
  cut: number;
  id: string;
  kind: "rivers";
  /**
   * Lift of the whole ground over all rounds
   */
  lift_m: number;
  name: string;
  on: boolean;
  rounds: number;
  seed: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Changes how many samples the ground has; heights stay metres.
 */
export interface ResampleStep {
  id: string;
  kind: "resample";
  name: string;
  on: boolean;
  /**
   * Along the longer side
   */
  samples: number;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * Strokes by hand, in their order.
 */
export interface BrushStep {
  id: string;
  kind: "brush";
  name: string;
  on: boolean;
  /**
   * How far towards its full effect
   */
  strength: number;
  /**
   * @maxItems 2000
   */
  strokes: Stroke[];
  /**
   * Only there, on the ground before it
   *
   * @maxItems 6
   */
  where: (ElevationClause | SlopeClause)[];
}
/**
 * One stroke of the brush.
 */
export interface Stroke {
  /**
   * Highest that raising and lowering reach
   */
  amount_m: number;
  /**
   * @minItems 1
   * @maxItems 600
   */
  points: StrokePoint[];
  /**
   * Across
   */
  size_m: number;
  /**
   * Share of the radius that is soft edge
   */
  soft: number;
  strength: number;
  tool: "raise" | "lower" | "smooth" | "flatten";
}
/**
 * A point of a stroke.
 */
export interface StrokePoint {
  east_m: number;
  north_m: number;
  pressure: number;
}
/**
 * The hand-off sheet: which maps are written and how large.
 */
export interface HandOff {
  maps: ("colour" | "normal" | "roughness" | "occlusion" | "height" | "relief" | "shares")[];
  /**
   * As 32-bit floats, in their units
   *
   * @maxItems 13
   */
  measures: (
    | "elevation"
    | "slope"
    | "aspect"
    | "curvature-profile"
    | "curvature-plan"
    | "curvature-mean"
    | "relative-height"
    | "openness"
    | "drainage"
    | "wetness"
    | "worn"
    | "dropped"
    | "flow"
  )[];
  /**
   * Pixels along the longer side
   */
  size_px: number;
}
/**
 * A texture set, laid where its rule allows.
 */
export interface Layer {
  edge: Edge;
  fit: Fit;
  id: string;
  look: Look;
  name: string;
  on: boolean;
  opacity: number;
  rule: Rule;
  set: string;
}
/**
 * How a layer meets what lies below it.
 */
export interface Edge {
  kind: "fade" | "height";
  /**
   * Height over which the higher one wins
   */
  width_m: number;
}
/**
 * How a texture set lies on the ground, projected from above.
 */
export interface Fit {
  offset_east_m: number;
  offset_north_m: number;
  /**
   * From the lowest to the highest of its height
   */
  relief_m: number;
  /**
   * Metres per repeat
   */
  tile_m: number;
  /**
   * Counter-clockwise seen from above
   */
  turn_deg: number;
}
/**
 * Adjustments of a layer's material; the defaults leave the set as it is.
 */
export interface Look {
  /**
   * Factor on base colour
   */
  brightness: number;
  /**
   * How far its colour is that of the image over the ground
   */
  ground_image: number;
  normal_strength: number;
  occlusion: number;
  roughness_shift: number;
  /**
   * Slow change of brightness over the ground
   */
  variation: number;
  variation_size_m: number;
}
/**
 * Where a layer lies: all clauses together, their edges broken up by noise.
 */
export interface Rule {
  break_up: BreakUp;
  /**
   * @maxItems 16
   */
  clauses: (ElevationClause | SlopeClause)[];
}
/**
 * Noise that moves the soft edges of a rule in and out.
 */
export interface BreakUp {
  seed: number;
  /**
   * Size of the noise's features
   */
  size_m: number;
  /**
   * In widths of the soft ends
   */
  strength: number;
}
/**
 * Sun, sky and air.
 */
export interface Light {
  exposure_ev: number;
  /**
   * 0 clear air, 1 thick mist
   */
  mist: number;
  /**
   * Brightness of the sky against a clear one
   */
  sky: number;
  /**
   * Compass degrees, 0 is north, 90 east
   */
  sun_bearing_deg: number;
  sun_height_deg: number;
}
/**
 * The point on the ground that Mid and Near look at, metres from the south-west corner.
 */
export interface Peg {
  east_m: number;
  north_m: number;
}
/**
 * The three pictures' places.
 */
export interface Stands {
  far: Stand;
  mid: Stand1;
  near: Stand2;
}
/**
 * A place to look from, given by what it looks at: the site's middle (Far) or the peg.
 */
export interface Stand {
  /**
   * Direction of looking
   */
  bearing_deg: number;
  distance_m: number;
  /**
   * How far the view looks down
   */
  tilt_deg: number;
  /**
   * Vertical angle of view
   */
  view_deg: number;
}
/**
 * A place to look from, given by what it looks at: the site's middle (Far) or the peg.
 */
export interface Stand1 {
  /**
   * Direction of looking
   */
  bearing_deg: number;
  distance_m: number;
  /**
   * How far the view looks down
   */
  tilt_deg: number;
  /**
   * Vertical angle of view
   */
  view_deg: number;
}
/**
 * A place to look from, given by what it looks at: the site's middle (Far) or the peg.
 */
export interface Stand2 {
  /**
   * Direction of looking
   */
  bearing_deg: number;
  distance_m: number;
  /**
   * How far the view looks down
   */
  tilt_deg: number;
  /**
   * Vertical angle of view
   */
  view_deg: number;
}
