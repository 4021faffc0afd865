/* Made from docs/recipe.schema.json by make types. */

/**
 * A site's whole description.
 */
export interface Recipe {
  format: "elvatch-recipe";
  ground: Ground;
  /**
   * @maxItems 64
   */
  kept_rules: KeptRule[];
  /**
   * @maxItems 64
   */
  layers: Layer[];
  light: Light;
  marks: Marks;
  peg: Peg;
  /**
   * Photographs
   *
   * @maxItems 24
   */
  references: Reference[];
  /**
   * Things set by hand
   *
   * @maxItems 500
   */
  set_things: SetThing[];
  /**
   * @maxItems 24
   */
  sheets: Sheet[];
  /**
   * @maxItems 64
   */
  shots: Shot[];
  stands: Stands;
  /**
   * In the order of the column
   *
   * @maxItems 32
   */
  strews: Strew[];
  /**
   * @maxItems 32
   */
  things: Thing[];
  version: 10;
  water: Water;
  /**
   * Findings waved through
   *
   * @maxItems 500
   */
  waved: Waved[];
  /**
   * From the bottom up
   *
   * @maxItems 32
   */
  wears: Wear[];
}
/**
 * A terrain, slab or face: its true size, where its heights come from, and what shaped them.
 */
export interface Ground {
  /**
   * North-south size; of a face its height
   */
  depth_m: number;
  picture: GroundPicture | null;
  source: FileSource | FlatSource;
  /**
   * @maxItems 64
   */
  steps: (
    | FormStep
    | RiversStep
    | RunoffStep
    | SettleStep
    | TerraceStep
    | SmoothStep
    | RidgesStep
    | WarpStep
    | TwistStep
    | RemapStep
    | LevelStep
    | CourseStep
    | BrushStep
    | ResampleStep
  )[];
  /**
   * How it stands where it is a face; else it lies
   */
  upright: Upright | null;
  /**
   * East-west size; of a face that along it
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
  where: MeasureClause[];
}
/**
 * Between two values of a measure of the ground, in the measure's own unit.
 *
 * Facing (``aspect``) goes clockwise from ``lower`` to ``upper``, also through north; level ground
 * faces nowhere.
 */
export interface MeasureClause {
  /**
   * Of the soft ends; without points they ease in and out
   *
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  kind: "measure";
  lower: number | null;
  measure:
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
    | "height-above-water"
    | "distance-to-water"
    | "water-depth";
  opposite: boolean;
  /**
   * Of relative height and openness
   */
  radius_m: number | null;
  soft_lower: number;
  soft_upper: number;
  /**
   * Of all its numbers
   */
  unit: "m" | "°" | "1/m" | "m²" | "ln m";
  upper: number | null;
}
/**
 * A point of a clause's curve: so far inside (0 at the soft end's foot, 1 at the limit), so much let in.
 */
export interface CurvePoint {
  inside: number;
  share: number;
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
}
/**
 * Maps heights by a rising curve; the range stays what it was.
 */
export interface RemapStep {
  /**
   * @minItems 2
   * @maxItems 12
   */
  curve: HeightPoint[];
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
  where: MeasureClause[];
}
/**
 * A point of a curve of heights, as shares of the range.
 */
export interface HeightPoint {
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
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
  where: MeasureClause[];
}
/**
 * How a face stands in the world.
 */
export interface Upright {
  /**
   * Compass bearing that it looks to
   */
  faces_deg: number;
  /**
   * Elevation of its lower edge
   */
  foot_m: number;
}
/**
 * A rule kept under a name, to be used again.
 */
export interface KeptRule {
  id: string;
  name: string;
  rule: Rule;
}
/**
 * Where a layer lies: its clauses in order; none is everywhere.
 */
export interface Rule {
  /**
   * @maxItems 16
   */
  clauses: (OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing | Bracket)[];
}
/**
 * Between two values of a measure.
 */
export interface OnMeasure {
  /**
   * Of the soft ends; without points they ease in and out
   *
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "measure";
  lower: number | null;
  measure:
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
    | "height-above-water"
    | "distance-to-water"
    | "water-depth";
  opposite: boolean;
  /**
   * Of relative height and openness
   */
  radius_m: number | null;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  /**
   * Of all its numbers
   */
  unit: "m" | "°" | "1/m" | "m²" | "ln m";
  upper: number | null;
}
/**
 * Noise from about 0 to 1.
 */
export interface OnNoise {
  /**
   * Of the soft ends; without points they ease in and out
   *
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "noise";
  lower: number | null;
  noise: "soft" | "ridges" | "cells" | "patches";
  opposite: boolean;
  seed: number;
  /**
   * Size of the noise's features
   */
  size_m: number;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  upper: number | null;
}
/**
 * Where a mask is painted.
 */
export interface OnPainted {
  /**
   * The mask's name when it was chosen, to name it should it be gone
   */
  called: string;
  /**
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "painted";
  lower: number | null;
  mask: string;
  opposite: boolean;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  upper: number | null;
}
/**
 * Along a drawn path; its width and edge are the path's own.
 */
export interface OnPath {
  /**
   * The path's name when it was chosen
   */
  called: string;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "path";
  opposite: boolean;
  path: string;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  /**
   * Added to the path's width
   */
  wider_m: number;
}
/**
 * One channel of an image over the ground; beyond its edges there is nothing.
 */
export interface OnImage {
  /**
   * The image's name when it was chosen
   */
  called: string;
  channel: "R" | "G" | "B" | "A" | "brightness";
  /**
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  image: string;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "image";
  lower: number | null;
  opposite: boolean;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  upper: number | null;
}
/**
 * Where another layer is let in by its own rule and opacity, hidden or not.
 */
export interface OnLayer {
  /**
   * The layer's name when it was chosen
   */
  called: string;
  /**
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "layer";
  layer: string;
  lower: number | null;
  opposite: boolean;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  upper: number | null;
}
/**
 * So far from the edge of the nearest of a strew's things, of one set by hand or of a path, metres on the map.
 */
export interface OnNear {
  /**
   * Its name when it was chosen
   */
  called: string;
  /**
   * Of the soft ends; without points they ease in and out
   *
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "near";
  lower: number | null;
  opposite: boolean;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  /**
   * Which strew or path, or which thing that is set by hand
   */
  target: string;
  to: "strew" | "path" | "thing";
  upper: number | null;
}
/**
 * Between two values of what a place on a thing is like; on the ground it lets nothing in.
 */
export interface OnThing {
  /**
   * Of the soft ends; without points they ease in and out
   *
   * @maxItems 8
   */
  curve: CurvePoint[];
  /**
   * Comes again every so much, in the clause's unit; None: once
   */
  every: number | null;
  /**
   * How far repeated bands lie off their even places and differ in width
   */
  irregular: number;
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "thing";
  lower: number | null;
  of: "up" | "foot" | "ground" | "edge" | "sky" | "red" | "green" | "blue";
  opposite: boolean;
  soft_lower: number;
  soft_upper: number;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
  upper: number | null;
}
/**
 * Clauses that are joined among themselves first.
 */
export interface Bracket {
  /**
   * @minItems 1
   * @maxItems 12
   */
  clauses: (OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing)[];
  join: "and" | "or" | "except" | "add" | "break-up";
  kind: "bracket";
  opposite: boolean;
  /**
   * As break-up: how far edges move, in widths of their soft ends
   */
  strength: number;
}
/**
 * A texture set, laid where its rule allows.
 */
export interface Layer {
  edge: Edge;
  fit: Fit;
  /**
   * Name of the group it stands in; '' is none
   */
  group: string;
  id: string;
  look: Look;
  name: string;
  on: boolean;
  opacity: number;
  rule: Rule1;
  set: string;
}
/**
 * How a layer meets what lies below it.
 */
export interface Edge {
  /**
   * How far the soft end of its rule breaks up into fingers and islands
   */
  fingers: number;
  /**
   * Across a usual finger
   */
  fingers_m: number;
  kind: "fade" | "height";
  /**
   * How much of the soft end the strip along its boundary takes
   */
  strip: number;
  /**
   * What lies along its boundary, as bare soil or litter does; None: nothing of its own
   */
  strip_set: string | null;
  /**
   * Across a repeat of the strip's set
   */
  strip_tile_m: number;
  /**
   * Height over which the higher one wins
   */
  width_m: number;
}
/**
 * How a texture set lies on the ground.
 */
export interface Fit {
  detail: NearDetail | null;
  /**
   * How its relief meets that of the layers below
   */
  meets: "levelled" | "on top" | "cut in";
  /**
   * Left and right swapped
   */
  mirror: boolean;
  offset_east_m: number;
  offset_north_m: number;
  /**
   * On steep planes
   */
  offset_up_m: number;
  /**
   * Steep sides of its relief get the texture across them, not drawn out down them
   */
  own_sides: boolean;
  /**
   * Triplanar: how sharply planes meet (power of the normal)
   */
  plane_edge: number;
  projection: "above" | "triplanar" | "downhill" | "side";
  /**
   * Above 0 sharpens its tops, below 0 rounds them
   */
  relief_curve: number;
  /**
   * From the lowest to the highest of its height
   */
  relief_m: number;
  /**
   * Height that lies level with the ground; None: the mean, on top the lowest, cut in the highest
   */
  relief_mid: number | null;
  repeats: Repeats;
  /**
   * From a side: where the wall faces
   */
  side_deg: number;
  /**
   * Triplanar: another set for the steep planes
   */
  steep_set: string | null;
  /**
   * More turn of planes facing east or west
   */
  steep_turn_east_deg: number;
  /**
   * Of planes facing north or south
   */
  steep_turn_north_deg: number;
  /**
   * Down the texture; None is as across
   */
  tile_down_m: number | null;
  /**
   * Metres per repeat
   */
  tile_m: number;
  /**
   * Counter-clockwise, facing the plane
   */
  turn_deg: number;
}
/**
 * A finer set that comes in as one gets close; its mean changes nothing.
 */
export interface NearDetail {
  /**
   * From the lowest to the highest of its height
   */
  relief_m: number;
  /**
   * None is the layer's own
   */
  set: string | null;
  strength: number;
  tile_m: number;
}
/**
 * What is done so that the eye does not find the tile again.
 */
export interface Repeats {
  /**
   * shift keeps the texture's direction, turn does not; second mixes in a larger copy from afar
   */
  kind: "none" | "shift" | "turn" | "second";
  /**
   * The larger copy's tile, in tiles
   */
  second_scale: number;
  /**
   * Share of patches that are moved, or of the larger copy
   */
  strength: number;
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
   * Lightness (encoded) that white becomes
   */
  colour_highest: number;
  /**
   * Lightness (encoded) that black becomes
   */
  colour_lowest: number;
  /**
   * Brightness of its set's emission, 0 is white ground at noon
   */
  emission_ev: number;
  /**
   * Whether what its set sends out by itself is seen
   */
  emits: boolean;
  /**
   * How far its colour is that of the image over the ground
   */
  ground_image: number;
  /**
   * Turn of the colour wheel
   */
  hue_deg: number;
  normal_strength: number;
  occlusion: number;
  /**
   * What roughness 1 becomes, before the shift
   */
  roughness_highest: number;
  /**
   * What roughness 0 becomes, before the shift
   */
  roughness_lowest: number;
  roughness_shift: number;
  /**
   * 0 is grey, 1 as it is
   */
  saturation: number;
  /**
   * Slow change of brightness over the ground
   */
  variation: number;
  /**
   * Slow change of warmth and saturation over the ground
   */
  variation_colour: number;
  /**
   * Slow drift of the tiles, in tiles
   */
  variation_offset: number;
  variation_size_m: number;
}
/**
 * Where a layer lies: its clauses in order; none is everywhere.
 */
export interface Rule1 {
  /**
   * @maxItems 16
   */
  clauses: (OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing | Bracket)[];
}
/**
 * Sun, sky and air; brightness is against a clear day's.
 */
export interface Light {
  /**
   * Beyond the edge the ground goes on, or it is a cut block
   */
  beyond: "ground" | "block";
  exposure_ev: number;
  image: ImageLight | null;
  mist: Mist;
  overcast: number;
  /**
   * Over so much height the air is thinner by a factor e
   */
  scale_height_m: number;
  /**
   * Brightness of the sky against a clear day's
   */
  sky: number;
  /**
   * Brightness of the sun against a clear day's
   */
  sun: number;
  /**
   * Compass degrees, 0 is north, 90 east
   */
  sun_bearing_deg: number;
  /**
   * Over the level horizon; below 0 it has set
   */
  sun_height_deg: number;
  /**
   * Across its disc
   */
  sun_width_deg: number;
  /**
   * Left out: as clear as the site's size asks
   */
  visibility_km: number | null;
  /**
   * What the sun's angles were last worked out from; nothing follows from it
   */
  when: When | null;
}
/**
 * A panorama of the whole sky that lights in place of the clear sky; its sun is found and cast as one.
 */
export interface ImageLight {
  file: string;
  file_name: string;
  /**
   * How it is seen behind the ground
   */
  shows: "sharp" | "blurred" | "no";
  /**
   * Bearing at which the image's middle stands
   */
  turn_deg: number;
}
/**
 * A layer of mist that lies in the valleys.
 */
export interface Mist {
  /**
   * sRGB, as #rrggbb
   */
  colour: string;
  on: boolean;
  /**
   * Above its top it is thinner by a factor e over so much
   */
  soft_m: number;
  /**
   * Elevation up to which it is dense
   */
  top_m: number;
  /**
   * Visibility inside it, metres
   */
  visibility_m: number;
}
/**
 * A latitude, a date and an hour, which say where the sun stands.
 */
export interface When {
  day: string;
  /**
   * Mean solar time
   */
  hour: number;
  /**
   * North is positive
   */
  latitude_deg: number;
}
/**
 * All that is marked on a ground.
 */
export interface Marks {
  /**
   * @maxItems 64
   */
  images: MaskImage[];
  /**
   * @maxItems 64
   */
  masks: PaintedMask[];
  /**
   * @maxItems 64
   */
  paths: DrawnPath[];
}
/**
 * An image laid over the ground whose channels rules read, raw.
 */
export interface MaskImage {
  file: string;
  file_name: string;
  id: string;
  name: string;
  placing: Placing;
}
/**
 * Where an image lies: from edge to edge of the ground, or by its south-west corner and size.
 */
export interface Placing {
  depth_m: number;
  east_m: number;
  fit: "ground" | "corner";
  flip_east_west: boolean;
  flip_north_south: boolean;
  north_m: number;
  width_m: number;
}
/**
 * A mask painted by hand over the whole ground; only what was painted is kept.
 */
export interface PaintedMask {
  id: string;
  name: string;
  /**
   * Metres per sample
   */
  sample_m: number;
  /**
   * @maxItems 8192
   */
  tiles: MaskTile[];
}
/**
 * A painted square of a mask: 16-bit grey, counted in tiles from the north-west corner.
 */
export interface MaskTile {
  col: number;
  file: string;
  row: number;
}
/**
 * A line across the ground: a track, a lane, a ditch.
 */
export interface DrawnPath {
  id: string;
  name: string;
  /**
   * @minItems 2
   * @maxItems 400
   */
  points: PathPoint[];
  seed: number;
  /**
   * Soft edge on either side, outwards
   */
  soft_m: number;
  width_m: number;
  /**
   * How far it strays sideways
   */
  wobble_m: number;
  wobble_size_m: number;
}
/**
 * A point that a path goes through, metres from the south-west corner.
 */
export interface PathPoint {
  east_m: number;
  north_m: number;
}
/**
 * The point on the ground that Mid and Near look at, metres from the south-west corner.
 */
export interface Peg {
  east_m: number;
  north_m: number;
}
/**
 * A photograph that is kept with a site.
 */
export interface Reference {
  /**
   * PNG, sRGB of 8 bits
   */
  file: string;
  id: string;
  name: string;
  /**
   * What is looked at; left out, all of it
   */
  patch: Patch | null;
}
/**
 * A part of a photograph, 0..1 from its left and top.
 */
export interface Patch {
  bottom: number;
  left: number;
  right: number;
  top: number;
}
/**
 * A thing set by hand. At no turn its length points east and its own up is the world's.
 */
export interface SetThing {
  across: number;
  along: number;
  east_m: number;
  /**
   * Whether it stands on the ground, also when that changes
   */
  follows: boolean;
  /**
   * Elevation of its foot where it does not follow the ground
   */
  foot_m: number;
  high: number;
  id: string;
  joins_m: number;
  leans: number;
  /**
   * Its left is its right: across its length, seen in a mirror
   */
  mirrored: boolean;
  name: string;
  nod_deg: number;
  north_m: number;
  of_ground: number;
  on: boolean;
  roll_deg: number;
  size_m: number;
  sunk: number;
  thing: string;
  turn_deg: number;
  /**
   * Which of the thing's; the last where fewer
   */
  variant: number;
}
/**
 * What leaves a site for one purpose.
 */
export interface Sheet {
  /**
   * @maxItems 64
   */
  entries: (MapsEntry | KitEntry | MeshEntry | GroundEntry | StillsEntry | SiteEntry | ThingsEntry)[];
  fine: Fine;
  id: string;
  name: string;
  /**
   * Left out, the whole site
   */
  region: Region | null;
  tiles: Tiling;
}
/**
 * Files of numbers over the ground.
 */
export interface MapsEntry {
  /**
   * Shares or weights of only the four layers that cover most of each tile; 0 of all
   */
  a_tile: 0 | 4;
  /**
   * Whether a normal is the relief's on the ground's own, or that of both
   */
  against: "ground" | "whole";
  /**
   * Samples stand on the corners of the site, as heights do
   */
  corners: boolean;
  /**
   * Of colours; all other values go as they are
   */
  encoding:
    | "sRGB"
    | "Linear Rec.709"
    | "ACEScg"
    | "ACES2065-1"
    | "ACEScct"
    | "ACEScc"
    | "Linear Rec.2020"
    | "Linear P3-D65"
    | "sRGB in AP1"
    | "Gamma 1.8 Rec.709"
    | "Gamma 2.2 Rec.709"
    | "Gamma 2.4 Rec.709"
    | "Gamma 2.2 AP1";
  /**
   * Pattern of the name: {site}, {map}, {row}, {column}, {udim}, {k}, {layer}, {width}, {height}
   */
  file: string;
  format: "png" | "tiff" | "exr" | "jpeg" | "webp" | "tga" | "raw";
  /**
   * Which way a normal's second number points
   */
  green: "up" | "down";
  /**
   * @minItems 1
   * @maxItems 4
   */
  holds: Slot[];
  id: string;
  kind: "maps";
  /**
   * Its own size; 0 is as fine as the sheet
   */
  longer_px: number;
  /**
   * Of RAW files of more than 8 bits
   */
  low_byte_first: boolean;
  /**
   * Weights of only the four strongest layers; 0 of all
   */
  strongest: 0 | 4;
  type: "uint8" | "uint16" | "float16" | "float32";
}
/**
 * One value of a file, in one channel or three; ``layer`` is whose share it is.
 */
export interface Slot {
  /**
   * What the highest code stands for
   */
  high: number;
  inverted: boolean;
  layer: string | null;
  /**
   * What the lowest code stands for, of an own range
   */
  low: number;
  of:
    | (
        | "colour"
        | "normal"
        | "roughness"
        | "metallic"
        | "occlusion"
        | "emission"
        | "height"
        | "relief"
        | "water"
        | "share"
        | "shares"
        | "weights"
        | "strongest-layers"
        | "strongest-weights"
      )
    | (
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
        | "height-above-water"
        | "distance-to-water"
        | "water-depth"
      );
  range: "usual" | "found" | "own";
}
/**
 * The layers themselves: their maps, how they lie, and their weights over the ground.
 */
export interface KitEntry {
  /**
   * Pattern of the name
   */
  file: string;
  green: "up" | "down";
  id: string;
  kind: "kit";
  /**
   * A MaterialX document for each tile
   */
  material: boolean;
  /**
   * Layers on a tile of the ground; 0 is all
   */
  most_a_tile: 0 | 4;
  /**
   * Pixels along a side of each layer's maps
   */
  set_px: 64 | 128 | 256 | 512 | 1024 | 2048 | 4096;
  /**
   * A map of what tiled sets cannot carry: slow variation, wear, an image over the ground
   */
  tint: boolean;
  weight_type: "uint8" | "uint16";
  /**
   * Four layers a file; a mask a layer; the strongest four by number, with their weights
   */
  weights: "splat" | "masks" | "strongest";
}
/**
 * The ground as triangles.
 */
export interface MeshEntry {
  /**
   * By greatest error, or a regular grid
   */
  by: "error" | "grid";
  cell_m: number;
  columns: number;
  /**
   * Pattern of the name
   */
  file: string;
  format: "glb" | "obj" | "ply" | "usdc" | "usda";
  greatest_error_m: number;
  id: string;
  kind: "mesh";
  levels: number;
  /**
   * Baked maps that cover it
   */
  maps: "none" | "linked" | "inside";
  maps_px: number;
  /**
   * With the relief of the cover, on the sheet's texels
   */
  relief: boolean;
  rows: number;
  /**
   * Layers' shares at its vertices, as colours or by name
   */
  shares: "none" | "colours" | "values";
  /**
   * Walls down from tiles' borders, which hide gaps between levels
   */
  skirts: boolean;
  /**
   * Which axis is up, where the format does not say
   */
  up: "y" | "z";
}
/**
 * The heights of the ground alone, with its true size beside them.
 */
export interface GroundEntry {
  /**
   * Pattern of the name
   */
  file: string;
  /**
   * The first column is the eastern one
   */
  flip_east_west: boolean;
  /**
   * The first row is the southern one
   */
  flip_north_south: boolean;
  format: "png" | "tiff" | "exr" | "raw" | "npy" | "asc";
  id: string;
  kind: "ground";
  /**
   * Samples along the longer side, on corners; 0 is the ground's own
   */
  longer_px: number;
  /**
   * Of RAW files of more than 8 bits
   */
  low_byte_first: boolean;
  /**
   * What shaping wore, dropped and let flow, as floats beside it
   */
  traces: boolean;
  type: "uint8" | "uint16" | "float16" | "float32";
}
/**
 * Pictures of the site, taken with many rays.
 */
export interface StillsEntry {
  /**
   * Every shot that the site keeps, too
   */
  all_shots: boolean;
  /**
   * Pattern of the name
   */
  file: string;
  height_px: number;
  id: string;
  kind: "stills";
  rays: number;
  /**
   * @maxItems 3
   */
  stands: ("far" | "mid" | "near")[];
  width_px: number;
}
/**
 * The whole site: its recipe and all that it needs, to be opened elsewhere.
 */
export interface SiteEntry {
  /**
   * Pattern of the name
   */
  file: string;
  id: string;
  kind: "site";
}
/**
 * What is strewn over the site: where each thing stands, their models, and how densely they lie.
 */
export interface ThingsEntry {
  /**
   * Axes of baked normals: the texture's at each place, or the model's own
   */
  bake_normals: "tangent" | "object";
  /**
   * Side of each model's textures; 0: colours of its corners alone
   */
  bake_px: number;
  columns: number;
  /**
   * Longer side of a map of each strew's density; 0 for none
   */
  density_px: number;
  /**
   * Pattern of the name
   */
  file: string;
  /**
   * @maxItems 4
   */
  forms: ("csv" | "json" | "glb" | "usd")[];
  id: string;
  kind: "things";
  /**
   * Levels lie side by side in a GLB, as variants in an OpenUSD file
   *
   * @minItems 1
   * @maxItems 2
   */
  model_forms: ("glb" | "usd")[];
  /**
   * Each variant of each thing, with its levels of detail
   */
  models: boolean;
  rows: number;
}
/**
 * How fine a sheet's files are: pixels along the longer side of the whole site, or a density.
 */
export interface Fine {
  by: "pixels" | "px-per-m" | "m-per-texel";
  value: number;
}
/**
 * A part of the site, a rectangle from its south-west corner.
 */
export interface Region {
  depth_m: number;
  east_m: number;
  north_m: number;
  width_m: number;
}
/**
 * Into how many files the part is cut, and how many texels of their neighbours they repeat.
 */
export interface Tiling {
  /**
   * Texels of its neighbours that a tile repeats on every side
   */
  border_px: number;
  columns: number;
  rows: number;
  /**
   * Side of a tile; 0 goes by columns and rows
   */
  side_px: number;
}
/**
 * A view kept under a name, to come back to and to take stills of.
 */
export interface Shot {
  id: string;
  /**
   * Its own; left out, the site's
   */
  light: Light1 | null;
  name: string;
  /**
   * What it looks at; left out, the whole site
   */
  peg: Peg | null;
  stand: Stand;
}
/**
 * Sun, sky and air; brightness is against a clear day's.
 */
export interface Light1 {
  /**
   * Beyond the edge the ground goes on, or it is a cut block
   */
  beyond: "ground" | "block";
  exposure_ev: number;
  image: ImageLight | null;
  mist: Mist;
  overcast: number;
  /**
   * Over so much height the air is thinner by a factor e
   */
  scale_height_m: number;
  /**
   * Brightness of the sky against a clear day's
   */
  sky: number;
  /**
   * Brightness of the sun against a clear day's
   */
  sun: number;
  /**
   * Compass degrees, 0 is north, 90 east
   */
  sun_bearing_deg: number;
  /**
   * Over the level horizon; below 0 it has set
   */
  sun_height_deg: number;
  /**
   * Across its disc
   */
  sun_width_deg: number;
  /**
   * Left out: as clear as the site's size asks
   */
  visibility_km: number | null;
  /**
   * What the sun's angles were last worked out from; nothing follows from it
   */
  when: When | null;
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
 * The three pictures' places.
 */
export interface Stands {
  far: Stand1;
  mid: Stand2;
  near: Stand3;
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
/**
 * A place to look from, given by what it looks at: the site's middle (Far) or the peg.
 */
export interface Stand3 {
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
 * Things laid out by a rule.
 */
export interface Strew {
  /**
   * @maxItems 4000
   */
  added: Added[];
  apart_m: number;
  /**
   * A ceiling, held to within a hundredth; that it cuts is told
   */
  at_most: number;
  /**
   * @maxItems 4000
   */
  by_hand: ByHand[];
  /**
   * Strews whose things it keeps clear of
   *
   * @maxItems 32
   */
  clear_of: string[];
  clusters: Clusters;
  id: string;
  /**
   * @minItems 1
   * @maxItems 12
   */
  kinds: Mixed[];
  looks: Looks;
  name: string;
  on: boolean;
  /**
   * Of map; 0 where only what a hand added lies
   */
  per_100_m2: number;
  rule: Rule2;
  seed: number;
  size: Size;
  stands: Standing;
  /**
   * @maxItems 8
   */
  touches: Touch[];
}
/**
 * A thing that a hand added to a strew.
 */
export interface Added {
  east_m: number;
  north_m: number;
  number: number;
  size_m: number;
  thing: string;
  turn_deg: number;
}
/**
 * One of a strew's things that a hand changed, by its number: where it now lies, or that it is gone.
 *
 * ``east_m, north_m`` None where it stays; ``times`` its size is multiplied by and ``turn_deg`` added to its turn.
 */
export interface ByHand {
  east_m: number | null;
  gone: boolean;
  north_m: number | null;
  number: number;
  times: number;
  turn_deg: number;
}
/**
 * Things that lie in clusters.
 */
export interface Clusters {
  apart_m: number;
  clustered: number;
  size_m: number;
}
/**
 * One of a strew's things and how much of the strew it is, against the others.
 */
export interface Mixed {
  thing: string;
  weight: number;
}
/**
 * How a strew's things differ in colour, and what they take from the ground.
 */
export interface Looks {
  brightness: number;
  foot_m: number;
  hue: number;
  of_ground: number;
}
/**
 * Where a layer lies: its clauses in order; none is everywhere.
 */
export interface Rule2 {
  /**
   * @maxItems 16
   */
  clauses: (OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing | Bracket)[];
}
/**
 * How long the longest side of things is, metres, and how far small ones are more frequent.
 */
export interface Size {
  at_foot: number;
  /**
   * Density of sizes falls as (1 - t) to this power from smallest to largest
   */
  bias: number;
  foot_m: number;
  from_m: number;
  to_m: number;
  top_m: number;
}
/**
 * How a strew's things stand: sunk by a share of their height, leaning with the ground, turned.
 */
export interface Standing {
  jitter_deg: number;
  leans: number;
  /**
   * Whose direction it takes
   */
  path: string | null;
  sunk_from: number;
  sunk_to: number;
  tilt_deg: number;
  turn_deg: number;
  /**
   * Any way, along the fall, along a path
   */
  turned: "any" | "fall" | "path";
}
/**
 * What a brush does to a strew where its mask is painted: more, or fewer down to none; of one thing or of all.
 */
export interface Touch {
  does: "more" | "fewer";
  mask: string;
  thing: string | null;
}
/**
 * A thing under a name.
 */
export interface Thing {
  cover: Covering;
  id: string;
  name: string;
  source: DrawnThing | BroughtThing;
}
/**
 * Layers that lie on a thing's own material, from the bottom up, wear over them or over it alone, and in whose
 * axes all of it is laid.
 */
export interface Covering {
  /**
   * thing: textures turn with it; world: they stay; uv: laid over its own texture coordinates
   */
  axes: "thing" | "world" | "uv";
  /**
   * Over its texture coordinates; rules read their channels
   *
   * @maxItems 8
   */
  images: ImageOnThing[];
  /**
   * @maxItems 16
   */
  layers: Layer[];
  /**
   * Painted on it; rules of its layers and wear read them
   *
   * @maxItems 8
   */
  masks: PaintOnThing[];
  /**
   * From the bottom up; levels are heights above the thing's own foot unless axes are the world's
   *
   * @maxItems 8
   */
  wears: Wear[];
}
/**
 * An image laid over a thing's own texture coordinates, whose channels rules read, raw.
 */
export interface ImageOnThing {
  file: string;
  file_name: string;
  id: string;
  name: string;
}
/**
 * A mask painted on a thing's own surface; it has no file until something was painted.
 */
export interface PaintOnThing {
  file: string | null;
  id: string;
  name: string;
}
/**
 * A wear of one site.
 */
export interface Wear {
  by_relief: ByRelief;
  effects: Effects;
  follows: OverGround | AlongLevels | AlongPath;
  id: string;
  lie: Lie;
  name: string;
  on: boolean;
  /**
   * Only these layers; none is all below
   *
   * @maxItems 64
   */
  over: string[];
  /**
   * The layer right under it; None is on top of all
   */
  place: string | null;
  range: Range;
  rule: Rule3;
  source: Made | FromStock;
  /**
   * Of all its effects
   */
  strength: number;
}
/**
 * Lets wear through by how high the relief under it stands at a place.
 */
export interface ByRelief {
  /**
   * Of the relief, from its lowest to its highest
   */
  level: number;
  /**
   * Over so much of the relief it comes in
   */
  soft: number;
  where: "everywhere" | "hollows" | "raised";
}
/**
 * What a wear does; those left out it does not.
 */
export interface Effects {
  colour: Colouring | null;
  metallic: Blend | null;
  relief: ReliefEffect | null;
  roughness: Blend | null;
  /**
   * How far it removes the layers it lies over, to show what is below
   */
  worn_through: number | null;
}
/**
 * How base colour is changed where the overlay lies.
 */
export interface Colouring {
  /**
   * sRGB
   */
  colour: string;
  mode: "tint" | "multiply" | "screen" | "overlay" | "replace";
  strength: number;
}
/**
 * How a raw number is changed: by the overlay's own values, or towards one value where it lies.
 */
export interface Blend {
  mode: "screen" | "multiply" | "overlay" | "add" | "subtract" | "lighten" | "darken" | "replace";
  strength: number;
  /**
   * One value; None is the overlay's own
   */
  towards: number | null;
}
/**
 * What wear does to the surface, along its normal.
 */
export interface ReliefEffect {
  depth_mm: number;
  way: "carve" | "raise";
}
/**
 * Repeated over the ground, by its lie.
 */
export interface OverGround {
  kind: "ground";
}
/**
 * Drawn out along the levels of a measure: the overlay's top edge lies at ``from_m``.
 */
export interface AlongLevels {
  from_m: number;
  kind: "levels";
  measure: "elevation" | "relative-height";
  /**
   * Not repeated above and below
   */
  once: boolean;
  /**
   * Of relative height
   */
  radius_m: number;
  /**
   * Over which the overlay lies once
   */
  spacing_m: number;
  /**
   * How far levels wander up and down
   */
  wobble_m: number;
  wobble_size_m: number;
}
/**
 * Along a drawn path: the overlay's width lies across it, its length along it.
 */
export interface AlongPath {
  /**
   * The path's name when it was chosen
   */
  called: string;
  kind: "path";
  /**
   * Metres along it for a repeat
   */
  length_m: number;
  path: string;
  width_m: number;
}
/**
 * How an image is repeated over the ground, whatever it is an image of.
 */
export interface Lie {
  /**
   * Left and right swapped
   */
  mirror: boolean;
  offset_east_m: number;
  offset_north_m: number;
  /**
   * On steep planes
   */
  offset_up_m: number;
  /**
   * Triplanar: how sharply planes meet (power of the normal)
   */
  plane_edge: number;
  projection: "above" | "triplanar" | "downhill" | "side";
  repeats: Repeats1;
  /**
   * From a side: where the wall faces
   */
  side_deg: number;
  /**
   * More turn of planes facing east or west
   */
  steep_turn_east_deg: number;
  /**
   * Of planes facing north or south
   */
  steep_turn_north_deg: number;
  /**
   * Down the texture; None is as across
   */
  tile_down_m: number | null;
  /**
   * Metres per repeat
   */
  tile_m: number;
  /**
   * Counter-clockwise, facing the plane
   */
  turn_deg: number;
}
/**
 * What is done so that the eye does not find the tile again.
 */
export interface Repeats1 {
  /**
   * shift keeps the texture's direction, turn does not; second mixes in a larger copy from afar
   */
  kind: "none" | "shift" | "turn" | "second";
  /**
   * The larger copy's tile, in tiles
   */
  second_scale: number;
  /**
   * Share of patches that are moved, or of the larger copy
   */
  strength: number;
}
/**
 * What of the overlay counts: values from none to full, with soft ends.
 */
export interface Range {
  /**
   * What counts in full
   */
  full_at: number;
  /**
   * What counts as nothing, after turning
   */
  none_at: number;
  /**
   * 0 straight between the two, 1 eased at both ends
   */
  soft: number;
  /**
   * Dark marks count, not light ones
   */
  turned: boolean;
}
/**
 * Where a layer lies: its clauses in order; none is everywhere.
 */
export interface Rule3 {
  /**
   * @maxItems 16
   */
  clauses: (OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing | Bracket)[];
}
/**
 * An overlay that a generator draws; the same numbers draw the same.
 */
export interface Made {
  /**
   * Those not given are usual
   */
  controls: {
    [k: string]: number;
  };
  kind: "made";
  seed: number;
  /**
   * Which generator
   */
  what: string;
}
/**
 * An overlay of the stock: its mask, or the brightness of what it has.
 */
export interface FromStock {
  kind: "stock";
  set: string;
}
/**
 * Drawn by code: a kind, its controls, and how many variants from which seed on.
 */
export interface DrawnThing {
  /**
   * Those not given are usual
   */
  controls: {
    [k: string]: number;
  };
  kind: "drawn";
  seed: number;
  variants: number;
  /**
   * Which kind
   */
  what: string;
}
/**
 * Brought in: a model that was read, reduced to levels of detail and kept.
 */
export interface BroughtThing {
  file: string;
  file_name: string;
  kind: "brought";
  /**
   * Its longest side at its own size, metres
   */
  longest_m: number;
}
/**
 * Still water up to a level; off until it is wanted.
 */
export interface Water {
  /**
   * Way through it over which white light turns to its colour
   */
  clarity_m: number;
  /**
   * sRGB, as #rrggbb
   */
  colour: string;
  /**
   * Elevation of its surface
   */
  level_m: number;
  on: boolean;
  /**
   * Compass degrees, 0 is north, 90 east
   */
  ripple_bearing_deg: number;
  /**
   * Height of its ripples from trough to crest
   */
  ripple_m: number;
  /**
   * Height above it up to which the ground is wet
   */
  wet_m: number;
}
/**
 * A finding that was waved through, with a word why.
 */
export interface Waved {
  /**
   * Which finding
   */
  id: string;
  word: string;
}
