/* Made from docs/recipe.schema.json by npm run types. */

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
  version: 1;
}
/**
 * A terrain read from a height file, kept as it came and placed by size and range.
 */
export interface Ground {
  /**
   * North-south size
   */
  depth_m: number;
  file: string;
  file_name: string;
  /**
   * Elevation of the file's highest value
   */
  highest_m: number;
  /**
   * Elevation of the file's lowest value
   */
  lowest_m: number;
  /**
   * East-west size
   */
  width_m: number;
}
/**
 * The hand-off sheet: which maps are written and how large.
 */
export interface HandOff {
  maps: ("colour" | "normal" | "roughness" | "occlusion" | "height" | "relief" | "shares")[];
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
