/* Made from docs/catalogue.json by make types. */
import type { Catalogue } from "./answers";

/** Fields of each part of a recipe whose numbers the catalogue tells. */
export interface Numbers {
  FlatSource: "samples" | "level_m";
  Upright: "faces_deg" | "foot_m";
  Stroke: "size_m" | "amount_m" | "soft" | "strength";
  CoursePoint: "level_m" | "half_width_m";
  MeasureClause: "irregular" | "radius_m";
  OnNoise: "irregular" | "size_m" | "seed" | "strength";
  OnPath: "wider_m" | "strength";
  OnNear: "upper" | "irregular" | "strength";
  DrawnPath: "width_m" | "soft_m" | "wobble_m" | "wobble_size_m";
  Placing: "east_m" | "north_m" | "width_m" | "depth_m";
  MaskStroke: "size_m" | "soft" | "flow" | "strength";
  Repeats: "second_scale" | "strength";
  NearDetail: "tile_m" | "relief_m" | "strength";
  Lie: "tile_m" | "turn_deg" | "offset_east_m" | "offset_north_m" | "offset_up_m" | "plane_edge" | "steep_turn_east_deg" | "steep_turn_north_deg" | "side_deg";
  Fit: "tile_m" | "turn_deg" | "offset_east_m" | "offset_north_m" | "offset_up_m" | "plane_edge" | "steep_turn_east_deg" | "steep_turn_north_deg" | "side_deg" | "relief_m" | "relief_mid" | "relief_curve";
  Layer: "opacity";
  Edge: "width_m" | "fingers" | "fingers_m" | "strip" | "strip_tile_m";
  Look: "brightness" | "hue_deg" | "saturation" | "colour_lowest" | "colour_highest" | "roughness_shift" | "roughness_lowest" | "roughness_highest" | "normal_strength" | "occlusion" | "emission_ev" | "variation" | "variation_colour" | "variation_offset" | "variation_size_m" | "ground_image";
  Stand: "view_deg";
  Light: "sun_bearing_deg" | "sun_height_deg" | "sun" | "sun_width_deg" | "sky" | "overcast" | "exposure_ev" | "visibility_km" | "scale_height_m";
  Mist: "top_m" | "soft_m" | "visibility_m";
  When: "latitude_deg" | "hour";
  ImageLight: "turn_deg";
  Water: "level_m" | "clarity_m" | "ripple_m" | "ripple_bearing_deg" | "wet_m";
  Range: "none_at" | "full_at" | "soft";
  AlongLevels: "radius_m" | "from_m" | "spacing_m" | "wobble_m" | "wobble_size_m";
  AlongPath: "width_m" | "length_m";
  ByRelief: "level" | "soft";
  Blend: "towards" | "strength";
  Colouring: "strength";
  ReliefEffect: "depth_mm";
  Effects: "worn_through";
  WearBody: "strength";
  Filed: "tile_m" | "relief_m";
  MadeBy: "seed";
  ViewNumbers: "contour_m" | "cut_deg" | "cut_m" | "relief_limit_m" | "apart_m" | "nothing_upto" | "all_from";
  StillAsk: "width_px" | "height_px" | "rays" | "warmth" | "contrast" | "frames" | "seconds";
  Fine: "value";
  Tiling: "columns" | "rows" | "side_px" | "border_px";
  MapsEntry: "longer_px";
  Slot: "low" | "high";
  MeshEntry: "greatest_error_m" | "cell_m" | "columns" | "rows" | "levels" | "maps_px";
  GroundEntry: "longer_px";
  StillsEntry: "width_px" | "height_px" | "rays";
  ThingsEntry: "density_px" | "bake_px" | "columns" | "rows";
  Mixed: "weight";
  Size: "from_m" | "to_m" | "bias" | "at_foot" | "foot_m" | "top_m";
  Standing: "sunk_from" | "sunk_to" | "leans" | "tilt_deg" | "turn_deg" | "jitter_deg";
  Clusters: "clustered" | "size_m" | "apart_m";
  Looks: "hue" | "brightness" | "of_ground" | "foot_m";
  Strew: "per_100_m2" | "apart_m" | "at_most";
  ByHand: "times" | "turn_deg";
  DrawnThing: "variants";
  SetThing: "east_m" | "north_m" | "size_m" | "along" | "across" | "high" | "turn_deg" | "nod_deg" | "roll_deg" | "leans" | "sunk" | "foot_m" | "joins_m" | "of_ground";
}

export const CATALOGUE: Catalogue = {
  "steps": [
    {
      "kind": "form",
      "title": "Form",
      "about": "adds generated ground: hills, ridges, dunes, gorges, a basin",
      "opposite": "take it away instead",
      "seeded": true,
      "numbers": [
        {
          "field": "size_m",
          "usual": 400.0,
          "shown": {
            "label": "Feature size",
            "unit": "m",
            "least": 1.0,
            "most": 20000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "Size of its largest features",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "height_m",
          "usual": 80.0,
          "shown": {
            "label": "Height",
            "unit": "m",
            "least": 0.1,
            "most": 4000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "About, from its lowest to its highest; nothing is ever clipped",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "detail",
          "usual": 7.0,
          "shown": {
            "label": "Detail",
            "unit": "",
            "least": 1.0,
            "most": 12.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "How many times features of half the size are added",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "roughness",
          "usual": 0.5,
          "shown": {
            "label": "Roughness",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How strong each finer size is against the one before",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "bearing_deg",
          "usual": 270.0,
          "shown": {
            "label": "Wind from",
            "unit": "\u00b0",
            "least": 0.0,
            "most": 360.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "rivers",
      "title": "Rivers",
      "about": "cuts valleys in one go",
      "opposite": "",
      "seeded": true,
      "numbers": [
        {
          "field": "cut",
          "usual": 0.5,
          "shown": {
            "label": "Cut",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How deep they cut",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "branching",
          "usual": 0.5,
          "shown": {
            "label": "Branching",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "From a few large valleys to many small ones",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "rounds",
          "usual": 10.0,
          "shown": {
            "label": "Rounds",
            "unit": "",
            "least": 1.0,
            "most": 100.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "lift_m",
          "usual": 0.0,
          "shown": {
            "label": "Lift",
            "unit": "m",
            "least": 0.0,
            "most": 1000.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "Lift of the land over all rounds, its border aside",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "creep_m",
          "usual": 3.0,
          "shown": {
            "label": "Creep",
            "unit": "m",
            "least": 0.0,
            "most": 100.0,
            "step": 0.1,
            "digits": 1,
            "decades": false,
            "hint": "Radius over which slopes round off",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "runoff",
      "title": "Runoff",
      "about": "rain that runs off, wears the ground and drops what it took",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "rounds",
          "usual": 220.0,
          "shown": {
            "label": "Rounds",
            "unit": "",
            "least": 1.0,
            "most": 2000.0,
            "step": 10.0,
            "digits": 0,
            "decades": false,
            "hint": "How long it rains",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "rain",
          "usual": 0.5,
          "shown": {
            "label": "Rain",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How hard it rains",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "carry",
          "usual": 0.5,
          "shown": {
            "label": "Carry",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How much the water can carry",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "softness",
          "usual": 0.5,
          "shown": {
            "label": "Softness",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How readily the ground comes loose",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "settle",
      "title": "Settle",
      "about": "lets loose ground slide until nothing is steeper than its angle of repose",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "repose_deg",
          "usual": 36.0,
          "shown": {
            "label": "Repose",
            "unit": "\u00b0",
            "least": 2.0,
            "most": 85.0,
            "step": 0.5,
            "digits": 1,
            "decades": false,
            "hint": "Angle of repose: scree 35 to 40, sand 33",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "terrace",
      "title": "Terraces",
      "about": "cuts level benches with steep fronts",
      "opposite": "",
      "seeded": true,
      "numbers": [
        {
          "field": "spacing_m",
          "usual": 6.0,
          "shown": {
            "label": "Spacing",
            "unit": "m",
            "least": 0.1,
            "most": 500.0,
            "step": 0.1,
            "digits": 1,
            "decades": true,
            "hint": "From one level to the next",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "offset_m",
          "usual": 0.0,
          "shown": {
            "label": "A level at",
            "unit": "m",
            "least": -20000.0,
            "most": 20000.0,
            "step": 0.1,
            "digits": 1,
            "decades": false,
            "hint": "Elevation of one of the levels",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "sharpness",
          "usual": 0.6,
          "shown": {
            "label": "Sharpness",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How abruptly a bench ends",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "irregularity",
          "usual": 0.4,
          "shown": {
            "label": "Irregularity",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far levels wander and fade",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "smooth",
      "title": "Smooth",
      "about": "smooths over a radius, or brings out what that would take away",
      "opposite": "bring out detail",
      "seeded": false,
      "numbers": [
        {
          "field": "radius_m",
          "usual": 8.0,
          "shown": {
            "label": "Radius",
            "unit": "m",
            "least": 0.1,
            "most": 2000.0,
            "step": 0.1,
            "digits": 1,
            "decades": true,
            "hint": "Over which heights are averaged",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "ridges",
      "title": "Sharpen ridges",
      "about": "turns rounded crests into edges",
      "opposite": "sharpen valleys instead",
      "seeded": false,
      "numbers": [
        {
          "field": "radius_m",
          "usual": 25.0,
          "shown": {
            "label": "Radius",
            "unit": "m",
            "least": 0.1,
            "most": 1000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "How far from the crest it takes hold",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "warp",
      "title": "Warp",
      "about": "bends the ground sideways by noise",
      "opposite": "",
      "seeded": true,
      "numbers": [
        {
          "field": "amount_m",
          "usual": 25.0,
          "shown": {
            "label": "Amount",
            "unit": "m",
            "least": 0.1,
            "most": 2000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "Farthest that a place is moved, about",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "size_m",
          "usual": 150.0,
          "shown": {
            "label": "Size",
            "unit": "m",
            "least": 0.1,
            "most": 20000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "Size of the bends",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "detail",
          "usual": 3.0,
          "shown": {
            "label": "Detail",
            "unit": "",
            "least": 1.0,
            "most": 8.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "twist",
      "title": "Twist",
      "about": "turns the ground about a place",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "turn_deg",
          "usual": 40.0,
          "shown": {
            "label": "Turn",
            "unit": "\u00b0",
            "least": -720.0,
            "most": 720.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "Counter-clockwise seen from above",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "radius_m",
          "usual": 300.0,
          "shown": {
            "label": "Radius",
            "unit": "m",
            "least": 0.1,
            "most": 50000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "Where the turning ends",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "remap",
      "title": "Heights by a curve",
      "about": "maps heights by a rising curve",
      "opposite": "the curve the other way round",
      "seeded": false,
      "numbers": [
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "level",
      "title": "Cut and fill to a level",
      "about": "cuts what stands above a level, fills what lies below",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "level_m",
          "usual": 0.0,
          "shown": {
            "label": "Level",
            "unit": "m",
            "least": -20000.0,
            "most": 20000.0,
            "step": 0.5,
            "digits": 1,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "soft_m",
          "usual": 0.5,
          "shown": {
            "label": "Soft over",
            "unit": "m",
            "least": 0.0,
            "most": 100.0,
            "step": 0.1,
            "digits": 1,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "course",
      "title": "Course",
      "about": "cuts a valley or channel along a line, or fills a bank or dam along it",
      "opposite": "",
      "seeded": true,
      "numbers": [
        {
          "field": "side_deg",
          "usual": 30.0,
          "shown": {
            "label": "Sides",
            "unit": "\u00b0",
            "least": 1.0,
            "most": 89.0,
            "step": 0.5,
            "digits": 1,
            "decades": false,
            "hint": "Steepness of its sides",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "soft_m",
          "usual": 1.0,
          "shown": {
            "label": "Soft over",
            "unit": "m",
            "least": 0.0,
            "most": 100.0,
            "step": 0.1,
            "digits": 1,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "wander_m",
          "usual": 0.0,
          "shown": {
            "label": "Wander",
            "unit": "m",
            "least": 0.0,
            "most": 500.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "How far the line strays",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "wander_size_m",
          "usual": 120.0,
          "shown": {
            "label": "Wander size",
            "unit": "m",
            "least": 1.0,
            "most": 5000.0,
            "step": 1.0,
            "digits": 0,
            "decades": true,
            "hint": "Size of its bends",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "brush",
      "title": "Brush",
      "about": "raise, lower, smooth or flatten by hand",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    },
    {
      "kind": "resample",
      "title": "Resample",
      "about": "more or fewer samples; heights stay metres",
      "opposite": "",
      "seeded": false,
      "numbers": [
        {
          "field": "samples",
          "usual": 2049.0,
          "shown": {
            "label": "Samples",
            "unit": "",
            "least": 33.0,
            "most": 8193.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "Along the longer side",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "strength",
          "usual": 1.0,
          "shown": {
            "label": "Strength",
            "unit": "",
            "least": 0.0,
            "most": 1.0,
            "step": 0.01,
            "digits": 2,
            "decades": false,
            "hint": "How far towards its full effect",
            "pixel": 0.0,
            "usual": null
          }
        }
      ]
    }
  ],
  "characters": [
    "rolling",
    "ridged",
    "billowed",
    "cellular",
    "dunes",
    "gorges",
    "basin"
  ],
  "measures": [
    {
      "name": "elevation",
      "title": "Elevation",
      "short": "elevation",
      "unit": "m",
      "scale": "even",
      "about": "height of the ground",
      "radiusM": null,
      "above": "above",
      "below": "below",
      "ofWater": false
    },
    {
      "name": "slope",
      "title": "Slope",
      "short": "slope",
      "unit": "\u00b0",
      "scale": "even",
      "about": "how steep it is (Horn 1981)",
      "radiusM": null,
      "above": "steeper than",
      "below": "gentler than",
      "ofWater": false
    },
    {
      "name": "aspect",
      "title": "Aspect",
      "short": "facing",
      "unit": "\u00b0",
      "scale": "compass",
      "about": "which way it falls, 0 is north; -1 where level",
      "radiusM": null,
      "above": "facing from",
      "below": "to",
      "ofWater": false
    },
    {
      "name": "curvature-profile",
      "title": "Profile curvature",
      "short": "bend down",
      "unit": "1/m",
      "scale": "about zero",
      "about": "bend along the way down, convex positive",
      "radiusM": null,
      "above": "bending down its slope by more than",
      "below": "bending down its slope by less than",
      "ofWater": false
    },
    {
      "name": "curvature-plan",
      "title": "Plan curvature",
      "short": "bend across",
      "unit": "1/m",
      "scale": "about zero",
      "about": "bend across the way down, convex positive",
      "radiusM": null,
      "above": "bending across its slope by more than",
      "below": "bending across its slope by less than",
      "ofWater": false
    },
    {
      "name": "curvature-mean",
      "title": "Mean curvature",
      "short": "bend",
      "unit": "1/m",
      "scale": "about zero",
      "about": "mean of both bends, convex positive",
      "radiusM": null,
      "above": "more convex than",
      "below": "more hollow than",
      "ofWater": false
    },
    {
      "name": "relative-height",
      "title": "Relative height",
      "short": "relative height",
      "unit": "m",
      "scale": "about zero",
      "about": "above the mean within a radius",
      "radiusM": 20.0,
      "above": "standing above its surroundings by",
      "below": "standing above its surroundings by less than",
      "ofWater": false
    },
    {
      "name": "openness",
      "title": "Openness",
      "short": "openness",
      "unit": "\u00b0",
      "scale": "even",
      "about": "mean angle from the zenith to the ground within a radius",
      "radiusM": 250.0,
      "above": "more open than",
      "below": "less open than",
      "ofWater": false
    },
    {
      "name": "drainage",
      "title": "Drainage",
      "short": "drainage",
      "unit": "m\u00b2",
      "scale": "logarithmic",
      "about": "area that drains through (Freeman 1991)",
      "radiusM": null,
      "above": "draining more than",
      "below": "draining less than",
      "ofWater": false
    },
    {
      "name": "wetness",
      "title": "Wetness",
      "short": "wetness",
      "unit": "ln m",
      "scale": "even",
      "about": "ln(area per contour / slope) (Beven & Kirkby 1979)",
      "radiusM": null,
      "above": "wetter than",
      "below": "drier than",
      "ofWater": false
    },
    {
      "name": "worn",
      "title": "Worn",
      "short": "worn",
      "unit": "m",
      "scale": "even",
      "about": "taken away by runoff, rivers and settling",
      "radiusM": null,
      "above": "worn by more than",
      "below": "worn by less than",
      "ofWater": false
    },
    {
      "name": "dropped",
      "title": "Dropped",
      "short": "dropped",
      "unit": "m",
      "scale": "even",
      "about": "laid down by runoff, rivers and settling",
      "radiusM": null,
      "above": "filled by more than",
      "below": "filled by less than",
      "ofWater": false
    },
    {
      "name": "flow",
      "title": "Flow",
      "short": "flow",
      "unit": "m\u00b2",
      "scale": "logarithmic",
      "about": "area whose rain ran through while shaping",
      "radiusM": null,
      "above": "flowed over from more than",
      "below": "flowed over from less than",
      "ofWater": false
    },
    {
      "name": "height-above-water",
      "title": "Height above water",
      "short": "height above water",
      "unit": "m",
      "scale": "about zero",
      "about": "above the water's level, negative below it",
      "radiusM": null,
      "above": "above the water by",
      "below": "above the water by less than",
      "ofWater": true
    },
    {
      "name": "distance-to-water",
      "title": "Distance to water",
      "short": "distance to water",
      "unit": "m",
      "scale": "logarithmic",
      "about": "level distance to the nearest water",
      "radiusM": null,
      "above": "further from water than",
      "below": "within",
      "ofWater": true
    },
    {
      "name": "water-depth",
      "title": "Depth of water",
      "short": "depth of water",
      "unit": "m",
      "scale": "even",
      "about": "of the ground below the water's level, 0 where it is dry",
      "radiusM": null,
      "above": "under water deeper than",
      "below": "under water less deep than",
      "ofWater": true
    }
  ],
  "clauses": [
    {
      "kind": "noise",
      "title": "Noise",
      "about": "Lies in the noise's patches",
      "group": "",
      "offer": "{called}",
      "short": "noise",
      "phrase": "in [{noise} noise] of {size_m:g} m",
      "reads": "value",
      "idField": "",
      "refers": [],
      "whereField": "",
      "drawn": false,
      "breaksUp": true,
      "curved": true,
      "numbers": [
        {
          "field": "size_m",
          "usual": 8.0,
          "shown": {
            "label": "Size",
            "unit": "m",
            "least": 0.05,
            "most": 5000.0,
            "step": 0.05,
            "digits": 2,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        },
        {
          "field": "seed",
          "usual": 1.0,
          "shown": {
            "label": "Seed",
            "unit": "",
            "least": 0.0,
            "most": 1000000.0,
            "step": 1.0,
            "digits": 0,
            "decades": false,
            "hint": "",
            "pixel": 0.0,
            "usual": null
          }
        }
      ],
      "choices": [
        {
          "field": "noise",
          "choice": {
            "label": "Kind of noise",
            "options": [
              {
                "value": "soft",
                "label": "Soft",
                "hint": "Clouds"
              },
              {
                "value": "ridges",
                "label": "Ridges",
                "hint": "Thin winding lines"
              },
              {
                "value": "cells",
                "label": "Cells",
                "hint": "Rounded blotches"
              },
              {
                "value": "patches",
                "label": "Patches",
                "hint": "Areas that differ as a whole"
              }
            ]
          }
        }
      ],
      "begins": {
        "lower": 0.55,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "noise",
        "noise": "soft",
        "size_m": 8.0,
        "seed": 1
      }
    },
    {
      "kind": "painted",
      "title": "Painted",
      "about": "Where a mask is painted",
      "group": "hand",
      "offer": "{called}",
      "short": "{called}",
      "phrase": "painted on [{called}]",
      "reads": "value",
      "idField": "mask",
      "refers": [
        "mask"
      ],
      "whereField": "",
      "drawn": true,
      "breaksUp": true,
      "curved": true,
      "numbers": [],
      "choices": [],
      "begins": {
        "lower": 1.0,
        "upper": null,
        "soft_lower": 1.0,
        "soft_upper": 0.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [
          {
            "inside": 0.0,
            "share": 0.0
          },
          {
            "inside": 1.0,
            "share": 1.0
          }
        ],
        "join": "and",
        "strength": 0.5,
        "kind": "painted",
        "mask": "new0",
        "called": "new"
      }
    },
    {
      "kind": "path",
      "title": "Along a path",
      "about": "Along a drawn path; its width and edge are the path's own",
      "group": "hand",
      "offer": "{called}",
      "short": "{called}",
      "phrase": "along [{called}]",
      "reads": "edge",
      "idField": "path",
      "refers": [
        "path"
      ],
      "whereField": "",
      "drawn": false,
      "breaksUp": true,
      "curved": false,
      "numbers": [
        {
          "field": "wider_m",
          "usual": 0.0,
          "shown": {
            "label": "Wider than the path by",
            "unit": "m",
            "least": -50.0,
            "most": 200.0,
            "step": 0.1,
            "digits": 1,
            "decades": false,
            "hint": "",
            "pixel": 0.05,
            "usual": null
          }
        }
      ],
      "choices": [],
      "begins": {
        "join": "and",
        "strength": 0.5,
        "kind": "path",
        "path": "new0",
        "called": "new",
        "wider_m": 0.0,
        "opposite": false
      }
    },
    {
      "kind": "image",
      "title": "Image",
      "about": "One channel of an image; another can be chosen once it is there",
      "group": "image",
      "offer": "{called}, {channel}",
      "short": "{called}",
      "phrase": "in [channel {channel} of {called}]",
      "reads": "value",
      "idField": "image",
      "refers": [
        "image"
      ],
      "whereField": "",
      "drawn": true,
      "breaksUp": true,
      "curved": true,
      "numbers": [],
      "choices": [
        {
          "field": "channel",
          "choice": {
            "label": "Channel",
            "options": [
              {
                "value": "R",
                "label": "R",
                "hint": ""
              },
              {
                "value": "G",
                "label": "G",
                "hint": ""
              },
              {
                "value": "B",
                "label": "B",
                "hint": ""
              },
              {
                "value": "A",
                "label": "A",
                "hint": ""
              },
              {
                "value": "brightness",
                "label": "Brightness",
                "hint": ""
              }
            ]
          }
        }
      ],
      "begins": {
        "lower": 1.0,
        "upper": null,
        "soft_lower": 1.0,
        "soft_upper": 0.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [
          {
            "inside": 0.0,
            "share": 0.0
          },
          {
            "inside": 1.0,
            "share": 1.0
          }
        ],
        "join": "and",
        "strength": 0.5,
        "kind": "image",
        "image": "new0",
        "called": "new",
        "channel": "R"
      }
    },
    {
      "kind": "layer",
      "title": "Layer",
      "about": "Where its own rule lets it in",
      "group": "layer",
      "offer": "{called}",
      "short": "{called}",
      "phrase": "where [{called}] lies",
      "reads": "value",
      "idField": "layer",
      "refers": [
        "layer"
      ],
      "whereField": "",
      "drawn": false,
      "breaksUp": false,
      "curved": true,
      "numbers": [],
      "choices": [],
      "begins": {
        "lower": 1.0,
        "upper": null,
        "soft_lower": 1.0,
        "soft_upper": 0.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [
          {
            "inside": 0.0,
            "share": 0.0
          },
          {
            "inside": 1.0,
            "share": 1.0
          }
        ],
        "join": "and",
        "strength": 0.5,
        "kind": "layer",
        "layer": "new0",
        "called": "new"
      }
    },
    {
      "kind": "near",
      "title": "Near",
      "about": "So far from its edge: of the nearest of a strew's things, of a thing's foot, of a path",
      "group": "near",
      "offer": "Near {called}",
      "short": "near {called}",
      "phrase": "about [{called}]",
      "reads": "distance",
      "idField": "target",
      "refers": [
        "strew",
        "thing",
        "path"
      ],
      "whereField": "to",
      "drawn": false,
      "breaksUp": true,
      "curved": true,
      "numbers": [],
      "choices": [],
      "begins": {
        "lower": null,
        "upper": 0.5,
        "soft_lower": 0.0,
        "soft_upper": 0.5,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "near",
        "to": "strew",
        "target": "new0",
        "called": "new"
      }
    },
    {
      "kind": "bracket",
      "title": "Brackets",
      "about": "Clauses that are joined among themselves first",
      "group": "",
      "offer": "{called}",
      "short": "brackets",
      "phrase": "[(]{clauses})",
      "reads": "clauses",
      "idField": "",
      "refers": [],
      "whereField": "",
      "drawn": false,
      "breaksUp": false,
      "curved": false,
      "numbers": [],
      "choices": [],
      "begins": {
        "join": "and",
        "strength": 0.5,
        "kind": "bracket",
        "clauses": [
          {
            "lower": 0.55,
            "upper": null,
            "soft_lower": 0.2,
            "soft_upper": 0.0,
            "opposite": false,
            "every": null,
            "irregular": 0.0,
            "curve": [],
            "join": "and",
            "strength": 0.5,
            "kind": "noise",
            "noise": "soft",
            "size_m": 8.0,
            "seed": 1
          }
        ],
        "opposite": false
      }
    }
  ],
  "layer": {
    "id": "new0",
    "name": "new",
    "set": "0000000000000000000000000000000000000000",
    "group": "",
    "on": true,
    "opacity": 1.0,
    "rule": {
      "clauses": []
    },
    "fit": {
      "tile_m": 2.0,
      "tile_down_m": null,
      "turn_deg": 0.0,
      "mirror": false,
      "offset_east_m": 0.0,
      "offset_north_m": 0.0,
      "offset_up_m": 0.0,
      "projection": "above",
      "plane_edge": 8.0,
      "steep_turn_east_deg": 0.0,
      "steep_turn_north_deg": 0.0,
      "side_deg": 180.0,
      "repeats": {
        "kind": "none",
        "strength": 1.0,
        "second_scale": 5.3
      },
      "steep_set": null,
      "detail": null,
      "relief_m": 0.02,
      "relief_mid": null,
      "relief_curve": 0.0,
      "own_sides": true,
      "meets": "levelled"
    },
    "edge": {
      "kind": "height",
      "width_m": 0.02,
      "fingers": 0.5,
      "fingers_m": 3.0,
      "strip_set": null,
      "strip": 0.25,
      "strip_tile_m": 2.0
    },
    "look": {
      "brightness": 1.0,
      "hue_deg": 0.0,
      "saturation": 1.0,
      "colour_lowest": 0.0,
      "colour_highest": 1.0,
      "roughness_shift": 0.0,
      "roughness_lowest": 0.0,
      "roughness_highest": 1.0,
      "normal_strength": 1.0,
      "occlusion": 1.0,
      "emits": true,
      "emission_ev": 0.0,
      "variation": 0.12,
      "variation_colour": 0.0,
      "variation_offset": 0.0,
      "variation_size_m": 45.0,
      "ground_image": 0.0
    }
  },
  "modes": [
    {
      "mode": "lit",
      "label": "Lit",
      "hint": "The ground in sun and sky",
      "about": ""
    },
    {
      "mode": "colour",
      "label": "Colour",
      "hint": "Base colour alone, unlit",
      "about": ""
    },
    {
      "mode": "roughness",
      "label": "Rough",
      "hint": "Roughness alone: black is a mirror, white fully rough",
      "about": ""
    },
    {
      "mode": "gloss",
      "label": "Gloss",
      "hint": "Roughness the other way round: white is a mirror; it is stored as roughness",
      "about": ""
    },
    {
      "mode": "metallic",
      "label": "Metal",
      "hint": "Metallic alone: white is metal",
      "about": ""
    },
    {
      "mode": "normal",
      "label": "Normal",
      "hint": "Normals alone: red east, green north, blue up",
      "about": ""
    },
    {
      "mode": "height",
      "label": "Height",
      "hint": "Relief of the cover alone: black low, white high",
      "about": ""
    },
    {
      "mode": "occlusion",
      "label": "Occl.",
      "hint": "Ambient occlusion alone: white is open",
      "about": ""
    },
    {
      "mode": "emission",
      "label": "Emits",
      "hint": "What shines by itself alone, unlit: white is as bright as white ground at noon",
      "about": ""
    },
    {
      "mode": "presence",
      "label": "Mask",
      "hint": "Share of the selected layer alone: black none, white all",
      "about": "layer"
    },
    {
      "mode": "coverage",
      "label": "Coverage",
      "hint": "The selected layer hatched over the lit ground",
      "about": "layer"
    },
    {
      "mode": "stretch",
      "label": "Stretch",
      "hint": "How far the projection pulls textures apart, with the value under the pointer",
      "about": ""
    },
    {
      "mode": "density",
      "label": "Density",
      "hint": "Texture pixels for a metre of ground, with the value under the pointer",
      "about": ""
    },
    {
      "mode": "grid",
      "label": "Grid",
      "hint": "Lines every 1 m near, 10 m and 100 m far",
      "about": ""
    },
    {
      "mode": "overlay",
      "label": "Overlay",
      "hint": "The selected wear's overlay alone on the surface, unlit, before it is mixed in",
      "about": "wear"
    },
    {
      "mode": "wear",
      "label": "Mask",
      "hint": "Where the selected wear is let in, alone: rule, relief, layers",
      "about": "wear"
    },
    {
      "mode": "strewn",
      "label": "Coverage",
      "hint": "How much of the ground things cover, seen from above",
      "about": "strew"
    },
    {
      "mode": "crowd",
      "label": "Density",
      "hint": "Things on 100 m\u00b2 of map, with what the colours mean",
      "about": "strew"
    }
  ],
  "roles": [
    {
      "role": "colour",
      "title": "Base colour",
      "coloured": true
    },
    {
      "role": "normal",
      "title": "Normal",
      "coloured": false
    },
    {
      "role": "roughness",
      "title": "Roughness",
      "coloured": false
    },
    {
      "role": "metallic",
      "title": "Metallic",
      "coloured": false
    },
    {
      "role": "occlusion",
      "title": "Occlusion",
      "coloured": false
    },
    {
      "role": "height",
      "title": "Height",
      "coloured": false
    },
    {
      "role": "emission",
      "title": "Emission",
      "coloured": true
    },
    {
      "role": "mask",
      "title": "Mask",
      "coloured": false
    }
  ],
  "categories": [
    "rock",
    "scree and gravel",
    "soil and mud",
    "grass and plants",
    "sand",
    "snow and ice",
    "concrete",
    "paving",
    "wood",
    "metal",
    "overlay",
    "other"
  ],
  "meanings": [
    {
      "meaning": "colour",
      "label": "base colour"
    },
    {
      "meaning": "normal",
      "label": "normal"
    },
    {
      "meaning": "roughness",
      "label": "roughness"
    },
    {
      "meaning": "gloss",
      "label": "gloss (inverted)"
    },
    {
      "meaning": "metallic",
      "label": "metallic"
    },
    {
      "meaning": "occlusion",
      "label": "occlusion"
    },
    {
      "meaning": "height",
      "label": "height"
    },
    {
      "meaning": "emission",
      "label": "emission"
    },
    {
      "meaning": "mask",
      "label": "mask"
    },
    {
      "meaning": "packed-orm",
      "label": "packed: occlusion, roughness, metallic"
    },
    {
      "meaning": "packed-rma",
      "label": "packed: roughness, metallic, occlusion"
    },
    {
      "meaning": "packed-mra",
      "label": "packed: metallic, roughness, occlusion"
    },
    {
      "meaning": "packed-orh",
      "label": "packed: occlusion, roughness, height"
    },
    {
      "meaning": "left-out",
      "label": "left out"
    }
  ],
  "values": [
    {
      "value": "colour",
      "title": "Base colour",
      "about": "linear light of Rec. 709, encoded as the entry says",
      "unit": "",
      "family": "colour",
      "channels": 3
    },
    {
      "value": "normal",
      "title": "Normal",
      "about": "the gradient of the height with relief",
      "unit": "",
      "family": "normal",
      "channels": 3
    },
    {
      "value": "roughness",
      "title": "Roughness",
      "about": "1 is fully rough",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "metallic",
      "title": "Metallic",
      "about": "1 is metal",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "occlusion",
      "title": "Occlusion",
      "about": "1 is open",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "emission",
      "title": "Emission",
      "about": "1 is as bright as white ground at noon",
      "unit": "",
      "family": "colour",
      "channels": 3
    },
    {
      "value": "height",
      "title": "Height",
      "about": "elevation of the ground with relief",
      "unit": "m",
      "family": "metres",
      "channels": 1
    },
    {
      "value": "relief",
      "title": "Relief",
      "about": "the cover's alone, along the ground's normal",
      "unit": "m",
      "family": "metres",
      "channels": 1
    },
    {
      "value": "water",
      "title": "Water",
      "about": "1 where it stands",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "share",
      "title": "Share of a layer",
      "about": "all shares of a place sum to 1",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "shares",
      "title": "Shares",
      "about": "a file a layer; all shares of a place sum to 1",
      "unit": "",
      "family": "share",
      "channels": 1
    },
    {
      "value": "weights",
      "title": "Weights",
      "about": "four layers a file; all of a place sum to all there is",
      "unit": "",
      "family": "weights",
      "channels": 4
    },
    {
      "value": "strongest-layers",
      "title": "Strongest layers",
      "about": "numbers of the four strongest layers, 0 the lowest",
      "unit": "",
      "family": "weights",
      "channels": 4
    },
    {
      "value": "strongest-weights",
      "title": "Strongest weights",
      "about": "of those four; they sum to all there is",
      "unit": "",
      "family": "weights",
      "channels": 4
    },
    {
      "value": "elevation",
      "title": "Elevation",
      "about": "height of the ground",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "slope",
      "title": "Slope",
      "about": "how steep it is (Horn 1981)",
      "unit": "\u00b0",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "aspect",
      "title": "Aspect",
      "about": "which way it falls, 0 is north; -1 where level",
      "unit": "\u00b0",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "curvature-profile",
      "title": "Profile curvature",
      "about": "bend along the way down, convex positive",
      "unit": "1/m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "curvature-plan",
      "title": "Plan curvature",
      "about": "bend across the way down, convex positive",
      "unit": "1/m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "curvature-mean",
      "title": "Mean curvature",
      "about": "mean of both bends, convex positive",
      "unit": "1/m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "relative-height",
      "title": "Relative height",
      "about": "above the mean within a radius",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "openness",
      "title": "Openness",
      "about": "mean angle from the zenith to the ground within a radius",
      "unit": "\u00b0",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "drainage",
      "title": "Drainage",
      "about": "area that drains through (Freeman 1991)",
      "unit": "m\u00b2",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "wetness",
      "title": "Wetness",
      "about": "ln(area per contour / slope) (Beven & Kirkby 1979)",
      "unit": "ln m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "worn",
      "title": "Worn",
      "about": "taken away by runoff, rivers and settling",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "dropped",
      "title": "Dropped",
      "about": "laid down by runoff, rivers and settling",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "flow",
      "title": "Flow",
      "about": "area whose rain ran through while shaping",
      "unit": "m\u00b2",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "height-above-water",
      "title": "Height above water",
      "about": "above the water's level, negative below it",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "distance-to-water",
      "title": "Distance to water",
      "about": "level distance to the nearest water",
      "unit": "m",
      "family": "measure",
      "channels": 1
    },
    {
      "value": "water-depth",
      "title": "Depth of water",
      "about": "of the ground below the water's level, 0 where it is dry",
      "unit": "m",
      "family": "measure",
      "channels": 1
    }
  ],
  "formats": [
    {
      "format": "png",
      "label": "PNG",
      "types": [
        "uint8",
        "uint16"
      ],
      "channels": [
        1,
        3,
        4
      ]
    },
    {
      "format": "tiff",
      "label": "TIFF",
      "types": [
        "uint8",
        "uint16",
        "float16",
        "float32"
      ],
      "channels": [
        1,
        2,
        3,
        4
      ]
    },
    {
      "format": "exr",
      "label": "EXR",
      "types": [
        "float16",
        "float32"
      ],
      "channels": [
        1,
        2,
        3,
        4
      ]
    },
    {
      "format": "jpeg",
      "label": "JPEG",
      "types": [
        "uint8"
      ],
      "channels": [
        1,
        3
      ]
    },
    {
      "format": "webp",
      "label": "WebP",
      "types": [
        "uint8"
      ],
      "channels": [
        3,
        4
      ]
    },
    {
      "format": "tga",
      "label": "TGA",
      "types": [
        "uint8"
      ],
      "channels": [
        1,
        3,
        4
      ]
    },
    {
      "format": "raw",
      "label": "RAW",
      "types": [
        "uint8",
        "uint16",
        "float16",
        "float32"
      ],
      "channels": [
        1,
        2,
        3,
        4
      ]
    }
  ],
  "types": [
    {
      "type": "uint8",
      "label": "8 bit"
    },
    {
      "type": "uint16",
      "label": "16 bit"
    },
    {
      "type": "float16",
      "label": "half"
    },
    {
      "type": "float32",
      "label": "float"
    }
  ],
  "encodings": [
    "sRGB",
    "Linear Rec.709",
    "ACEScg",
    "ACES2065-1",
    "ACEScct",
    "ACEScc",
    "Linear Rec.2020",
    "Linear P3-D65",
    "sRGB in AP1",
    "Gamma 1.8 Rec.709",
    "Gamma 2.2 Rec.709",
    "Gamma 2.4 Rec.709",
    "Gamma 2.2 AP1"
  ],
  "entries": {
    "colour": {
      "kind": "maps",
      "id": "colour",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "colour",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "normal": {
      "kind": "maps",
      "id": "normal",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "normal",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint16",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "roughness": {
      "kind": "maps",
      "id": "roughness",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "roughness",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "metallic": {
      "kind": "maps",
      "id": "metallic",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "metallic",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "occlusion": {
      "kind": "maps",
      "id": "occlusion",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "occlusion",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "emission": {
      "kind": "maps",
      "id": "emission",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "emission",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "height": {
      "kind": "maps",
      "id": "height",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "height",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint16",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "relief": {
      "kind": "maps",
      "id": "relief",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "relief",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint16",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "water": {
      "kind": "maps",
      "id": "water",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "water",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "shares": {
      "kind": "maps",
      "id": "shares",
      "file": "{site}_share_{k:02d}_{layer}",
      "holds": [
        {
          "of": "shares",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint16",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "weights": {
      "kind": "maps",
      "id": "weights",
      "file": "{site}_weights_{k:02d}",
      "holds": [
        {
          "of": "weights",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "png",
      "type": "uint8",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "strongest-layers": {
      "kind": "maps",
      "id": "strongestlayers",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "strongest-layers",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "strongest-weights": {
      "kind": "maps",
      "id": "strongestweights",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "strongest-weights",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "elevation": {
      "kind": "maps",
      "id": "elevation",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "elevation",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "slope": {
      "kind": "maps",
      "id": "slope",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "slope",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "aspect": {
      "kind": "maps",
      "id": "aspect",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "aspect",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "curvature-profile": {
      "kind": "maps",
      "id": "curvatureprofile",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "curvature-profile",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "curvature-plan": {
      "kind": "maps",
      "id": "curvatureplan",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "curvature-plan",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "curvature-mean": {
      "kind": "maps",
      "id": "curvaturemean",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "curvature-mean",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "relative-height": {
      "kind": "maps",
      "id": "relativeheight",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "relative-height",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "openness": {
      "kind": "maps",
      "id": "openness",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "openness",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "drainage": {
      "kind": "maps",
      "id": "drainage",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "drainage",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "wetness": {
      "kind": "maps",
      "id": "wetness",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "wetness",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "worn": {
      "kind": "maps",
      "id": "worn",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "worn",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "dropped": {
      "kind": "maps",
      "id": "dropped",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "dropped",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "flow": {
      "kind": "maps",
      "id": "flow",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "flow",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "height-above-water": {
      "kind": "maps",
      "id": "heightabovewater",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "height-above-water",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "distance-to-water": {
      "kind": "maps",
      "id": "distancetowater",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "distance-to-water",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    },
    "water-depth": {
      "kind": "maps",
      "id": "waterdepth",
      "file": "{site}_{map}",
      "holds": [
        {
          "of": "water-depth",
          "layer": null,
          "inverted": false,
          "range": "usual",
          "low": 0.0,
          "high": 1.0
        }
      ],
      "format": "tiff",
      "type": "float32",
      "encoding": "sRGB",
      "green": "up",
      "against": "ground",
      "low_byte_first": true,
      "strongest": 0,
      "a_tile": 0,
      "longer_px": 0,
      "corners": false
    }
  },
  "wholes": [
    {
      "title": "Kit",
      "about": "the layers themselves: tiled maps, weights, how each lies; MaterialX",
      "entry": {
        "kind": "kit",
        "id": "kits",
        "file": "{site}_kit",
        "set_px": 1024,
        "weights": "splat",
        "weight_type": "uint8",
        "most_a_tile": 0,
        "tint": true,
        "material": true,
        "green": "up"
      }
    },
    {
      "title": "Mesh",
      "about": "the ground as triangles, with levels of detail and tiles",
      "entry": {
        "kind": "mesh",
        "id": "mesh",
        "file": "{site}_mesh",
        "format": "glb",
        "by": "error",
        "greatest_error_m": 0.5,
        "cell_m": 2.0,
        "relief": false,
        "columns": 1,
        "rows": 1,
        "levels": 1,
        "skirts": false,
        "shares": "none",
        "maps": "none",
        "maps_px": 2048,
        "up": "z"
      }
    },
    {
      "title": "Ground",
      "about": "heights alone, with their true size",
      "entry": {
        "kind": "ground",
        "id": "ground",
        "file": "{site}_ground",
        "format": "raw",
        "type": "uint16",
        "longer_px": 0,
        "low_byte_first": true,
        "flip_north_south": false,
        "flip_east_west": false,
        "traces": false
      }
    },
    {
      "title": "Stills",
      "about": "pictures of the site, of any size and with many rays",
      "entry": {
        "kind": "stills",
        "id": "stills",
        "file": "{site}_{view}",
        "stands": [
          "far"
        ],
        "all_shots": true,
        "width_px": 1920,
        "height_px": 1080,
        "rays": 16
      }
    },
    {
      "title": "Things",
      "about": "what is strewn: where each stands, their models, densities",
      "entry": {
        "kind": "things",
        "id": "things",
        "file": "{site}_{map}",
        "forms": [
          "csv",
          "glb"
        ],
        "models": true,
        "model_forms": [
          "glb"
        ],
        "density_px": 0,
        "bake_px": 0,
        "bake_normals": "tangent",
        "columns": 1,
        "rows": 1
      }
    },
    {
      "title": "Whole site",
      "about": "all of it in one file, to be opened elsewhere",
      "entry": {
        "kind": "site",
        "id": "site",
        "file": "{site}.elvatch"
      }
    }
  ],
  "meshFormats": [
    {
      "format": "glb",
      "label": "glTF 2.0 (GLB)",
      "values": true,
      "textures": true,
      "inside": true,
      "ups": [
        "y"
      ]
    },
    {
      "format": "obj",
      "label": "OBJ",
      "values": false,
      "textures": true,
      "inside": false,
      "ups": [
        "z",
        "y"
      ]
    },
    {
      "format": "ply",
      "label": "PLY",
      "values": true,
      "textures": false,
      "inside": false,
      "ups": [
        "z",
        "y"
      ]
    },
    {
      "format": "usdc",
      "label": "OpenUSD (binary)",
      "values": true,
      "textures": true,
      "inside": false,
      "ups": [
        "z",
        "y"
      ]
    },
    {
      "format": "usda",
      "label": "OpenUSD (text)",
      "values": true,
      "textures": true,
      "inside": false,
      "ups": [
        "z",
        "y"
      ]
    }
  ],
  "heightFormats": [
    {
      "format": "png",
      "label": "PNG",
      "types": [
        "uint16",
        "uint8"
      ]
    },
    {
      "format": "tiff",
      "label": "TIFF",
      "types": [
        "float32",
        "uint16",
        "uint8",
        "float16"
      ]
    },
    {
      "format": "exr",
      "label": "EXR",
      "types": [
        "float32",
        "float16"
      ]
    },
    {
      "format": "raw",
      "label": "RAW",
      "types": [
        "uint16",
        "float32",
        "uint8"
      ]
    },
    {
      "format": "npy",
      "label": "NPY",
      "types": [
        "float32",
        "uint16"
      ]
    },
    {
      "format": "asc",
      "label": "ASCII grid",
      "types": [
        "float32"
      ]
    }
  ],
  "kitSizes": [
    64,
    128,
    256,
    512,
    1024,
    2048,
    4096
  ],
  "fields": [
    {
      "field": "site",
      "about": "the site's name"
    },
    {
      "field": "map",
      "about": "the values that it holds"
    },
    {
      "field": "row",
      "about": "the tile's row, a from the north"
    },
    {
      "field": "column",
      "about": "the tile's column, 1 from the west"
    },
    {
      "field": "udim",
      "about": "the tile's UDIM number, 1001 in the south-west"
    },
    {
      "field": "k",
      "about": "which of several files"
    },
    {
      "field": "layer",
      "about": "the layer that a share is of"
    },
    {
      "field": "width",
      "about": "pixels across"
    },
    {
      "field": "height",
      "about": "pixels down"
    },
    {
      "field": "level",
      "about": "a mesh's level of detail, 0 the finest"
    },
    {
      "field": "view",
      "about": "what a still is taken from"
    }
  ],
  "blends": [
    {
      "mode": "screen",
      "hint": "Screens: 1 \u2212 (1 \u2212 a)(1 \u2212 b)"
    },
    {
      "mode": "multiply",
      "hint": "Multiplies"
    },
    {
      "mode": "overlay",
      "hint": "Overlays: half of the range is neutral"
    },
    {
      "mode": "add",
      "hint": "Adds, up to 1"
    },
    {
      "mode": "subtract",
      "hint": "Takes away, down to 0"
    },
    {
      "mode": "lighten",
      "hint": "The larger of both"
    },
    {
      "mode": "darken",
      "hint": "The smaller of both"
    },
    {
      "mode": "replace",
      "hint": "Puts it in its place"
    }
  ],
  "tintings": [
    {
      "mode": "tint",
      "hint": "Takes its hue, keeps the ground's lightness"
    },
    {
      "mode": "multiply",
      "hint": "Darkens by it"
    },
    {
      "mode": "screen",
      "hint": "Lightens by it"
    },
    {
      "mode": "overlay",
      "hint": "More contrast by it; mid grey is neutral"
    },
    {
      "mode": "replace",
      "hint": "Covers with it"
    }
  ],
  "passes": [
    {
      "name": "radiance",
      "about": "Linear light, before exposure and the tone curve"
    },
    {
      "name": "depth",
      "about": "Distance in metres"
    },
    {
      "name": "mist",
      "about": "What the air takes, 0 to 1"
    },
    {
      "name": "normal",
      "about": "x east, y north, z up"
    },
    {
      "name": "layers",
      "about": "Number of the foremost layer, -1 where there is none"
    },
    {
      "name": "shares",
      "about": "A channel for each layer"
    },
    {
      "name": "sun",
      "about": "What the sun lights"
    },
    {
      "name": "sky",
      "about": "What all else lights"
    }
  ],
  "drawnSkies": [
    {
      "kind": "broken cloud",
      "title": "Broken cloud"
    },
    {
      "kind": "thin veil",
      "title": "Thin veil"
    },
    {
      "kind": "low sun",
      "title": "Low sun"
    }
  ],
  "things": [
    {
      "what": "boulder",
      "title": "Boulder",
      "family": "stone",
      "controls": [
        {
          "name": "worn",
          "label": "Worn",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.45,
          "step": 0.05,
          "about": "0 freshly broken, 1 rounded"
        },
        {
          "name": "lichen",
          "label": "Lichen",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.4,
          "step": 0.05,
          "about": "How much of what looks up is grown over"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Boulder",
        "source": {
          "kind": "drawn",
          "what": "boulder",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Boulder",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 1.5,
        "apart_m": 0.14,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 42.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.4,
          "to_m": 1.8,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.15,
          "sunk_to": 0.35,
          "leans": 0.5,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "split-boulder",
      "title": "Split boulder",
      "family": "stone",
      "controls": [
        {
          "name": "worn",
          "label": "Worn",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.4,
          "step": 0.05,
          "about": "0 freshly broken, 1 rounded"
        },
        {
          "name": "lichen",
          "label": "Lichen",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.35,
          "step": 0.05,
          "about": "How much of what looks up is grown over"
        },
        {
          "name": "gap",
          "label": "Gap",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.4,
          "step": 0.05,
          "about": "How far its halves lean apart"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Split boulder",
        "source": {
          "kind": "drawn",
          "what": "split-boulder",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Split boulder",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 0.05,
        "apart_m": 0.56,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 42.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 1.6,
          "to_m": 4.2,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.15,
          "sunk_to": 0.3,
          "leans": 0.3,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "rubble-stone",
      "title": "Rubble stone",
      "family": "stone",
      "controls": [
        {
          "name": "worn",
          "label": "Worn",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.2,
          "step": 0.05,
          "about": "0 freshly broken, 1 rounded"
        },
        {
          "name": "lichen",
          "label": "Lichen",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.1,
          "step": 0.05,
          "about": "How much of what looks up is grown over"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Rubble stone",
        "source": {
          "kind": "drawn",
          "what": "rubble-stone",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Rubble stone",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 8.0,
        "apart_m": 0.03,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 42.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.1,
          "to_m": 0.6,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.1,
          "sunk_to": 0.3,
          "leans": 0.8,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "slate-slab",
      "title": "Slab of slate",
      "family": "stone",
      "controls": [
        {
          "name": "thick",
          "label": "Thickness",
          "unit": "",
          "least": 0.06,
          "most": 0.4,
          "usual": 0.16,
          "step": 0.01,
          "about": "As a share of its length"
        },
        {
          "name": "lichen",
          "label": "Lichen",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.2,
          "step": 0.05,
          "about": "How much of what looks up is grown over"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Slab of slate",
        "source": {
          "kind": "drawn",
          "what": "slate-slab",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Slab of slate",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 2.0,
        "apart_m": 0.1,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 42.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.3,
          "to_m": 1.4,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.1,
          "sunk_to": 0.4,
          "leans": 0.95,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "pebble-cluster",
      "title": "Pebble cluster",
      "family": "stone",
      "controls": [
        {
          "name": "count",
          "label": "Pebbles",
          "unit": "",
          "least": 5.0,
          "most": 60.0,
          "usual": 28.0,
          "step": 1.0,
          "about": "At most so many"
        },
        {
          "name": "lichen",
          "label": "Lichen",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.0,
          "step": 0.05,
          "about": "How much of what looks up is grown over"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Pebble cluster",
        "source": {
          "kind": "drawn",
          "what": "pebble-cluster",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Pebble cluster",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 4.0,
        "apart_m": 0.1,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 42.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.3,
          "to_m": 0.8,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.1,
          "sunk_to": 0.25,
          "leans": 1.0,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "driftwood",
      "title": "Driftwood",
      "family": "wood",
      "controls": [
        {
          "name": "thick",
          "label": "Thickness",
          "unit": "\u00d7",
          "least": 0.5,
          "most": 2.0,
          "usual": 1.0,
          "step": 0.05,
          "about": "Against what is usual for its length"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Driftwood",
        "source": {
          "kind": "drawn",
          "what": "driftwood",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Driftwood",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 0.5,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 32.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.5,
          "to_m": 3.2,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.1,
          "sunk_to": 0.35,
          "leans": 0.9,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "dead-branch",
      "title": "Dead branch",
      "family": "wood",
      "controls": [
        {
          "name": "twigs",
          "label": "Twigs",
          "unit": "",
          "least": 1.0,
          "most": 6.0,
          "usual": 3.0,
          "step": 1.0,
          "about": "On each limb"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Dead branch",
        "source": {
          "kind": "drawn",
          "what": "dead-branch",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Dead branch",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 1.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 32.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.6,
          "to_m": 2.4,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.12,
          "leans": 1.0,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "root",
      "title": "Root",
      "family": "wood",
      "controls": [
        {
          "name": "arms",
          "label": "Arms",
          "unit": "",
          "least": 3.0,
          "most": 9.0,
          "usual": 6.0,
          "step": 1.0,
          "about": "That leave the stump"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Root",
        "source": {
          "kind": "drawn",
          "what": "root",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Root",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 0.3,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 32.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.8,
          "to_m": 2.2,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.05,
          "sunk_to": 0.15,
          "leans": 0.8,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "dead-tree",
      "title": "Dead tree",
      "family": "wood",
      "controls": [
        {
          "name": "limbs",
          "label": "Limbs",
          "unit": "",
          "least": 3.0,
          "most": 20.0,
          "usual": 10.0,
          "step": 1.0,
          "about": "On its trunk"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Dead tree",
        "source": {
          "kind": "drawn",
          "what": "dead-tree",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Dead tree",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 0.1,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 32.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 3.0,
          "to_m": 8.0,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.01,
          "sunk_to": 0.03,
          "leans": 0.1,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "fence-post",
      "title": "Fence post",
      "family": "wood",
      "controls": [
        {
          "name": "thick",
          "label": "Thickness",
          "unit": "\u00d7",
          "least": 0.5,
          "most": 2.0,
          "usual": 1.0,
          "step": 0.05,
          "about": "Against what is usual for its length"
        },
        {
          "name": "rails",
          "label": "Rails",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.3,
          "step": 0.05,
          "about": "How many still have a piece"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Fence post",
        "source": {
          "kind": "drawn",
          "what": "fence-post",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Fence post",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 0.5,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 32.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.9,
          "to_m": 1.5,
          "bias": 1.6,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.2,
          "sunk_to": 0.5,
          "leans": 0.15,
          "tilt_deg": 8.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.25,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.2,
          "foot_m": 0.08
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "reed-tuft",
      "title": "Reed tuft",
      "family": "plant",
      "controls": [
        {
          "name": "stalks",
          "label": "Stalks",
          "unit": "",
          "least": 6.0,
          "most": 60.0,
          "usual": 26.0,
          "step": 1.0,
          "about": "In a tuft"
        },
        {
          "name": "dry",
          "label": "Dry",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.35,
          "step": 0.05,
          "about": "0 green, 1 straw"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Reed tuft",
        "source": {
          "kind": "drawn",
          "what": "reed-tuft",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Reed tuft",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 60.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.6,
          "to_m": 1.4,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.03,
          "leans": 0.1,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "grass-tuft",
      "title": "Grass tuft",
      "family": "plant",
      "controls": [
        {
          "name": "blades",
          "label": "Blades",
          "unit": "",
          "least": 8.0,
          "most": 160.0,
          "usual": 80.0,
          "step": 1.0,
          "about": "In a tuft"
        },
        {
          "name": "dry",
          "label": "Dry",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.45,
          "step": 0.05,
          "about": "0 green, 1 straw"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Grass tuft",
        "source": {
          "kind": "drawn",
          "what": "grass-tuft",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Grass tuft",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 150.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.15,
          "to_m": 0.5,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.04,
          "leans": 0.2,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "heather",
      "title": "Heather",
      "family": "plant",
      "controls": [
        {
          "name": "stems",
          "label": "Stems",
          "unit": "",
          "least": 8.0,
          "most": 80.0,
          "usual": 46.0,
          "step": 1.0,
          "about": "In a cushion"
        },
        {
          "name": "flowers",
          "label": "Flowers",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.4,
          "step": 0.05,
          "about": "How many stems flower"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Heather",
        "source": {
          "kind": "drawn",
          "what": "heather",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Heather",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 30.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.3,
          "to_m": 0.8,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.02,
          "sunk_to": 0.06,
          "leans": 0.3,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "fern",
      "title": "Bracken",
      "family": "plant",
      "controls": [
        {
          "name": "fronds",
          "label": "Fronds",
          "unit": "",
          "least": 3.0,
          "most": 14.0,
          "usual": 8.0,
          "step": 1.0,
          "about": "In a crown"
        },
        {
          "name": "dry",
          "label": "Dry",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.3,
          "step": 0.05,
          "about": "0 green, 1 straw"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Bracken",
        "source": {
          "kind": "drawn",
          "what": "fern",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Bracken",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 20.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.5,
          "to_m": 1.3,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.03,
          "leans": 0.2,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "bramble",
      "title": "Bramble",
      "family": "plant",
      "controls": [
        {
          "name": "canes",
          "label": "Canes",
          "unit": "",
          "least": 4.0,
          "most": 24.0,
          "usual": 12.0,
          "step": 1.0,
          "about": "That arch out"
        },
        {
          "name": "bare",
          "label": "Bare",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.2,
          "step": 0.05,
          "about": "How many leaves are gone"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Bramble",
        "source": {
          "kind": "drawn",
          "what": "bramble",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Bramble",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 6.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 0.8,
          "to_m": 2.2,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.04,
          "leans": 0.3,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    },
    {
      "what": "young-birch",
      "title": "Young birch",
      "family": "plant",
      "controls": [
        {
          "name": "twigs",
          "label": "Twigs",
          "unit": "",
          "least": 8.0,
          "most": 60.0,
          "usual": 34.0,
          "step": 1.0,
          "about": "On its stem"
        },
        {
          "name": "leaves",
          "label": "Leaves",
          "unit": "",
          "least": 0.0,
          "most": 6.0,
          "usual": 3.0,
          "step": 1.0,
          "about": "At each knot of a twig"
        },
        {
          "name": "autumn",
          "label": "Autumn",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "usual": 0.2,
          "step": 0.05,
          "about": "0 green, 1 yellow"
        }
      ],
      "thing": {
        "id": "new0",
        "name": "Young birch",
        "source": {
          "kind": "drawn",
          "what": "young-birch",
          "seed": 1,
          "variants": 4,
          "controls": {}
        },
        "cover": {
          "axes": "thing",
          "layers": [],
          "wears": [],
          "masks": [],
          "images": []
        }
      },
      "strew": {
        "id": "new0",
        "name": "Young birch",
        "on": true,
        "kinds": [
          {
            "thing": "new0",
            "weight": 1.0
          }
        ],
        "per_100_m2": 1.0,
        "apart_m": 0.0,
        "rule": {
          "clauses": [
            {
              "lower": null,
              "upper": 38.0,
              "soft_lower": 5.0,
              "soft_upper": 6.0,
              "opposite": false,
              "every": null,
              "irregular": 0.0,
              "curve": [],
              "kind": "measure",
              "measure": "slope",
              "unit": "\u00b0",
              "radius_m": null,
              "join": "and",
              "strength": 0.5
            }
          ]
        },
        "size": {
          "from_m": 1.8,
          "to_m": 5.0,
          "bias": 0.5,
          "at_foot": 0.0,
          "foot_m": 0.0,
          "top_m": 100.0
        },
        "stands": {
          "sunk_from": 0.0,
          "sunk_to": 0.02,
          "leans": 0.05,
          "tilt_deg": 4.0,
          "turned": "any",
          "path": null,
          "turn_deg": 0.0,
          "jitter_deg": 15.0
        },
        "clusters": {
          "clustered": 0.5,
          "size_m": 5.0,
          "apart_m": 9.0
        },
        "looks": {
          "hue": 0.12,
          "brightness": 0.15,
          "of_ground": 0.1,
          "foot_m": 0.03
        },
        "clear_of": [],
        "at_most": 200000,
        "seed": 1,
        "touches": [],
        "by_hand": [],
        "added": []
      }
    }
  ],
  "thingMeasures": [
    {
      "name": "up",
      "title": "Faces up",
      "about": "How far it is turned from straight up, in the world: 0\u00b0 up, 90\u00b0 upright, 180\u00b0 hanging",
      "unit": "\u00b0",
      "least": 0.0,
      "most": 180.0,
      "step": 1.0,
      "digits": 0,
      "above": "turned from up by more than",
      "below": "facing up within",
      "begins": {
        "lower": null,
        "upper": 55.0,
        "soft_lower": 15.0,
        "soft_upper": 15.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "up"
      }
    },
    {
      "name": "foot",
      "title": "Over its foot",
      "about": "How high it lies over the lowest place of the thing",
      "unit": "m",
      "least": 0.0,
      "most": 200.0,
      "step": 0.05,
      "digits": 2,
      "above": "over its foot by more than",
      "below": "over its foot by less than",
      "begins": {
        "lower": null,
        "upper": 0.4,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "foot"
      }
    },
    {
      "name": "ground",
      "title": "Over the ground",
      "about": "How high it lies over the ground below it",
      "unit": "m",
      "least": -20.0,
      "most": 200.0,
      "step": 0.05,
      "digits": 2,
      "above": "over the ground by more than",
      "below": "over the ground by less than",
      "begins": {
        "lower": null,
        "upper": 0.3,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "ground"
      }
    },
    {
      "name": "edge",
      "title": "Edges and hollows",
      "about": "How it bends: above 0 an edge, below 0 a hollow, one over the radius of a ball",
      "unit": "1/m",
      "least": -200.0,
      "most": 200.0,
      "step": 0.1,
      "digits": 1,
      "above": "edges sharper than",
      "below": "bending less than",
      "begins": {
        "lower": 3.0,
        "upper": null,
        "soft_lower": 2.0,
        "soft_upper": 2.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "edge"
      }
    },
    {
      "name": "sky",
      "title": "Open to the sky",
      "about": "What of the sky its own shape leaves, 0 to 1",
      "unit": "",
      "least": 0.0,
      "most": 1.0,
      "step": 0.01,
      "digits": 2,
      "above": "more open than",
      "below": "less open than",
      "begins": {
        "lower": null,
        "upper": 0.7,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "sky"
      }
    },
    {
      "name": "red",
      "title": "Its own red",
      "about": "How red its own colour is, 0 to 1 (linear)",
      "unit": "",
      "least": 0.0,
      "most": 1.0,
      "step": 0.01,
      "digits": 2,
      "above": "more red than",
      "below": "less red than",
      "begins": {
        "lower": 0.5,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "red"
      }
    },
    {
      "name": "green",
      "title": "Its own green",
      "about": "How green its own colour is, 0 to 1 (linear)",
      "unit": "",
      "least": 0.0,
      "most": 1.0,
      "step": 0.01,
      "digits": 2,
      "above": "more green than",
      "below": "less green than",
      "begins": {
        "lower": 0.5,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "green"
      }
    },
    {
      "name": "blue",
      "title": "Its own blue",
      "about": "How blue its own colour is, 0 to 1 (linear)",
      "unit": "",
      "least": 0.0,
      "most": 1.0,
      "step": 0.01,
      "digits": 2,
      "above": "more blue than",
      "below": "less blue than",
      "begins": {
        "lower": 0.5,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "join": "and",
        "strength": 0.5,
        "kind": "thing",
        "of": "blue"
      }
    }
  ],
  "layerOnThing": {
    "id": "new0",
    "name": "new",
    "set": "0000000000000000000000000000000000000000",
    "group": "",
    "on": true,
    "opacity": 1.0,
    "rule": {
      "clauses": []
    },
    "fit": {
      "tile_m": 1.0,
      "tile_down_m": null,
      "turn_deg": 0.0,
      "mirror": false,
      "offset_east_m": 0.0,
      "offset_north_m": 0.0,
      "offset_up_m": 0.0,
      "projection": "triplanar",
      "plane_edge": 8.0,
      "steep_turn_east_deg": 0.0,
      "steep_turn_north_deg": 0.0,
      "side_deg": 180.0,
      "repeats": {
        "kind": "none",
        "strength": 1.0,
        "second_scale": 5.3
      },
      "steep_set": null,
      "detail": null,
      "relief_m": 0.01,
      "relief_mid": null,
      "relief_curve": 0.0,
      "own_sides": true,
      "meets": "levelled"
    },
    "edge": {
      "kind": "height",
      "width_m": 0.02,
      "fingers": 0.0,
      "fingers_m": 3.0,
      "strip_set": null,
      "strip": 0.25,
      "strip_tile_m": 2.0
    },
    "look": {
      "brightness": 1.0,
      "hue_deg": 0.0,
      "saturation": 1.0,
      "colour_lowest": 0.0,
      "colour_highest": 1.0,
      "roughness_shift": 0.0,
      "roughness_lowest": 0.0,
      "roughness_highest": 1.0,
      "normal_strength": 1.0,
      "occlusion": 1.0,
      "emits": true,
      "emission_ev": 0.0,
      "variation": 0.0,
      "variation_colour": 0.0,
      "variation_offset": 0.0,
      "variation_size_m": 45.0,
      "ground_image": 0.0
    }
  },
  "ownMaterial": "ownmaterial",
  "setThing": {
    "id": "new0",
    "name": "new",
    "thing": "new0",
    "variant": 0,
    "on": true,
    "east_m": 0.0,
    "north_m": 0.0,
    "size_m": 1.0,
    "along": 1.0,
    "across": 1.0,
    "high": 1.0,
    "mirrored": false,
    "turn_deg": 0.0,
    "nod_deg": 0.0,
    "roll_deg": 0.0,
    "leans": 0.0,
    "sunk": 0.15,
    "follows": true,
    "foot_m": 0.0,
    "joins_m": 0.12,
    "of_ground": 0.0
  },
  "modelUnits": [
    "m",
    "cm",
    "mm",
    "in",
    "ft"
  ],
  "effects": {
    "roughness": {
      "mode": "screen",
      "strength": 0.15,
      "towards": null
    },
    "metallic": {
      "mode": "replace",
      "strength": 0.3,
      "towards": 1.0
    },
    "colour": {
      "mode": "multiply",
      "strength": 0.25,
      "colour": "#8a8178"
    },
    "relief": {
      "way": "carve",
      "depth_mm": 0.2
    },
    "worn_through": 0.3
  },
  "levels": [
    {
      "kind": "levels",
      "measure": "elevation",
      "radius_m": 20.0,
      "from_m": 0.0,
      "spacing_m": 1.0,
      "once": false,
      "wobble_m": 0.02,
      "wobble_size_m": 6.0
    },
    {
      "kind": "levels",
      "measure": "relative-height",
      "radius_m": 20.0,
      "from_m": -0.6,
      "spacing_m": 0.65,
      "once": true,
      "wobble_m": 0.02,
      "wobble_size_m": 6.0
    }
  ],
  "levelsAroundM": 20.0,
  "detail": {
    "set": null,
    "tile_m": 0.2,
    "strength": 0.5,
    "relief_m": 0.0025
  },
  "numbers": {
    "FlatSource": [
      {
        "field": "samples",
        "usual": 1025.0,
        "shown": {
          "label": "Samples",
          "unit": "",
          "least": 33.0,
          "most": 8193.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "level_m",
        "usual": 0.0,
        "shown": {
          "label": "Level",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Upright": [
      {
        "field": "faces_deg",
        "usual": 180.0,
        "shown": {
          "label": "Faces",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 5.0,
          "digits": 0,
          "decades": false,
          "hint": "Compass bearing that it looks to",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "foot_m",
        "usual": 0.0,
        "shown": {
          "label": "Foot",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "Elevation of its lower edge",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Stroke": [
      {
        "field": "size_m",
        "usual": 40.0,
        "shown": {
          "label": "Size",
          "unit": "m",
          "least": 0.5,
          "most": 2000.0,
          "step": 0.5,
          "digits": 1,
          "decades": true,
          "hint": "Across",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "amount_m",
        "usual": 2.0,
        "shown": {
          "label": "Amount",
          "unit": "m",
          "least": 0.05,
          "most": 200.0,
          "step": 0.05,
          "digits": 2,
          "decades": true,
          "hint": "Highest that a stroke of full strength reaches",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "soft",
        "usual": 0.7,
        "shown": {
          "label": "Soft edge",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 0.5,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "CoursePoint": [
      {
        "field": "level_m",
        "usual": 0.0,
        "shown": {
          "label": "Level",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": 0.0
        }
      },
      {
        "field": "half_width_m",
        "usual": 6.0,
        "shown": {
          "label": "Half width",
          "unit": "m",
          "least": 0.0,
          "most": 10000.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "MeasureClause": [
      {
        "field": "irregular",
        "usual": 0.0,
        "shown": {
          "label": "Irregular",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far bands lie off their even places, and differ in width",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "radius_m",
        "usual": 1.0,
        "shown": {
          "label": "Radius",
          "unit": "m",
          "least": 1.0,
          "most": 2000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "OnNoise": [
      {
        "field": "irregular",
        "usual": 0.0,
        "shown": {
          "label": "Irregular",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far bands lie off their even places, and differ in width",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "size_m",
        "usual": 8.0,
        "shown": {
          "label": "Size",
          "unit": "m",
          "least": 0.05,
          "most": 5000.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "seed",
        "usual": 1.0,
        "shown": {
          "label": "Seed",
          "unit": "",
          "least": 0.0,
          "most": 1000000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 0.5,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.01,
          "usual": null
        }
      }
    ],
    "OnPath": [
      {
        "field": "wider_m",
        "usual": 0.0,
        "shown": {
          "label": "Wider than the path by",
          "unit": "m",
          "least": -50.0,
          "most": 200.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.05,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 0.5,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.01,
          "usual": null
        }
      }
    ],
    "OnNear": [
      {
        "field": "upper",
        "usual": 0.5,
        "shown": {
          "label": "away",
          "unit": "m",
          "least": 0.0,
          "most": 500.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.01,
          "usual": null
        }
      },
      {
        "field": "irregular",
        "usual": 0.0,
        "shown": {
          "label": "Irregular",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far bands lie off their even places, and differ in width",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 0.5,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.01,
          "usual": null
        }
      }
    ],
    "DrawnPath": [
      {
        "field": "width_m",
        "usual": 3.0,
        "shown": {
          "label": "width",
          "unit": "m",
          "least": 0.01,
          "most": 2000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "soft_m",
        "usual": 0.6,
        "shown": {
          "label": "soft edge",
          "unit": "m",
          "least": 0.0,
          "most": 2000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "wobble_m",
        "usual": 0.3,
        "shown": {
          "label": "wobble",
          "unit": "m",
          "least": 0.0,
          "most": 200.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "wobble_size_m",
        "usual": 8.0,
        "shown": {
          "label": "wobbles every",
          "unit": "m",
          "least": 0.1,
          "most": 2000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Placing": [
      {
        "field": "east_m",
        "usual": 0.0,
        "shown": {
          "label": "west edge at",
          "unit": "m",
          "least": -200000.0,
          "most": 400000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.5,
          "usual": null
        }
      },
      {
        "field": "north_m",
        "usual": 0.0,
        "shown": {
          "label": "south edge at",
          "unit": "m",
          "least": -200000.0,
          "most": 400000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.5,
          "usual": null
        }
      },
      {
        "field": "width_m",
        "usual": 100.0,
        "shown": {
          "label": "wide",
          "unit": "m",
          "least": 0.01,
          "most": 400000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.5,
          "usual": null
        }
      },
      {
        "field": "depth_m",
        "usual": 100.0,
        "shown": {
          "label": "deep",
          "unit": "m",
          "least": 0.01,
          "most": 400000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.5,
          "usual": null
        }
      }
    ],
    "MaskStroke": [
      {
        "field": "size_m",
        "usual": 12.0,
        "shown": {
          "label": "size",
          "unit": "m",
          "least": 0.05,
          "most": 4000.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": 12.0
        }
      },
      {
        "field": "soft",
        "usual": 0.5,
        "shown": {
          "label": "soft",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How much of the brush's radius fades out",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "flow",
        "usual": 1.0,
        "shown": {
          "label": "flow",
          "unit": "",
          "least": 0.01,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Below 100% a stroke gathers with the distance it goes",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 1.0,
        "shown": {
          "label": "strength",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far a stroke goes",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Repeats": [
      {
        "field": "second_scale",
        "usual": 5.3,
        "shown": {
          "label": "Larger by",
          "unit": "\u00d7",
          "least": 2.0,
          "most": 50.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "The larger copy's tile, in tiles",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 1.0,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Share of patches that are moved, or of the larger copy",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "NearDetail": [
      {
        "field": "tile_m",
        "usual": 0.4,
        "shown": {
          "label": "Finer tile",
          "unit": "m",
          "least": 0.02,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Metres per repeat of the near detail",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "relief_m",
        "usual": 0.004,
        "shown": {
          "label": "Its relief",
          "unit": "m",
          "least": 0.0,
          "most": 0.2,
          "step": 0.0005,
          "digits": 4,
          "decades": false,
          "hint": "Metres from the lowest to the highest of its height",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strength",
        "usual": 0.5,
        "shown": {
          "label": "Amount",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far its colour, roughness and relief are added",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Lie": [
      {
        "field": "tile_m",
        "usual": 2.0,
        "shown": {
          "label": "Tile",
          "unit": "m",
          "least": 0.05,
          "most": 200.0,
          "step": 0.05,
          "digits": 2,
          "decades": true,
          "hint": "Metres per repeat",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Counter-clockwise, facing the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "offset_east_m",
        "usual": 0.0,
        "shown": {
          "label": "East",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset eastwards",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "offset_north_m",
        "usual": 0.0,
        "shown": {
          "label": "North",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset northwards",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "offset_up_m",
        "usual": 0.0,
        "shown": {
          "label": "Up",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset up the steep planes",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "plane_edge",
        "usual": 8.0,
        "shown": {
          "label": "Plane edge",
          "unit": "",
          "least": 2.0,
          "most": 64.0,
          "step": 1.0,
          "digits": 0,
          "decades": true,
          "hint": "How sharply planes meet: low blends over more ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "steep_turn_east_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn E, W",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "More turn on planes that face east or west",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "steep_turn_north_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn N, S",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "More turn on planes that face north or south",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "side_deg",
        "usual": 180.0,
        "shown": {
          "label": "Faces",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Compass direction that the wall faces",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Fit": [
      {
        "field": "tile_m",
        "usual": 2.0,
        "shown": {
          "label": "Tile",
          "unit": "m",
          "least": 0.05,
          "most": 200.0,
          "step": 0.05,
          "digits": 2,
          "decades": true,
          "hint": "Metres per repeat",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Counter-clockwise, facing the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "offset_east_m",
        "usual": 0.0,
        "shown": {
          "label": "East",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset eastwards",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "offset_north_m",
        "usual": 0.0,
        "shown": {
          "label": "North",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset northwards",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "offset_up_m",
        "usual": 0.0,
        "shown": {
          "label": "Up",
          "unit": "m",
          "least": -20.0,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Offset up the steep planes",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "plane_edge",
        "usual": 8.0,
        "shown": {
          "label": "Plane edge",
          "unit": "",
          "least": 2.0,
          "most": 64.0,
          "step": 1.0,
          "digits": 0,
          "decades": true,
          "hint": "How sharply planes meet: low blends over more ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "steep_turn_east_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn E, W",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "More turn on planes that face east or west",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "steep_turn_north_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn N, S",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "More turn on planes that face north or south",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "side_deg",
        "usual": 180.0,
        "shown": {
          "label": "Faces",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Compass direction that the wall faces",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "relief_m",
        "usual": 0.02,
        "shown": {
          "label": "Relief",
          "unit": "m",
          "least": 0.0,
          "most": 5.0,
          "step": 0.001,
          "digits": 3,
          "decades": false,
          "hint": "Metres from the lowest to the highest of its height, along the ground's normal",
          "pixel": 0.002,
          "usual": null
        }
      },
      {
        "field": "relief_mid",
        "usual": 0.0,
        "shown": {
          "label": "Level at",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "The height of the set that lies level with what it lies on",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "relief_curve",
        "usual": 0.0,
        "shown": {
          "label": "Tops",
          "unit": "",
          "least": -1.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Below 0 rounds its tops, above 0 sharpens them",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Layer": [
      {
        "field": "opacity",
        "usual": 1.0,
        "shown": {
          "label": "Opacity",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Edge": [
      {
        "field": "width_m",
        "usual": 0.02,
        "shown": {
          "label": "Edge width",
          "unit": "m",
          "least": 0.0,
          "most": 0.5,
          "step": 0.002,
          "digits": 3,
          "decades": false,
          "hint": "Height difference over which the higher one wins",
          "pixel": 0.002,
          "usual": null
        }
      },
      {
        "field": "fingers",
        "usual": 0.0,
        "shown": {
          "label": "Fingers",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far the soft end of its rule breaks up into fingers and islands",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "fingers_m",
        "usual": 3.0,
        "shown": {
          "label": "\u2026size",
          "unit": "m",
          "least": 0.1,
          "most": 100.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "Across a usual finger",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strip",
        "usual": 0.25,
        "shown": {
          "label": "Strip",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How much of the soft end the strip along its boundary takes",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "strip_tile_m",
        "usual": 2.0,
        "shown": {
          "label": "\u2026tile",
          "unit": "m",
          "least": 0.25,
          "most": 20.0,
          "step": 0.05,
          "digits": 2,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Look": [
      {
        "field": "brightness",
        "usual": 1.0,
        "shown": {
          "label": "Brightness",
          "unit": "\u00d7",
          "least": 0.1,
          "most": 4.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "hue_deg",
        "usual": 0.0,
        "shown": {
          "label": "Colour turn",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Turns its colour round the colour wheel",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "saturation",
        "usual": 1.0,
        "shown": {
          "label": "Saturation",
          "unit": "\u00d7",
          "least": 0.0,
          "most": 3.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "0 is grey",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "colour_lowest",
        "usual": 0.0,
        "shown": {
          "label": "Darkest",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Lightness that black becomes: lifts its shadows",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "colour_highest",
        "usual": 1.0,
        "shown": {
          "label": "Lightest",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Lightness that white becomes",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "roughness_shift",
        "usual": 0.0,
        "shown": {
          "label": "Roughness",
          "unit": "",
          "least": -1.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Added to the set's roughness",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "roughness_lowest",
        "usual": 0.0,
        "shown": {
          "label": "Rough from",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "What roughness 0 becomes",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "roughness_highest",
        "usual": 1.0,
        "shown": {
          "label": "Rough to",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "What roughness 1 becomes",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "normal_strength",
        "usual": 1.0,
        "shown": {
          "label": "Normal",
          "unit": "\u00d7",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "occlusion",
        "usual": 1.0,
        "shown": {
          "label": "Occlusion",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "emission_ev",
        "usual": 0.0,
        "shown": {
          "label": "Emission",
          "unit": "EV",
          "least": -8.0,
          "most": 8.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "At 0 its white is as bright as white ground at noon",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "variation",
        "usual": 0.12,
        "shown": {
          "label": "Variation",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Slow change of brightness over the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "variation_colour",
        "usual": 0.0,
        "shown": {
          "label": "\u2026of colour",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Slow change of warmth over the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "variation_offset",
        "usual": 0.0,
        "shown": {
          "label": "\u2026of tiles",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Slow drift of the tiles, in tiles: repeats fall out of step",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "variation_size_m",
        "usual": 45.0,
        "shown": {
          "label": "\u2026every",
          "unit": "m",
          "least": 0.5,
          "most": 2000.0,
          "step": 0.5,
          "digits": 1,
          "decades": true,
          "hint": "Distance over which they vary",
          "pixel": 0.5,
          "usual": null
        }
      },
      {
        "field": "ground_image",
        "usual": 0.0,
        "shown": {
          "label": "Ground image",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far its colour is that of the image over the ground",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Stand": [
      {
        "field": "view_deg",
        "usual": 40.0,
        "shown": {
          "label": "Lens",
          "unit": "\u00b0",
          "least": 5.0,
          "most": 100.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Vertical angle of view: less is longer",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Light": [
      {
        "field": "sun_bearing_deg",
        "usual": 235.0,
        "shown": {
          "label": "Sun from",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sun_height_deg",
        "usual": 34.0,
        "shown": {
          "label": "Sun height",
          "unit": "\u00b0",
          "least": -6.0,
          "most": 90.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sun",
        "usual": 1.0,
        "shown": {
          "label": "Sun brightness",
          "unit": "\u00d7",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sun_width_deg",
        "usual": 0.53,
        "shown": {
          "label": "Sun width",
          "unit": "\u00b0",
          "least": 0.1,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "0.53 is the sun; wider softens shadows",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sky",
        "usual": 1.0,
        "shown": {
          "label": "Sky brightness",
          "unit": "\u00d7",
          "least": 0.0,
          "most": 4.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "overcast",
        "usual": 0.0,
        "shown": {
          "label": "Overcast",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How much of the sky is cloud, even and grey",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "exposure_ev",
        "usual": 0.0,
        "shown": {
          "label": "Exposure",
          "unit": "EV",
          "least": -6.0,
          "most": 6.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "visibility_km",
        "usual": 0.05,
        "shown": {
          "label": "Visibility",
          "unit": "km",
          "least": 0.05,
          "most": 2000.0,
          "step": 0.05,
          "digits": 1,
          "decades": true,
          "hint": "Where a black thing can just be seen",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "scale_height_m",
        "usual": 4000.0,
        "shown": {
          "label": "Thins over",
          "unit": "m",
          "least": 10.0,
          "most": 10000.0,
          "step": 10.0,
          "digits": 0,
          "decades": true,
          "hint": "How the air clears with height",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Mist": [
      {
        "field": "top_m",
        "usual": 0.0,
        "shown": {
          "label": "Top at",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "Elevation up to which it is dense",
          "pixel": 0.2,
          "usual": null
        }
      },
      {
        "field": "soft_m",
        "usual": 10.0,
        "shown": {
          "label": "Thins over",
          "unit": "m",
          "least": 0.1,
          "most": 2000.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "How it thins out above its top",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "visibility_m",
        "usual": 400.0,
        "shown": {
          "label": "Seen through",
          "unit": "m",
          "least": 1.0,
          "most": 50000.0,
          "step": 1.0,
          "digits": 0,
          "decades": true,
          "hint": "How far one sees inside it",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "When": [
      {
        "field": "latitude_deg",
        "usual": 54.0,
        "shown": {
          "label": "Latitude",
          "unit": "\u00b0",
          "least": -90.0,
          "most": 90.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "North is positive",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "hour",
        "usual": 12.0,
        "shown": {
          "label": "Hour",
          "unit": "h",
          "least": 0.0,
          "most": 24.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "Mean solar time: near 12 it is highest",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "ImageLight": [
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turned",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Water": [
      {
        "field": "level_m",
        "usual": 0.0,
        "shown": {
          "label": "Level",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "clarity_m",
        "usual": 1.5,
        "shown": {
          "label": "Clarity",
          "unit": "m",
          "least": 0.02,
          "most": 60.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Way over which white light turns to its colour",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "ripple_m",
        "usual": 0.004,
        "shown": {
          "label": "Ripples",
          "unit": "m",
          "least": 0.0,
          "most": 0.5,
          "step": 0.001,
          "digits": 3,
          "decades": false,
          "hint": "From trough to crest; 0 is a mirror",
          "pixel": 0.001,
          "usual": null
        }
      },
      {
        "field": "ripple_bearing_deg",
        "usual": 250.0,
        "shown": {
          "label": "Ripples from",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "wet_m",
        "usual": 0.12,
        "shown": {
          "label": "Wet band",
          "unit": "m",
          "least": 0.0,
          "most": 5.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Height above the water up to which ground is wet",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Range": [
      {
        "field": "none_at",
        "usual": 0.0,
        "shown": {
          "label": "None at",
          "unit": "",
          "least": 0.0,
          "most": 0.99,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Values up to this are no mark",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "full_at",
        "usual": 1.0,
        "shown": {
          "label": "Full at",
          "unit": "",
          "least": 0.01,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Values from this on are the mark in full",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "soft",
        "usual": 0.0,
        "shown": {
          "label": "Soft ends",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "0 straight between both, 1 eased at both ends",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "AlongLevels": [
      {
        "field": "radius_m",
        "usual": 20.0,
        "shown": {
          "label": "Within",
          "unit": "m",
          "least": 1.0,
          "most": 500.0,
          "step": 1.0,
          "digits": 0,
          "decades": true,
          "hint": "Radius of the surroundings that it is measured against",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "from_m",
        "usual": 0.0,
        "shown": {
          "label": "From",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Where the overlay's lowest edge lies",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "spacing_m",
        "usual": 1.0,
        "shown": {
          "label": "Over",
          "unit": "m",
          "least": 0.01,
          "most": 100.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Metres up over which it lies once",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "wobble_m",
        "usual": 0.0,
        "shown": {
          "label": "Wanders",
          "unit": "m",
          "least": 0.0,
          "most": 2.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far levels wander up and down",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "wobble_size_m",
        "usual": 6.0,
        "shown": {
          "label": "\u2026every",
          "unit": "m",
          "least": 0.1,
          "most": 200.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "Distance over which they wander",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "AlongPath": [
      {
        "field": "width_m",
        "usual": 2.0,
        "shown": {
          "label": "Width",
          "unit": "m",
          "least": 0.05,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Across the path",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "length_m",
        "usual": 1.0,
        "shown": {
          "label": "Length",
          "unit": "m",
          "least": 0.05,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Along the path for one repeat",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "ByRelief": [
      {
        "field": "level",
        "usual": 0.5,
        "shown": {
          "label": "Level",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Of the relief under it, from its lowest to its highest",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "soft",
        "usual": 0.3,
        "shown": {
          "label": "Soft",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Over so much of the relief it comes in",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Blend": [
      {
        "field": "towards",
        "usual": 0.4,
        "shown": {
          "label": "Towards",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": 0.4
        }
      },
      {
        "field": "strength",
        "usual": 0.15,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.0001,
          "digits": 3,
          "decades": false,
          "hint": "",
          "pixel": 0.001,
          "usual": null
        }
      }
    ],
    "Colouring": [
      {
        "field": "strength",
        "usual": 0.25,
        "shown": {
          "label": "Strength",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.0001,
          "digits": 3,
          "decades": false,
          "hint": "",
          "pixel": 0.001,
          "usual": null
        }
      }
    ],
    "ReliefEffect": [
      {
        "field": "depth_mm",
        "usual": 0.2,
        "shown": {
          "label": "Depth",
          "unit": "mm",
          "least": 0.0,
          "most": 30.0,
          "step": 0.001,
          "digits": 2,
          "decades": false,
          "hint": "Along the normal; no more than the relief of what it lies over",
          "pixel": 0.02,
          "usual": null
        }
      }
    ],
    "Effects": [
      {
        "field": "worn_through",
        "usual": 0.3,
        "shown": {
          "label": "Removed",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.0001,
          "digits": 3,
          "decades": false,
          "hint": "",
          "pixel": 0.001,
          "usual": 0.3
        }
      }
    ],
    "WearBody": [
      {
        "field": "strength",
        "usual": 1.0,
        "shown": {
          "label": "All of it",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.0001,
          "digits": 3,
          "decades": false,
          "hint": "Strength of all its effects",
          "pixel": 0.001,
          "usual": null
        }
      }
    ],
    "Filed": [
      {
        "field": "tile_m",
        "usual": 0.02,
        "shown": {
          "label": "Metres per repeat",
          "unit": "m",
          "least": 0.02,
          "most": 200.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.05,
          "usual": null
        }
      },
      {
        "field": "relief_m",
        "usual": 0.0001,
        "shown": {
          "label": "Relief",
          "unit": "m",
          "least": 0.0001,
          "most": 50.0,
          "step": 0.001,
          "digits": 4,
          "decades": false,
          "hint": "",
          "pixel": 0.001,
          "usual": null
        }
      }
    ],
    "MadeBy": [
      {
        "field": "seed",
        "usual": 7.0,
        "shown": {
          "label": "Seed",
          "unit": "",
          "least": 0.0,
          "most": 1000000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": 7.0
        }
      }
    ],
    "ViewNumbers": [
      {
        "field": "contour_m",
        "usual": 0.0,
        "shown": {
          "label": "Contour interval",
          "unit": "m",
          "least": 0.0,
          "most": 1000.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "cut_deg",
        "usual": 90.0,
        "shown": {
          "label": "Transect bearing",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 360.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "cut_m",
        "usual": 3.0,
        "shown": {
          "label": "Length of the cut",
          "unit": "m",
          "least": 0.5,
          "most": 30.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.02,
          "usual": null
        }
      },
      {
        "field": "relief_limit_m",
        "usual": 0.05,
        "shown": {
          "label": "Limit of relief",
          "unit": "m",
          "least": 0.0,
          "most": 5.0,
          "step": 0.005,
          "digits": 3,
          "decades": false,
          "hint": "",
          "pixel": 0.001,
          "usual": null
        }
      },
      {
        "field": "apart_m",
        "usual": 4.0,
        "shown": {
          "label": "Apart along the path",
          "unit": "m",
          "least": 0.1,
          "most": 500.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.1,
          "usual": null
        }
      },
      {
        "field": "nothing_upto",
        "usual": 0.0,
        "shown": {
          "label": "Nothing up to",
          "unit": "",
          "least": -1.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.005,
          "usual": null
        }
      },
      {
        "field": "all_from",
        "usual": 1.0,
        "shown": {
          "label": "All from",
          "unit": "",
          "least": 0.0,
          "most": 2.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.005,
          "usual": null
        }
      }
    ],
    "StillAsk": [
      {
        "field": "width_px",
        "usual": 1920.0,
        "shown": {
          "label": "Width",
          "unit": "px",
          "least": 16.0,
          "most": 8192.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "height_px",
        "usual": 1080.0,
        "shown": {
          "label": "Height",
          "unit": "px",
          "least": 16.0,
          "most": 8192.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "rays",
        "usual": 16.0,
        "shown": {
          "label": "Rays a pixel",
          "unit": "",
          "least": 1.0,
          "most": 64.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "warmth",
        "usual": 0.0,
        "shown": {
          "label": "Warmth",
          "unit": "",
          "least": -1.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Turns white to blue or amber",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "contrast",
        "usual": 0.0,
        "shown": {
          "label": "Contrast",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "An S about middle grey",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "frames",
        "usual": 48.0,
        "shown": {
          "label": "Frames",
          "unit": "",
          "least": 2.0,
          "most": 480.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "seconds",
        "usual": 6.0,
        "shown": {
          "label": "Lasts",
          "unit": "s",
          "least": 0.5,
          "most": 120.0,
          "step": 0.5,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Fine": [
      {
        "field": "value",
        "usual": 2048.0,
        "shown": {
          "label": "Texels",
          "unit": "px",
          "least": 16.0,
          "most": 32768.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Along the longer side of the whole site",
          "pixel": 0.0,
          "usual": 2048.0
        }
      }
    ],
    "Tiling": [
      {
        "field": "columns",
        "usual": 1.0,
        "shown": {
          "label": "Tiles across",
          "unit": "",
          "least": 1.0,
          "most": 64.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "rows",
        "usual": 1.0,
        "shown": {
          "label": "Tiles down",
          "unit": "",
          "least": 1.0,
          "most": 64.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "side_px",
        "usual": 0.0,
        "shown": {
          "label": "Tile",
          "unit": "px",
          "least": 0.0,
          "most": 16384.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Its side; 0 goes by columns and rows",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "border_px",
        "usual": 0.0,
        "shown": {
          "label": "Border",
          "unit": "px",
          "least": 0.0,
          "most": 256.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Texels of its neighbours, repeated",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "MapsEntry": [
      {
        "field": "longer_px",
        "usual": 0.0,
        "shown": {
          "label": "Own size",
          "unit": "px",
          "least": 0.0,
          "most": 32769.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Longer side; 0 is as the sheet",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Slot": [
      {
        "field": "low",
        "usual": 0.0,
        "shown": {
          "label": "From",
          "unit": "",
          "least": -1000000.0,
          "most": 1000000.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "high",
        "usual": 1.0,
        "shown": {
          "label": "To",
          "unit": "",
          "least": -1000000.0,
          "most": 1000000.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "MeshEntry": [
      {
        "field": "greatest_error_m",
        "usual": 0.5,
        "shown": {
          "label": "Greatest error",
          "unit": "m",
          "least": 0.01,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "No place lies further from the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "cell_m",
        "usual": 2.0,
        "shown": {
          "label": "Cell",
          "unit": "m",
          "least": 0.05,
          "most": 100.0,
          "step": 0.05,
          "digits": 2,
          "decades": true,
          "hint": "Of a regular grid",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "columns",
        "usual": 1.0,
        "shown": {
          "label": "Tiles across",
          "unit": "",
          "least": 1.0,
          "most": 16.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "rows",
        "usual": 1.0,
        "shown": {
          "label": "Tiles down",
          "unit": "",
          "least": 1.0,
          "most": 16.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "levels",
        "usual": 1.0,
        "shown": {
          "label": "Levels of detail",
          "unit": "",
          "least": 1.0,
          "most": 8.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Each with twice the error of the one before",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "maps_px",
        "usual": 2048.0,
        "shown": {
          "label": "Maps",
          "unit": "px",
          "least": 16.0,
          "most": 16384.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Longer side of its maps",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "GroundEntry": [
      {
        "field": "longer_px",
        "usual": 0.0,
        "shown": {
          "label": "Samples",
          "unit": "",
          "least": 0.0,
          "most": 16385.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Longer side; 0 is the ground's own",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "StillsEntry": [
      {
        "field": "width_px",
        "usual": 1920.0,
        "shown": {
          "label": "Width",
          "unit": "px",
          "least": 16.0,
          "most": 16384.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "height_px",
        "usual": 1080.0,
        "shown": {
          "label": "Height",
          "unit": "px",
          "least": 16.0,
          "most": 16384.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "rays",
        "usual": 16.0,
        "shown": {
          "label": "Rays a pixel",
          "unit": "",
          "least": 1.0,
          "most": 256.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "ThingsEntry": [
      {
        "field": "density_px",
        "usual": 0.0,
        "shown": {
          "label": "Densities",
          "unit": "px",
          "least": 0.0,
          "most": 8192.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Longer side of a map of each strew; 0 is none",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "bake_px",
        "usual": 0.0,
        "shown": {
          "label": "Bake",
          "unit": "px",
          "least": 0.0,
          "most": 4096.0,
          "step": 256.0,
          "digits": 0,
          "decades": false,
          "hint": "Side of each model's textures, with its cover; 0 is none",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "columns",
        "usual": 1.0,
        "shown": {
          "label": "Tiles across",
          "unit": "",
          "least": 1.0,
          "most": 32.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "rows",
        "usual": 1.0,
        "shown": {
          "label": "Tiles down",
          "unit": "",
          "least": 1.0,
          "most": 32.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Mixed": [
      {
        "field": "weight",
        "usual": 1.0,
        "shown": {
          "label": "Weight",
          "unit": "",
          "least": 0.0,
          "most": 10.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Size": [
      {
        "field": "from_m",
        "usual": 0.3,
        "shown": {
          "label": "Smallest",
          "unit": "m",
          "least": 0.02,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "to_m",
        "usual": 1.2,
        "shown": {
          "label": "Largest",
          "unit": "m",
          "least": 0.02,
          "most": 20.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "bias",
        "usual": 1.0,
        "shown": {
          "label": "Small ones",
          "unit": "",
          "least": 0.0,
          "most": 4.0,
          "step": 0.1,
          "digits": 1,
          "decades": false,
          "hint": "0 all sizes alike, 4 nearly all small",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "at_foot",
        "usual": 0.0,
        "shown": {
          "label": "Large at the foot",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far large ones lie low and small ones high",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "foot_m",
        "usual": 0.0,
        "shown": {
          "label": "\u2026from",
          "unit": "m",
          "least": -500.0,
          "most": 9000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Up to here all sizes lie",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "top_m",
        "usual": 100.0,
        "shown": {
          "label": "\u2026to",
          "unit": "m",
          "least": -500.0,
          "most": 9000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "From here on only the smallest",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Standing": [
      {
        "field": "sunk_from",
        "usual": 0.1,
        "shown": {
          "label": "Sunk from",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Of its height, at the lowest ground under its foot",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sunk_to",
        "usual": 0.3,
        "shown": {
          "label": "Sunk to",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "leans",
        "usual": 0.5,
        "shown": {
          "label": "Leans",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "0 upright, 1 square to the ground's slope",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "tilt_deg",
        "usual": 6.0,
        "shown": {
          "label": "Tilted",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 90.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "By chance, up to so much",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turned by",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "jitter_deg",
        "usual": 15.0,
        "shown": {
          "label": "Give or take",
          "unit": "\u00b0",
          "least": 0.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Clusters": [
      {
        "field": "clustered",
        "usual": 0.0,
        "shown": {
          "label": "Clustered",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How much of the strew lies in clusters",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "size_m",
        "usual": 6.0,
        "shown": {
          "label": "\u2026across",
          "unit": "m",
          "least": 0.2,
          "most": 200.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "apart_m",
        "usual": 14.0,
        "shown": {
          "label": "\u2026apart",
          "unit": "m",
          "least": 0.2,
          "most": 500.0,
          "step": 0.1,
          "digits": 1,
          "decades": true,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Looks": [
      {
        "field": "hue",
        "usual": 0.12,
        "shown": {
          "label": "Own colour",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far their warmth differs",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "brightness",
        "usual": 0.15,
        "shown": {
          "label": "Brightness",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far their brightness differs",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "of_ground",
        "usual": 0.15,
        "shown": {
          "label": "Ground tint",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far they take the colour of the ground below",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "foot_m",
        "usual": 0.06,
        "shown": {
          "label": "Foot joins",
          "unit": "m",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Over so much of their foot the ground climbs on them",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "Strew": [
      {
        "field": "per_100_m2",
        "usual": 2.0,
        "shown": {
          "label": "On 100 m\u00b2",
          "unit": "",
          "least": 0.01,
          "most": 400.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "As many on 100 m\u00b2 of map where the rule lets all in",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "apart_m",
        "usual": 0.0,
        "shown": {
          "label": "At least apart",
          "unit": "m",
          "least": 0.0,
          "most": 20.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "Between their middles",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "at_most",
        "usual": 200000.0,
        "shown": {
          "label": "At most",
          "unit": "",
          "least": 1.0,
          "most": 5000000.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "ByHand": [
      {
        "field": "times",
        "usual": 1.0,
        "shown": {
          "label": "size \u00d7",
          "unit": "",
          "least": 0.05,
          "most": 20.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.01,
          "usual": null
        }
      },
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "turned",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "DrawnThing": [
      {
        "field": "variants",
        "usual": 4.0,
        "shown": {
          "label": "Variants",
          "unit": "",
          "least": 1.0,
          "most": 12.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "How many that differ",
          "pixel": 0.0,
          "usual": null
        }
      }
    ],
    "SetThing": [
      {
        "field": "east_m",
        "usual": 0.0,
        "shown": {
          "label": "East",
          "unit": "m",
          "least": 0.0,
          "most": 200000.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "north_m",
        "usual": 0.0,
        "shown": {
          "label": "North",
          "unit": "m",
          "least": 0.0,
          "most": 200000.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "size_m",
        "usual": 0.02,
        "shown": {
          "label": "Size",
          "unit": "m",
          "least": 0.02,
          "most": 60.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Its longest side before it is stretched",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "along",
        "usual": 1.0,
        "shown": {
          "label": "Along",
          "unit": "\u00d7",
          "least": 0.2,
          "most": 5.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Stretched along its own length",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "across",
        "usual": 1.0,
        "shown": {
          "label": "Across",
          "unit": "\u00d7",
          "least": 0.2,
          "most": 5.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Stretched across its length",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "high",
        "usual": 1.0,
        "shown": {
          "label": "High",
          "unit": "\u00d7",
          "least": 0.2,
          "most": 5.0,
          "step": 0.01,
          "digits": 2,
          "decades": true,
          "hint": "Stretched along its own height",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "turn_deg",
        "usual": 0.0,
        "shown": {
          "label": "Turn",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "About its own upright",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "nod_deg",
        "usual": 0.0,
        "shown": {
          "label": "Nod",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "Its length up or down",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "roll_deg",
        "usual": 0.0,
        "shown": {
          "label": "Roll",
          "unit": "\u00b0",
          "least": -180.0,
          "most": 180.0,
          "step": 1.0,
          "digits": 0,
          "decades": false,
          "hint": "About its own length",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "leans",
        "usual": 0.0,
        "shown": {
          "label": "Leans",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "0 upright, 1 square to the ground's slope",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "sunk",
        "usual": 0.15,
        "shown": {
          "label": "Sunk",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Of its height, at the lowest ground under its foot",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "foot_m",
        "usual": 0.0,
        "shown": {
          "label": "Foot at",
          "unit": "m",
          "least": -20000.0,
          "most": 20000.0,
          "step": 0.05,
          "digits": 2,
          "decades": false,
          "hint": "",
          "pixel": 0.05,
          "usual": null
        }
      },
      {
        "field": "joins_m",
        "usual": 0.12,
        "shown": {
          "label": "Joins over",
          "unit": "m",
          "least": 0.0,
          "most": 2.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "Over so much of its foot it becomes the ground",
          "pixel": 0.0,
          "usual": null
        }
      },
      {
        "field": "of_ground",
        "usual": 0.0,
        "shown": {
          "label": "Ground tint",
          "unit": "",
          "least": 0.0,
          "most": 1.0,
          "step": 0.01,
          "digits": 2,
          "decades": false,
          "hint": "How far it takes the colour of the ground below",
          "pixel": 0.0,
          "usual": null
        }
      }
    ]
  },
  "nominal": {
    "steps": {
      "form": {
        "id": "new0",
        "name": "Rolling form",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "form",
        "character": "rolling",
        "seed": 1,
        "size_m": 333.0,
        "height_m": 83.0,
        "detail": 7,
        "roughness": 0.5,
        "bearing_deg": 270.0,
        "east_m": null,
        "north_m": null,
        "opposite": false
      },
      "rivers": {
        "id": "new0",
        "name": "Rivers",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "rivers",
        "cut": 0.5,
        "branching": 0.5,
        "rounds": 10,
        "lift_m": 0.0,
        "creep_m": 2.9,
        "seed": 1
      },
      "runoff": {
        "id": "new0",
        "name": "Runoff",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "runoff",
        "rounds": 220,
        "rain": 0.5,
        "carry": 0.5,
        "softness": 0.5
      },
      "settle": {
        "id": "new0",
        "name": "Settle",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "settle",
        "repose_deg": 36.0
      },
      "terrace": {
        "id": "new0",
        "name": "Terraces",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "terrace",
        "spacing_m": 6.3,
        "offset_m": 0.0,
        "sharpness": 0.6,
        "irregularity": 0.4,
        "seed": 1
      },
      "smooth": {
        "id": "new0",
        "name": "Smooth",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "smooth",
        "radius_m": 8.3,
        "opposite": false
      },
      "ridges": {
        "id": "new0",
        "name": "Sharpen ridges",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "ridges",
        "radius_m": 20.0,
        "opposite": false
      },
      "warp": {
        "id": "new0",
        "name": "Warp",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "warp",
        "amount_m": 25.0,
        "size_m": 125.0,
        "detail": 3,
        "seed": 1
      },
      "twist": {
        "id": "new0",
        "name": "Twist",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "twist",
        "turn_deg": 40.0,
        "radius_m": 250.0,
        "east_m": null,
        "north_m": null
      },
      "remap": {
        "id": "new0",
        "name": "Heights by a curve",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "remap",
        "curve": [
          {
            "before": 0.0,
            "after": 0.0
          },
          {
            "before": 0.5,
            "after": 0.35
          },
          {
            "before": 1.0,
            "after": 1.0
          }
        ],
        "opposite": false
      },
      "level": {
        "id": "new0",
        "name": "Cut and fill to a level",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "level",
        "level_m": 50.0,
        "cut": true,
        "fill": true,
        "soft_m": 1.7
      },
      "course": {
        "id": "new0",
        "name": "Course",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "course",
        "points": [
          {
            "east_m": 150.0,
            "north_m": 597.6,
            "level_m": 30.0,
            "half_width_m": 12.5
          },
          {
            "east_m": 500.0,
            "north_m": 402.2,
            "level_m": 30.0,
            "half_width_m": 12.5
          },
          {
            "east_m": 850.0,
            "north_m": 597.9,
            "level_m": 30.0,
            "half_width_m": 12.5
          }
        ],
        "side_deg": 30.0,
        "cut": true,
        "fill": false,
        "soft_m": 1.0,
        "wander_m": 0.0,
        "wander_size_m": 100.0,
        "seed": 1
      },
      "brush": {
        "id": "new0",
        "name": "Brush",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "brush",
        "strokes": []
      },
      "resample": {
        "id": "new0",
        "name": "Resample",
        "on": true,
        "strength": 1.0,
        "where": [],
        "kind": "resample",
        "samples": 2049
      }
    },
    "limits": {
      "elevation": {
        "lower": 50.0,
        "upper": null,
        "soft_lower": 3.0,
        "soft_upper": 3.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "elevation",
        "unit": "m",
        "radius_m": null
      },
      "slope": {
        "lower": 30.0,
        "upper": null,
        "soft_lower": 5.0,
        "soft_upper": 5.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "slope",
        "unit": "\u00b0",
        "radius_m": null
      },
      "aspect": {
        "lower": 315.0,
        "upper": 45.0,
        "soft_lower": 20.0,
        "soft_upper": 20.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "aspect",
        "unit": "\u00b0",
        "radius_m": null
      },
      "curvature-profile": {
        "lower": 0.02,
        "upper": null,
        "soft_lower": 0.02,
        "soft_upper": 0.02,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "curvature-profile",
        "unit": "1/m",
        "radius_m": null
      },
      "curvature-plan": {
        "lower": 0.02,
        "upper": null,
        "soft_lower": 0.02,
        "soft_upper": 0.02,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "curvature-plan",
        "unit": "1/m",
        "radius_m": null
      },
      "curvature-mean": {
        "lower": null,
        "upper": -0.02,
        "soft_lower": 0.02,
        "soft_upper": 0.02,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "curvature-mean",
        "unit": "1/m",
        "radius_m": null
      },
      "relative-height": {
        "lower": 0.5,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "relative-height",
        "unit": "m",
        "radius_m": null
      },
      "openness": {
        "lower": null,
        "upper": 80.0,
        "soft_lower": 3.0,
        "soft_upper": 3.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "openness",
        "unit": "\u00b0",
        "radius_m": null
      },
      "drainage": {
        "lower": 1000.0,
        "upper": null,
        "soft_lower": 50.0,
        "soft_upper": 50.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "drainage",
        "unit": "m\u00b2",
        "radius_m": null
      },
      "wetness": {
        "lower": 6.0,
        "upper": null,
        "soft_lower": 0.8,
        "soft_upper": 0.8,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "wetness",
        "unit": "ln m",
        "radius_m": null
      },
      "worn": {
        "lower": 0.2,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "worn",
        "unit": "m",
        "radius_m": null
      },
      "dropped": {
        "lower": 0.2,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "dropped",
        "unit": "m",
        "radius_m": null
      },
      "flow": {
        "lower": 1000.0,
        "upper": null,
        "soft_lower": 50.0,
        "soft_upper": 50.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "flow",
        "unit": "m\u00b2",
        "radius_m": null
      },
      "height-above-water": {
        "lower": null,
        "upper": 0.4,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "height-above-water",
        "unit": "m",
        "radius_m": null
      },
      "distance-to-water": {
        "lower": null,
        "upper": 4.0,
        "soft_lower": 1.0,
        "soft_upper": 1.0,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "distance-to-water",
        "unit": "m",
        "radius_m": null
      },
      "water-depth": {
        "lower": 0.05,
        "upper": null,
        "soft_lower": 0.2,
        "soft_upper": 0.2,
        "opposite": false,
        "every": null,
        "irregular": 0.0,
        "curve": [],
        "kind": "measure",
        "measure": "water-depth",
        "unit": "m",
        "radius_m": null
      }
    },
    "spans": {
      "elevation": {
        "least": -20000.0,
        "most": 20000.0,
        "step": 0.5,
        "digits": 1,
        "pixel": 0.25,
        "soft": 3.0,
        "pixelShare": 0.0
      },
      "slope": {
        "least": 0.0,
        "most": 90.0,
        "step": 0.5,
        "digits": 1,
        "pixel": 0.25,
        "soft": 5.0,
        "pixelShare": 0.0
      },
      "aspect": {
        "least": 0.0,
        "most": 360.0,
        "step": 1.0,
        "digits": 0,
        "pixel": 1.0,
        "soft": 20.0,
        "pixelShare": 0.0
      },
      "curvature-profile": {
        "least": -100.0,
        "most": 100.0,
        "step": 0.001,
        "digits": 3,
        "pixel": 0.0005,
        "soft": 0.02,
        "pixelShare": 0.0
      },
      "curvature-plan": {
        "least": -100.0,
        "most": 100.0,
        "step": 0.001,
        "digits": 3,
        "pixel": 0.0005,
        "soft": 0.02,
        "pixelShare": 0.0
      },
      "curvature-mean": {
        "least": -100.0,
        "most": 100.0,
        "step": 0.001,
        "digits": 3,
        "pixel": 0.0005,
        "soft": 0.02,
        "pixelShare": 0.0
      },
      "relative-height": {
        "least": -5000.0,
        "most": 5000.0,
        "step": 0.01,
        "digits": 2,
        "pixel": 0.01,
        "soft": 0.2,
        "pixelShare": 0.0
      },
      "openness": {
        "least": 0.0,
        "most": 180.0,
        "step": 0.5,
        "digits": 1,
        "pixel": 0.25,
        "soft": 3.0,
        "pixelShare": 0.0
      },
      "drainage": {
        "least": 0.0,
        "most": 1000000000.0,
        "step": 1.0,
        "digits": 0,
        "pixel": 1.0,
        "soft": 50.0,
        "pixelShare": 0.012
      },
      "wetness": {
        "least": -50.0,
        "most": 50.0,
        "step": 0.1,
        "digits": 1,
        "pixel": 0.03,
        "soft": 0.8,
        "pixelShare": 0.0
      },
      "worn": {
        "least": -5000.0,
        "most": 5000.0,
        "step": 0.01,
        "digits": 2,
        "pixel": 0.01,
        "soft": 0.2,
        "pixelShare": 0.0
      },
      "dropped": {
        "least": -5000.0,
        "most": 5000.0,
        "step": 0.01,
        "digits": 2,
        "pixel": 0.01,
        "soft": 0.2,
        "pixelShare": 0.0
      },
      "flow": {
        "least": 0.0,
        "most": 1000000000.0,
        "step": 1.0,
        "digits": 0,
        "pixel": 1.0,
        "soft": 50.0,
        "pixelShare": 0.012
      },
      "height-above-water": {
        "least": -5000.0,
        "most": 5000.0,
        "step": 0.01,
        "digits": 2,
        "pixel": 0.01,
        "soft": 0.2,
        "pixelShare": 0.0
      },
      "distance-to-water": {
        "least": 0.0,
        "most": 1000000.0,
        "step": 0.1,
        "digits": 1,
        "pixel": 0.1,
        "soft": 1.0,
        "pixelShare": 0.01
      },
      "water-depth": {
        "least": 0.0,
        "most": 5000.0,
        "step": 0.01,
        "digits": 2,
        "pixel": 0.01,
        "soft": 0.2,
        "pixelShare": 0.0
      }
    }
  },
  "most": {
    "clauses": 16,
    "where": 6,
    "onThing": 16,
    "wearOnThing": 8,
    "marksOnThing": 8,
    "setThings": 500,
    "kinds": 12,
    "touches": 8,
    "softPoints": 8,
    "heightPoints": 12
  }
};
