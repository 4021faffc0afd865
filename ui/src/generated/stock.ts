/* Made from docs/stock.schema.json by make types. */

/**
 * All documents that the stock reads and writes.
 */
export interface StockDocuments {
  decision: Decision;
  description: SetDescription;
  facts: SetFacts;
  manifest: SetManifest;
  mend: Seamless | EvenLight | Reduce | Derive | Turn | Drop;
}
/**
 * A set as it was decided on, before anything is stored.
 */
export interface Decision {
  category:
    | "rock"
    | "scree and gravel"
    | "soil and mud"
    | "grass and plants"
    | "sand"
    | "snow and ice"
    | "concrete"
    | "paving"
    | "wood"
    | "metal"
    | "overlay"
    | "other";
  /**
   * @maxItems 40
   */
  collections: string[];
  /**
   * @maxItems 200
   */
  files: FileDecision[];
  lookup_px: (64 | 128 | 256 | 512 | 1024 | 2048 | 4096) | null;
  manifest: SetManifest | null;
  notes: string;
  relief_m: number;
  /**
   * @maxItems 40
   */
  tags: string[];
  tile_m: number;
  title: string;
}
/**
 * What one file was decided to be.
 */
export interface FileDecision {
  meaning:
    | "colour"
    | "normal"
    | "roughness"
    | "gloss"
    | "metallic"
    | "occlusion"
    | "height"
    | "emission"
    | "mask"
    | "packed-orm"
    | "packed-rma"
    | "packed-mra"
    | "packed-orh"
    | "left-out";
  path: string;
  turn_green: boolean;
}
/**
 * A set as its zip describes it; see docs/formats.md.
 */
export interface SetManifest {
  category:
    | "rock"
    | "scree and gravel"
    | "soil and mud"
    | "grass and plants"
    | "sand"
    | "snow and ice"
    | "concrete"
    | "paving"
    | "wood"
    | "metal"
    | "overlay"
    | "other";
  /**
   * @maxItems 40
   */
  collections: string[];
  format: "elvatch-set";
  lookup_px: 64 | 128 | 256 | 512 | 1024 | 2048 | 4096;
  made_by: MadeBy | null;
  maps: {
    [k: string]: ManifestMap;
  };
  notes: string;
  relief_m: number;
  /**
   * @maxItems 40
   */
  tags: string[];
  tile_m: number;
  title: string;
  version: 1;
}
/**
 * How a sample set was made; the same numbers make the same set.
 */
export interface MadeBy {
  controls: {
    [k: string]: number;
  };
  kind: string;
  seed: number;
  size_px: number;
}
/**
 * One image: its name beside the manifest, and where it came from.
 */
export interface ManifestMap {
  file: string;
  from_name: string;
  note: string;
  origin: "brought" | "unpacked" | "derived" | "made";
}
/**
 * A texture set; ``lookup_px`` is the size it is stored at for covers.
 */
export interface SetDescription {
  category:
    | "rock"
    | "scree and gravel"
    | "soil and mud"
    | "grass and plants"
    | "sand"
    | "snow and ice"
    | "concrete"
    | "paving"
    | "wood"
    | "metal"
    | "overlay"
    | "other";
  /**
   * @maxItems 40
   */
  collections: string[];
  lookup_px: 64 | 128 | 256 | 512 | 1024 | 2048 | 4096;
  made_by: MadeBy | null;
  maps: {
    [k: string]: SetMap;
  };
  notes: string;
  relief_m: number;
  /**
   * @maxItems 40
   */
  tags: string[];
  tile_m: number;
  title: string;
  version: 1;
}
/**
 * One map: a PNG of 8 or 16 bits whose values mean what :mod:`elvatch.core.stock.roles` says.
 *
 * Normals point up the picture where green is high. ``note`` says what was done to it.
 */
export interface SetMap {
  bits: 8 | 16;
  file: string;
  from_name: string;
  height_px: number;
  note: string;
  origin: "brought" | "unpacked" | "derived" | "made";
  width_px: number;
}
/**
 * All that is known of a set's content.
 *
 * ``colour`` is the mean linear colour, ``darker`` and ``brighter`` the shares outside of plausible
 * reflectance; ``normal_length`` and ``tilt_deg`` are means; ``height_used`` the share of the range
 * of numbers between the lowest and highest percent; ``memory_bytes`` what covers need of it.
 */
export interface SetFacts {
  brighter: number;
  colour: number[] | null;
  darker: number;
  findings: SetFinding[];
  green: GreenFact | null;
  height_used: number | null;
  maps: MapFacts[];
  memory_bytes: number;
  normal_length: number | null;
  repetition_far: number;
  repetition_near: number;
  rough_high: number | null;
  rough_low: number | null;
  seam: number;
  tilt_deg: number | null;
}
/**
 * Something odd about a set: what was found, and what mends it.
 */
export interface SetFinding {
  mend: "seamless" | "even-light" | "turn-green" | "invert-roughness" | "invert-mask" | "derive" | "none";
  text: string;
}
/**
 * Which way the normal map's green axis points; kept maps should say up.
 */
export interface GreenFact {
  by: string;
  confidence: number;
  points: "up" | "down" | "cannot tell";
}
/**
 * One map as it is kept. ``levels`` counts distinct values of one channel; the rest is 0..1.
 */
export interface MapFacts {
  across: SeamFact;
  bits: number;
  down: SeamFact;
  height_px: number;
  least: number;
  levels: number;
  mean: number;
  most: number;
  role: "colour" | "normal" | "roughness" | "metallic" | "occlusion" | "height" | "emission" | "mask";
  width_px: number;
}
/**
 * One seam; see :class:`elvatch.core.stock.seam.Seam`.
 */
export interface SeamFact {
  ratio: number;
  worst_from: number;
  worst_ratio: number;
  worst_to: number;
}
/**
 * Make it seamless; ``overlap`` is the share of its size that is laid over itself.
 */
export interface Seamless {
  kind: "seamless";
  overlap: number;
  way: "blend" | "cut";
}
/**
 * Even out broad light and dark; ``broader_than`` is a share of the tile.
 */
export interface EvenLight {
  broader_than: number;
  kind: "even-light";
  strength: number;
}
/**
 * Make every map at most so many pixels wide.
 */
export interface Reduce {
  kind: "reduce";
  px: number;
}
/**
 * Derive one map from another, or from a number: roughness ``dark`` to ``light``, both alike for a constant.
 */
export interface Derive {
  dark: number;
  kind: "derive";
  light: number;
  role: "normal" | "height" | "occlusion" | "roughness";
  source: "height" | "normal" | "colour" | "constant";
}
/**
 * Turn one map over: the green axis of a normal map, dark and light of any other.
 */
export interface Turn {
  kind: "turn";
  role: "colour" | "normal" | "roughness" | "metallic" | "occlusion" | "height" | "emission" | "mask";
}
/**
 * Leave one map out of the set.
 */
export interface Drop {
  kind: "drop";
  role: "colour" | "normal" | "roughness" | "metallic" | "occlusion" | "height" | "emission" | "mask";
}
