/* Made from docs/answers.schema.json by make types. */
import type {
  Added,
  AlongLevels,
  Effects,
  GroundEntry,
  KitEntry,
  Layer,
  Light,
  Look,
  MapsEntry,
  Marks,
  MeasureClause,
  MeshEntry,
  NearDetail,
  OnThing,
  Peg,
  RawLayout,
  Recipe,
  Rule,
  SetThing,
  Sheet,
  SiteEntry,
  Stand,
  StillsEntry,
  Strew,
  Thing,
  ThingsEntry,
  Water
} from "./recipe";
import type {Decision, SetDescription, SetFacts} from "./stock";

type Step = Recipe["ground"]["steps"][number];
type Clause = Rule["clauses"][number];

export interface Answers {
  Account?: Account;
  Allowance?: Allowance;
  AtPlace?: AtPlace;
  Beginnings?: Beginnings;
  Begun?: Begun;
  BegunLayer?: BegunLayer;
  BlendKind?: BlendKind;
  BootCut?: BootCut;
  BroughtImage?: BroughtImage;
  BroughtIn?: BroughtIn;
  Brushed?: Brushed;
  Catalogue?: Catalogue;
  ChannelFacts?: ChannelFacts;
  Chart?: Chart;
  Choice?: Choice;
  ChoiceField?: ChoiceField;
  ClauseFacts?: ClauseFacts;
  ClauseKind?: ClauseKind;
  Cleared?: Cleared;
  CodeSpread?: CodeSpread;
  Control?: Control;
  Counted?: Counted;
  CoverFacts?: CoverFacts;
  Cut?: Cut;
  DrawnSkyKind?: DrawnSkyKind;
  DrawnStroke?: DrawnStroke;
  EntryLine?: EntryLine;
  FieldFacts?: FieldFacts;
  FieldKind?: FieldKind;
  Finding?: Finding;
  Findings?: Findings;
  FitAt?: FitAt;
  FormatKind?: FormatKind;
  FoundRule?: FoundRule;
  FrameAsked?: FrameAsked;
  FrameHead?: FrameHead;
  FramePart?: FramePart;
  GeneratorKind?: GeneratorKind;
  Generators?: Generators;
  GroundFacts?: GroundFacts;
  GuessedFile?: GuessedFile;
  GuessedSet?: GuessedSet;
  HandedOff?: HandedOff;
  HandedOffs?: HandedOffs;
  HeightFacts?: HeightFacts;
  HeightFormatKind?: HeightFormatKind;
  Histogram?: Histogram;
  JobState?: JobState;
  KeptGround?: KeptGround;
  KeptGrounds?: KeptGrounds;
  KeptLight?: KeptLight;
  KeptLightLine?: KeptLightLine;
  KeptSets?: KeptSets;
  KeptSheets?: KeptSheets;
  KeptWear?: KeptWear;
  Known?: Known;
  LaidWeights?: LaidWeights;
  LayoutGuess?: LayoutGuess;
  Legend?: Legend;
  Lines?: Lines;
  LookedInto?: LookedInto;
  MaskImageFacts?: MaskImageFacts;
  MatchedLook?: MatchedLook;
  MeaningKind?: MeaningKind;
  MeasureKind?: MeasureKind;
  MeasureKinds?: MeasureKinds;
  MendedSet?: MendedSet;
  MendedSite?: MendedSite;
  MeshFormatKind?: MeshFormatKind;
  MeshLevel?: MeshLevel;
  MeshLook?: MeshLook;
  ModeKind?: ModeKind;
  More?: More;
  Most?: Most;
  NewSet?: NewSet;
  NumberField?: NumberField;
  Option?: Option;
  PackFacts?: PackFacts;
  PackLine?: PackLine;
  PackList?: PackList;
  PanoramaFacts?: PanoramaFacts;
  PassKind?: PassKind;
  Picked?: Picked;
  PictureAsked?: PictureAsked;
  Pointed?: Pointed;
  Probe?: Probe;
  ProposedSets?: ProposedSets;
  ReadinessState?: ReadinessState;
  ReferenceFacts?: ReferenceFacts;
  ReliefFacts?: ReliefFacts;
  Removed?: Removed;
  Repetition?: Repetition;
  RoleKind?: RoleKind;
  SetFast?: SetFast;
  SetLine?: SetLine;
  SetSheet?: SetSheet;
  SetUse?: SetUse;
  SheetLines?: SheetLines;
  Shown?: Shown;
  SiteLine?: SiteLine;
  SiteLines?: SiteLines;
  SiteState?: SiteState;
  Snapshot?: Snapshot;
  Span?: Span;
  Spot?: Spot;
  StageState?: StageState;
  StepKind?: StepKind;
  StepReady?: StepReady;
  StillFile?: StillFile;
  StillsTaken?: StillsTaken;
  StrewFacts?: StrewFacts;
  SuiteLaid?: SuiteLaid;
  SuiteLine?: SuiteLine;
  SunPlace?: SunPlace;
  TakenRule?: TakenRule;
  ThingKind?: ThingKind;
  ThingLine?: ThingLine;
  ThingMeasureLine?: ThingMeasureLine;
  Thumb?: Thumb;
  Thumbs?: Thumbs;
  TileBox?: TileBox;
  TintingKind?: TintingKind;
  Told?: Told;
  Transect?: Transect;
  TypeKind?: TypeKind;
  ValueKind?: ValueKind;
  ViewAsked?: ViewAsked;
  WallOfSets?: WallOfSets;
  WearAt?: WearAt;
  WearKind?: WearKind;
  WholeKind?: WholeKind;
  WrittenFile?: WrittenFile;
}
/**
 * Why a layer lies at a place: its rule's presence with opacity, 0..1, and its clauses in order.
 */
export interface Account {
  clauses: Allowance[];
  layer: string;
  presence: number;
}
/**
 * What one clause says of a place: in words, how it is joined, how much it alone lets in (0..1, an
 * *except* counted as what it leaves), and whether it is the one that keeps the layer out.
 */
export interface Allowance {
  decides: boolean;
  join: string;
  letsIn: number;
  words: string;
}
/**
 * A place's elevation, and a measure's value there.
 */
export interface AtPlace {
  elevationM: number;
  value: number | null;
}
/**
 * New steps by kind, new limits by measure, and what limits of each measure may be.
 */
export interface Beginnings {
  limits: {
    [k: string]: MeasureClause;
  };
  spans: {
    [k: string]: Span;
  };
  steps: {
    [k: string]: Step;
  };
}
/**
 * What a limit of a measure may be on a ground: ``least`` to ``most`` by ``step``, ``digits`` behind the point;
 * dragged over a pixel by ``pixel`` or that share of itself, ``pixel_share``; usually ``soft`` over so much.
 */
export interface Span {
  digits: number;
  least: number;
  most: number;
  pixel: number;
  pixelShare: number;
  soft: number;
  step: number;
}
/**
 * A drop that was begun.
 */
export interface Begun {
  drop: string;
}
/**
 * A layer as it begins on a site, and the share of the ground that it takes there.
 */
export interface BegunLayer {
  layer: Layer;
  share: number;
}
/**
 * A way to change raw numbers, and what it does.
 */
export interface BlendKind {
  hint: string;
  mode: "screen" | "multiply" | "overlay" | "add" | "subtract" | "lighten" | "darken" | "replace";
}
/**
 * A cut through the peg at the scale of a boot: distance, plain ground and surface (m), the foremost layer
 * (-1 none), and the elevation on which one stands.
 */
export interface BootCut {
  distanceM: number[];
  groundM: number[];
  layer: number[];
  pegAtM: number;
  standM: number;
  surfaceM: number[];
}
/**
 * A colour image that was brought in.
 */
export interface BroughtImage {
  file: string;
  fileName: string;
  heightPx: number;
  widthPx: number;
}
/**
 * A model that was brought in: the thing, what was told of it, whether its unit and its upright were known.
 */
export interface BroughtIn {
  begins: Strew;
  keptTriangles: number;
  longestM: number;
  notes: string[];
  textures: number;
  thing: Thing;
  toldUnit: boolean;
  toldUp: boolean;
  triangles: number;
}
/**
 * A part of the where-chart: two measures and their ends.
 */
export interface Brushed {
  across: MeasureClause["measure"];
  across_from: number;
  across_to: number;
  up: MeasureClause["measure"];
  up_from: number;
  up_to: number;
}
/**
 * All kinds, each family in the order in which it is offered.
 */
export interface Catalogue {
  blends: BlendKind[];
  categories: (
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
    | "other"
  )[];
  characters: ("rolling" | "ridged" | "billowed" | "cellular" | "dunes" | "gorges" | "basin")[];
  clauses: ClauseKind[];
  detail: NearDetail;
  drawnSkies: DrawnSkyKind[];
  effects: Effects;
  encodings: (
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
    | "Gamma 2.2 AP1"
  )[];
  entries: {
    [k: string]: MapsEntry;
  };
  fields: FieldKind[];
  formats: FormatKind[];
  heightFormats: HeightFormatKind[];
  kitSizes: (64 | 128 | 256 | 512 | 1024 | 2048 | 4096)[];
  layer: Layer;
  layerOnThing: Layer;
  levels: AlongLevels[];
  levelsAroundM: number;
  meanings: MeaningKind[];
  measures: MeasureKind[];
  meshFormats: MeshFormatKind[];
  modelUnits: string[];
  modes: ModeKind[];
  most: Most;
  nominal: Beginnings;
  numbers: {
    [k: string]: NumberField[];
  };
  ownMaterial: string;
  passes: PassKind[];
  roles: RoleKind[];
  setThing: SetThing;
  steps: StepKind[];
  thingMeasures: ThingMeasureLine[];
  things: ThingKind[];
  tintings: TintingKind[];
  types: TypeKind[];
  values: ValueKind[];
  wholes: WholeKind[];
}
/**
 * A kind of clause: what it is called, where it is offered and how, its words, what is limited; by which field it
 * refers to which kinds of parts, and which field says which of them; what may be done with it; its numbers and
 * choices, and how it begins.
 */
export interface ClauseKind {
  about: string;
  begins: Clause;
  breaksUp: boolean;
  choices: ChoiceField[];
  curved: boolean;
  drawn: boolean;
  group: "hand" | "image" | "near" | "layer" | "";
  idField: string;
  kind: string;
  numbers: NumberField[];
  offer: string;
  phrase: string;
  reads: "measure" | "value" | "distance" | "place on a thing" | "edge" | "clauses";
  refers: ("mask" | "path" | "image" | "layer" | "strew" | "thing")[];
  short: string;
  title: string;
  whereField: string;
}
/**
 * A field that has one of a few values.
 */
export interface ChoiceField {
  choice: Choice;
  field: string;
}
/**
 * How a field is shown that has one of a few values; declared with the field.
 */
export interface Choice {
  label: string;
  options: Option[];
}
/**
 * One of the values that a field may have, what it is called, and a word about it.
 */
export interface Option {
  hint: string;
  label: string;
  value: string;
}
/**
 * A field that is shown as a number, and its usual value.
 */
export interface NumberField {
  field: string;
  shown: Shown;
  usual: number;
}
/**
 * What a slider or a typed number of a field may span, and what it is called.
 *
 * ``least`` to ``most`` in ``unit``, by ``step``, ``digits`` behind the point; over ``decades`` where equal ratios
 * are equally far apart. Dragged, the number changes by ``pixel`` for every pixel; by its step where that is 0.
 * ``usual`` is what it begins with where the field itself may be left out.
 */
export interface Shown {
  decades: boolean;
  digits: number;
  hint: string;
  label: string;
  least: number;
  most: number;
  pixel: number;
  step: number;
  unit: string;
  usual: number | null;
}
/**
 * A panorama that is drawn by code.
 */
export interface DrawnSkyKind {
  kind: "broken cloud" | "thin veil" | "low sun";
  title: string;
}
/**
 * A field of the pattern of a file's name, and what stands for it.
 */
export interface FieldKind {
  about: string;
  field: string;
}
/**
 * A format that files can have: the types of samples and the numbers of channels that it takes.
 */
export interface FormatKind {
  channels: number[];
  format: "png" | "tiff" | "exr" | "jpeg" | "webp" | "tga" | "raw";
  label: string;
  types: ("uint8" | "uint16" | "float16" | "float32")[];
}
/**
 * A format of heights, and the types of samples it holds.
 */
export interface HeightFormatKind {
  format: "png" | "tiff" | "exr" | "raw" | "npy" | "asc";
  label: string;
  types: ("uint8" | "uint16" | "float16" | "float32")[];
}
/**
 * What a file of a set can be taken for.
 */
export interface MeaningKind {
  label: string;
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
}
/**
 * A measure as it is shown: what it is, its unit and scale, and the words for what lies above and below.
 */
export interface MeasureKind {
  about: string;
  above: string;
  below: string;
  name: MeasureClause["measure"];
  ofWater: boolean;
  radiusM: number | null;
  scale: "even" | "about zero" | "logarithmic" | "compass";
  short: string;
  title: string;
  unit: "m" | "°" | "1/m" | "m²" | "ln m";
}
/**
 * A format of meshes, and what it can carry.
 */
export interface MeshFormatKind {
  format: "glb" | "obj" | "ply" | "usdc" | "usda";
  inside: boolean;
  label: string;
  textures: boolean;
  ups: string[];
  values: boolean;
}
/**
 * A looking mode: its label, what it shows, and what it is ``about`` where it needs something chosen.
 */
export interface ModeKind {
  about: "" | "layer" | "wear" | "strew";
  hint: string;
  label: string;
  mode:
    | "lit"
    | "colour"
    | "roughness"
    | "gloss"
    | "metallic"
    | "normal"
    | "height"
    | "occlusion"
    | "emission"
    | "presence"
    | "coverage"
    | "stretch"
    | "density"
    | "grid"
    | "overlay"
    | "wear"
    | "strewn"
    | "crowd";
}
/**
 * How many a list holds at most: clauses of a rule, places that limit a step, layers, wear and
 * masks on a thing, things set by hand, things that a strew mixes, brushes of a strew, points of a curve over the
 * soft ends and of one over heights.
 */
export interface Most {
  clauses: number;
  heightPoints: number;
  kinds: number;
  marksOnThing: number;
  onThing: number;
  setThings: number;
  softPoints: number;
  touches: number;
  wearOnThing: number;
  where: number;
}
/**
 * What can be taken beside a still.
 */
export interface PassKind {
  about: string;
  name: "radiance" | "depth" | "mist" | "normal" | "layers" | "shares" | "sun" | "sky";
}
/**
 * What a map of a set is for; whether it is a picture in colours.
 */
export interface RoleKind {
  coloured: boolean;
  role: "colour" | "normal" | "roughness" | "metallic" | "occlusion" | "height" | "emission" | "mask";
  title: string;
}
/**
 * A kind of step: what it does, which numbers it has, what its switch "opposite" does, whether chance plays.
 */
export interface StepKind {
  about: string;
  kind: string;
  numbers: NumberField[];
  opposite: string;
  seeded: boolean;
  title: string;
}
/**
 * What rules of a thing's cover may ask of a place on it, and how a clause of it begins.
 */
export interface ThingMeasureLine {
  about: string;
  above: string;
  begins: OnThing;
  below: string;
  digits: number;
  least: number;
  most: number;
  name: "up" | "foot" | "ground" | "edge" | "sky" | "red" | "green" | "blue";
  step: number;
  title: string;
  unit: string;
}
/**
 * A kind of thing that is drawn: its family, its controls, and how a thing and a strew of it begin.
 */
export interface ThingKind {
  controls: Control[];
  family: "stone" | "wood" | "plant";
  strew: Strew;
  thing: Thing;
  title: string;
  what: string;
}
/**
 * One number: what it is called, its unit and range, what it usually is, and what it does.
 */
export interface Control {
  about: string;
  label: string;
  least: number;
  most: number;
  name: string;
  step: number;
  unit: string;
  usual: number;
}
/**
 * A way to change colours, and what it does.
 */
export interface TintingKind {
  hint: string;
  mode: "tint" | "multiply" | "screen" | "overlay" | "replace";
}
/**
 * A type of samples, and what it is called.
 */
export interface TypeKind {
  label: string;
  type: "uint8" | "uint16" | "float16" | "float32";
}
/**
 * A value that can be handed off: its title, a word about it, its unit, what says how it is stored, and how many
 * channels it takes.
 */
export interface ValueKind {
  about: string;
  channels: number;
  family: "colour" | "normal" | "share" | "metres" | "weights" | "measure";
  title: string;
  unit: string;
  value:
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
    | MeasureClause["measure"];
}
/**
 * A kind of entry that is no maps: what it is called, what it writes, how it begins.
 */
export interface WholeKind {
  about: string;
  entry: MapsEntry | KitEntry | MeshEntry | GroundEntry | StillsEntry | SiteEntry | ThingsEntry;
  title: string;
}
/**
 * One channel of an image: its values between ``lowest`` and ``highest`` of 0..1, the mean of its
 * values held to 0..1 (the share of the ground it selects when it covers it), how many values there are.
 */
export interface ChannelFacts {
  channel: "R" | "G" | "B" | "A" | "brightness";
  highest: number;
  levels: number;
  lowest: number;
  share: number;
}
/**
 * How much of a ground lies at each pair of values of two measures: counts (up, across) between edges.
 */
export interface Chart {
  acrossEdges: number[];
  counts: number[][];
  upEdges: number[];
}
/**
 * A measure's histogram over a ground, None for other clauses, and the share that a clause lets in.
 */
export interface ClauseFacts {
  counts: number[] | null;
  edges: number[] | null;
  share: number;
}
/**
 * A drop that is not there any more.
 */
export interface Cleared {
  cleared: string;
}
/**
 * How the numbers of a channel are spread: its name, unit, lowest and highest, counts in between, and how many
 * different codes there are where whole numbers say it; 0 of floats, and of colours, which 8 bits were made for.
 */
export interface CodeSpread {
  counts: number[];
  high: number;
  levels: number;
  low: number;
  name: string;
  unit: string;
}
/**
 * How many files a drop holds.
 */
export interface Counted {
  files: number;
}
/**
 * How a cover lies over its ground.
 *
 * ``shares`` of the whole ground per layer of the recipe, 0..1, and for those without any the
 * reason; ``densities`` of each layer's set as fitted, pixels per metre; ``enough`` pixels along a side of a set
 * that would do where Near shows it nearest; ``emits`` says which layers' sets send out light.
 */
export interface CoverFacts {
  densities: number[];
  emits: boolean[];
  enough: number[];
  reasons: (string | null)[];
  shares: number[];
}
/**
 * A cut along a line: distance and elevation, metres.
 */
export interface Cut {
  distanceM: number[];
  elevationM: number[];
}
/**
 * A stroke as it is drawn in a picture: spots from left and top, 0..1, with the pen's pressure.
 *
 * What the picture looked from goes with it: by the time it is kept the picture may look elsewhere.
 */
export interface DrawnStroke {
  flow?: number;
  height_px: number;
  looked_from: Stand;
  mask: string;
  peg: Peg;
  size_m: number;
  soft?: number;
  /**
   * @minItems 1
   * @maxItems 1200
   */
  spots: [number, number, number][];
  stand: "far" | "mid" | "near";
  strength?: number;
  tool?: "add" | "take" | "smooth";
  width_px: number;
}
/**
 * What an entry of a sheet comes to: the name of its first file, how many there are, bytes; the size of its maps
 * in pixels, 0 where it has none.
 */
export interface EntryLine {
  blockBytes: number;
  channels: number;
  diskBytes: number;
  files: number;
  heightPx: number;
  id: string;
  mPerTexel: number;
  maps: string[];
  memoryBytes: number;
  name: string;
  names: string[];
  widthPx: number;
}
/**
 * What all strews of a site come to, those that are hidden among them; ``things`` and ``kinds`` that stand on it,
 * with those set by hand.
 */
export interface FieldFacts {
  bytes: number;
  kinds: number;
  strews: StrewFacts[];
  things: number;
}
/**
 * What a strew comes to.
 *
 * ``count`` of things on the site, ``counted`` one by one or ``False`` for the integral of their density; ``wanted``
 * without its ceiling; ``fits`` how many its spacing lets on 100 m² at most, None without spacing; ``triangles`` of
 * all at their finest; ``bytes`` of its models; how many a hand ``moved``, took away (``gone``) and ``added``.
 */
export interface StrewFacts {
  added: number;
  bytes: number;
  count: number;
  counted: boolean;
  fits: number | null;
  gone: number;
  id: string;
  moved: number;
  triangles: number;
  wanted: number;
}
/**
 * One thing that is odd.
 *
 * ``id`` stays while the same thing is odd; ``about`` the id of the part that it is about, empty for the site;
 * ``text`` what was found, with ``amount`` in ``unit``; ``mend`` what one step does about it, None where nothing
 * can; ``waved`` the word with which it was waved through.
 */
export interface Finding {
  about: string;
  amount: number;
  eastM: number | null;
  id: string;
  kind: string;
  mend: string | null;
  name: string;
  northM: number | null;
  text: string;
  title: string;
  unit: string;
  waved: string | null;
  why: string;
}
/**
 * What is odd about a site, those waved through last.
 */
export interface Findings {
  findings: Finding[];
}
/**
 * At a place: stretch (1 is true to size), texel density (px/m), and relief (m).
 */
export interface FitAt {
  density: number;
  reliefM: number;
  stretch: number;
}
/**
 * A rule that was found.
 *
 * ``rule`` and its ``sentence``; on places held back the share that it gets right, 0..1, intersection over union,
 * and ``told``, how much of what could be told apart it tells (0 chance, 1 all); ``explained`` whether that is more
 * than chance; ``share`` the mask's share of the ground; ``gains`` of its clauses one after the other; ``more``
 * clauses with what each would gain.
 */
export interface FoundRule {
  explained: boolean;
  gains: number[];
  more: More[];
  overlap: number;
  right: number;
  rule: Rule;
  sentence: string;
  share: number;
  told: number;
}
/**
 * A clause that could be added, in words with its join, and what intersection over union it gains.
 */
export interface More {
  gain: number;
  join: string;
  words: string;
}
/**
 * Several pictures at once; ``making_ready`` makes what they need, and answers without them.
 */
export interface FrameAsked {
  brushed?: Brushed | null;
  codec?: "plain" | "jpeg" | "png";
  drawn?: DrawnStroke | null;
  making_ready?: boolean;
  measure?: MeasureClause["measure"] | "image" | null;
  preview?: boolean;
  radius_m?: number | null;
  recipe: Recipe;
  resting?: boolean;
  /**
   * @minItems 1
   * @maxItems 3
   */
  views: ViewAsked[];
}
/**
 * What is wanted of one picture.
 */
export interface ViewAsked {
  height_px: number;
  layer?: number;
  mode?:
    | "lit"
    | "colour"
    | "roughness"
    | "gloss"
    | "metallic"
    | "normal"
    | "height"
    | "occlusion"
    | "emission"
    | "presence"
    | "coverage"
    | "stretch"
    | "density"
    | "grid"
    | "overlay"
    | "wear"
    | "strewn"
    | "crowd";
  solo?: number;
  stand: "far" | "mid" | "near";
  wear?: number;
  width_px: number;
}
/**
 * What stands before the pictures of a frame.
 */
export interface FrameHead {
  codec: "plain" | "jpeg" | "png";
  pictures: FramePart[];
  serverMs: number;
}
/**
 * One picture of a frame: which, its size, how many bytes it takes, and what is told of it.
 */
export interface FramePart {
  bytes: number;
  distanceM: number;
  heightPx: number;
  mmPerPixel: number;
  peg: [number, number] | null;
  stand: "far" | "mid" | "near";
  things: number;
  widthPx: number;
}
/**
 * A kind of sample set: what it is called and filed under, how large a tile is, its numbers.
 */
export interface GeneratorKind {
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
  controls: Control[];
  kind: string;
  tileM: number;
  title: string;
}
/**
 * All kinds of sample sets, and the sizes in pixels that they are made in.
 */
export interface Generators {
  generators: GeneratorKind[];
  sizes: number[];
}
/**
 * A shaped ground in numbers.
 *
 * ``share_lowest`` and ``share_highest`` of its samples that lie at either limit, 0..1: a plateau
 * or a clipped summit shows there. ``left`` says whether shaping left anything behind; ``mask_sample_m`` how fine a
 * painted mask of it is; ``visibility_km`` how clear the air over it is unless it is told, ``water_m`` where water
 * begins that is let in; ``begin`` what can be begun on it.
 */
export interface GroundFacts {
  begin: Beginnings;
  cellXM: number;
  cellYM: number;
  cols: number;
  highestM: number;
  left: boolean;
  lowestM: number;
  maskSampleM: number;
  meanDeg: number;
  rows: number;
  shareHighest: number;
  shareLowest: number;
  steepestDeg: number;
  visibilityKm: number;
  waterM: number;
}
/**
 * One file of a drop, and what it is taken for: how ``sure`` that is, 0..1, and why.
 */
export interface GuessedFile {
  bits: number;
  channels: number;
  heightPx: number;
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
  name: string;
  path: string;
  reason: string;
  sure: number;
  warnings: string[];
  widthPx: number;
}
/**
 * A set as it was guessed; ``relief_share`` of what one repeat covers is read off its normals, None without.
 */
export interface GuessedSet {
  decision: Decision;
  files: GuessedFile[];
  reliefShare: number | null;
  tileReason: string;
  warnings: string[];
}
/**
 * What was written: the folder's name, where it lies, of which sheet, when, the files in it, and whether the site
 * or the sheet has changed since.
 */
export interface HandedOff {
  at: string;
  bytes: number;
  files: WrittenFile[];
  folder: string;
  path: string;
  sheet: string;
  sheetName: string;
  since: "as it is" | "sheet changed" | "site changed";
}
/**
 * A file that was handed off, and what its manifest says of it; its size in pixels is 0 where it is no map.
 */
export interface WrittenFile {
  bytes: number;
  entry: string;
  heightPx: number;
  name: string;
  told: string[];
  widthPx: number;
}
/**
 * What was handed off of a site, the latest first.
 */
export interface HandedOffs {
  landed: HandedOff[];
}
/**
 * A height file in numbers, to judge it by; see :class:`elvatch.core.ground.heights.HeightFile`.
 *
 * ``steepest_deg`` and ``mean_deg`` are those that a true size and range would give, None without these.
 */
export interface HeightFacts {
  bits: number;
  cellM: [number, number] | null;
  channels: string[];
  cols: number;
  file: string;
  fileName: string;
  format: string;
  guesses: LayoutGuess[];
  highest: number;
  holes: number;
  kind: string;
  levels: number;
  lowest: number;
  meanDeg: number | null;
  pages: number;
  rows: number;
  shareHighest: number;
  shareLowest: number;
  steepestDeg: number | null;
  step: number;
}
/**
 * How a file without a header may be laid out, and how sure that is, 0..1.
 */
export interface LayoutGuess {
  confidence: number;
  raw: RawLayout;
}
/**
 * How much of a ground has each value of a measure: counts between ``low`` and ``high``.
 */
export interface Histogram {
  counts: number[];
  high: number;
  low: number;
  mean: number;
  scale: "even" | "about zero" | "logarithmic" | "compass";
  shownHigh: number;
  shownLow: number;
}
/**
 * How far a job is, 0..1; ``seconds_left`` None while that cannot be told, ``result`` empty until it is done.
 *
 * While it runs, ``message`` is what is at work, and ``steps_done`` of ``steps`` pieces are done, of work that has
 * pieces.
 */
export interface JobState {
  id: string;
  message: string;
  result: {
    [k: string]: unknown;
  };
  secondsLeft: number | null;
  shareDone: number;
  state: "running" | "done" | "cancelled" | "failed";
  steps: number;
  stepsDone: number;
  title: string;
}
/**
 * A ground that is kept: its size, how many steps shape it, what it was read from, '' where nothing.
 */
export interface KeptGround {
  depthM: number;
  fileName: string;
  id: string;
  name: string;
  steps: number;
  widthM: number;
}
/**
 * All grounds that are kept, by name.
 */
export interface KeptGrounds {
  grounds: KeptGround[];
}
/**
 * A light kept under a name, for any site; of water only how it looks, since levels are a site's own.
 */
export interface KeptLight {
  light: Light;
  name: string;
  water: Water;
}
/**
 * A kept light with its id.
 */
export interface KeptLightLine {
  id: string;
  kept: KeptLight;
}
/**
 * Sets that were brought in.
 */
export interface KeptSets {
  sets: string[];
}
/**
 * Sheets that any site can take: those that come ready, and those that were kept.
 */
export interface KeptSheets {
  kept: Sheet[];
  ready: Sheet[];
}
/**
 * Wear that is kept for any site.
 */
export interface KeptWear {
  effects: Effects;
  id: string;
  name: string;
}
/**
 * What an overlay's numbers look like.
 *
 * ``dark_on_light`` whether its marks are dark, ``sure`` how sure that is, 0..1; ``counts`` in 64 even bins from 0
 * to 1; ``levels`` how many different values it has; ``note`` what was done to get one channel of it.
 */
export interface Known {
  counts: number[];
  darkOnLight: boolean;
  highest: number;
  levels: number;
  lowest: number;
  note: string;
  sure: number;
}
/**
 * A recipe with splat maps laid as its layers' rules.
 */
export interface LaidWeights {
  recipe: Recipe;
}
/**
 * How a mode's values are shown: ``low`` and ``high`` are the ends of its ramp, in ``unit``.
 */
export interface Legend {
  high: number;
  low: number;
  scale: "even" | "about zero" | "logarithmic" | "compass";
  title: string;
  unit: string;
}
/**
 * Where lines on the ground lie in a picture: their points, and the smooth curves through them.
 */
export interface Lines {
  curves: ([number, number] | null)[][];
  lines: ([number, number] | null)[][];
}
/**
 * A part of a file at so many of its texels a pixel: a picture, and its numbers in their units.
 *
 * ``picture`` is a PNG and ``values`` are 32-bit floats, little-endian, row by row from the north, channel by
 * channel, both in base 64.
 */
export interface LookedInto {
  channels: string[];
  columns: number;
  heightPx: number;
  left: number;
  name: string;
  picture: string;
  rows: number;
  spread: CodeSpread[];
  step: number;
  top: number;
  units: string[];
  values: string;
  widthPx: number;
}
/**
 * An image brought in as masks: its stored name, its size, and what each of its channels holds.
 */
export interface MaskImageFacts {
  bits: number;
  channels: ChannelFacts[];
  file: string;
  fileName: string;
  format: string;
  heightPx: number;
  notes: string[];
  widthPx: number;
}
/**
 * A layer's look taken towards a photograph, and how far apart both were before and are after (CIEDE2000).
 */
export interface MatchedLook {
  after: number;
  before: number;
  look: Look;
}
/**
 * All measures.
 */
export interface MeasureKinds {
  measures: MeasureKind[];
}
/**
 * A set that was mended: what was done, and its worst seam before and after.
 */
export interface MendedSet {
  label: string | null;
  seamAfter: number;
  seamBefore: number;
  set: string;
}
/**
 * A recipe after a finding was mended, and what was done, in words.
 */
export interface MendedSite {
  label: string;
  recipe: Recipe;
}
/**
 * A level of detail: its triangles and vertices, and the distance that no place exceeds, metres.
 */
export interface MeshLevel {
  toldM: number;
  triangles: number;
  vertices: number;
}
/**
 * A mesh looked at before it is written: a PNG in base 64, and the level that is seen.
 */
export interface MeshLook {
  level: MeshLevel;
  picture: string;
}
/**
 * A set that was made.
 */
export interface NewSet {
  set: string;
}
/**
 * What a pack holds: the site's title and size, how many of its sets are in the stock already, the same in lines
 * for people.
 */
export interface PackFacts {
  bytes: number;
  depthM: number;
  files: number;
  knownSets: number;
  layers: number;
  madeBy: string;
  pack: string;
  sets: string[];
  steps: number;
  title: string;
  told: string[];
  wears: number;
  widthM: number;
}
/**
 * A pack of the supplier.
 */
export interface PackLine {
  about: string;
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
  id: string;
  maker: string;
  roles: ("colour" | "normal" | "roughness" | "metallic" | "occlusion" | "height" | "emission" | "mask")[];
  tileM: number;
  title: string;
}
/**
 * Packs of the supplier that fit, and the sizes in pixels they come in.
 */
export interface PackList {
  packs: PackLine[];
  sizes: number[];
}
/**
 * A panorama that was brought in: its stored name, its size, what was mended, whether it has a sun.
 */
export interface PanoramaFacts {
  file: string;
  fileName: string;
  hasSun: boolean;
  heightPx: number;
  notes: string[];
  widthPx: number;
}
/**
 * A thing under a spot of a picture: of which strew, which one, what it is, where and how large; ``strew`` None
 * where there is none, or where a hand set it: then ``set`` is its id.
 */
export interface Picked {
  eastM: number;
  northM: number;
  number: number;
  set: string | null;
  sizeM: number;
  strew: string | null;
  thing: string;
}
/**
 * One picture, and what it shows beside its recipe.
 */
export interface PictureAsked {
  brushed?: Brushed | null;
  drawn?: DrawnStroke | null;
  height_px: number;
  layer?: number;
  measure?: MeasureClause["measure"] | "image" | null;
  mode?:
    | "lit"
    | "colour"
    | "roughness"
    | "gloss"
    | "metallic"
    | "normal"
    | "height"
    | "occlusion"
    | "emission"
    | "presence"
    | "coverage"
    | "stretch"
    | "density"
    | "grid"
    | "overlay"
    | "wear"
    | "strewn"
    | "crowd";
  preview?: boolean;
  radius_m?: number | null;
  recipe: Recipe;
  resting?: boolean;
  solo?: number;
  stand: "far" | "mid" | "near";
  wear?: number;
  width_px: number;
}
/**
 * The place under a spot of a picture, None where the sky is; the rule that a set begins with that is dropped
 * there; a circle about it as it lies there, and how what lies there is fitted, where these were asked for.
 */
export interface Pointed {
  fit: FitAt | null;
  ring: ([number, number] | null)[] | null;
  rule: Rule;
  spot: Spot | null;
}
/**
 * A place, and what the ground is there: its measures by name, in their units.
 */
export interface Spot {
  eastM: number;
  elevationM: number;
  measures: {
    [k: string]: number;
  };
  northM: number;
  slopeDeg: number;
}
/**
 * All that is told of one place: the ground, each layer's share and why, how what lies there is fitted, wear.
 */
export interface Probe {
  account: Account[];
  fit: FitAt;
  shares: number[];
  spot: Spot;
  wear: WearAt[];
}
/**
 * A wear at a place: how far it is let in, and what its overlay says there, 0..1.
 */
export interface WearAt {
  letIn: number;
  name: string;
  overlay: number;
}
/**
 * What a drop holds: sets as guessed, and a sentence for each file that could not be taken.
 */
export interface ProposedSets {
  drop: string;
  refused: string[];
  sets: GuessedSet[];
}
/**
 * What a start still has to do, what stopped it, and how often something became another since.
 */
export interface ReadinessState {
  changes: number;
  stages: StageState[];
  trouble: string;
}
/**
 * How far one stage of a start is.
 */
export interface StageState {
  said: string;
  shareDone: number;
  state: "waiting" | "running" | "done" | "failed";
  title: string;
}
/**
 * A patch of a photograph beside the ground at the peg: their colours as sRGB, L*, a*, b*, and how far apart they
 * are (CIEDE2000); shares of 40 steps of lightness of the patch and of the ground seen in Near.
 */
export interface ReferenceFacts {
  apart: number;
  ground: string;
  groundBase: string;
  groundLab: number[];
  groundLightness: number[];
  patch: string;
  patchLab: number[];
  patchLightness: number[];
}
/**
 * The relief of ``about_m`` of ground about the peg: lowest and highest (m, along the ground's normal), the
 * share above a limit, how far above the plain ground one stands on it (m), and the share of the whole ground
 * that is too steep for a height field to hold its relief.
 */
export interface ReliefFacts {
  aboutM: number;
  highestM: number;
  lowestM: number;
  shareAbove: number;
  shareHeldBack: number;
  standM: number;
}
/**
 * What is not there any more.
 */
export interface Removed {
  removed: string;
}
/**
 * 0 (none) to 1, from afar and from nearer by, before and after what the fit does against it.
 */
export interface Repetition {
  farAfter: number;
  farBefore: number;
  nearAfter: number;
  nearBefore: number;
}
/**
 * Things of a strew as single ones, and the numbers of those that they were.
 */
export interface SetFast {
  added: Added[];
  leftOut: number;
  numbers: number[];
}
/**
 * A set as the wall shows it.
 */
export interface SetLine {
  category: string;
  collections: string[];
  content: string;
  findings: number;
  name: string;
  reliefM: number;
  repetition: number;
  revision: number;
  roles: string[];
  seam: number;
  sizePx: number;
  tags: string[];
  tileM: number;
  title: string;
  tone: string;
}
/**
 * A set laid out: what it is called, made of and worth, what undo and redo would do, where it is used.
 */
export interface SetSheet {
  addedAt: string;
  changedAt: string;
  content: string;
  description: SetDescription;
  facts: SetFacts;
  name: string;
  redo: string | null;
  revision: number;
  setAside: boolean;
  undo: string | null;
  usedIn: SetUse[];
}
/**
 * A site that uses a texture set, and the names of its layers that do.
 */
export interface SetUse {
  layers: string[];
  site: string;
  title: string;
}
/**
 * What a sheet comes to: its entries, its tiles on the site, and how fine it is against what the sets hold.
 */
export interface SheetLines {
  blockBytes: number;
  diskBytes: number;
  entries: EntryLine[];
  mPerTexel: number;
  memoryBytes: number;
  setsPxPerM: [number, number] | null;
  tiles: TileBox[];
}
/**
 * A tile on the site, 0..1 from the west and from the north.
 */
export interface TileBox {
  bottom: number;
  left: number;
  right: number;
  top: number;
}
/**
 * A site as the front door lists it.
 */
export interface SiteLine {
  changedAt: string;
  depthM: number;
  id: string;
  layers: number;
  revision: number;
  steps: number;
  title: string;
  widthM: number;
}
/**
 * All sites, the one changed last first.
 */
export interface SiteLines {
  sites: SiteLine[];
}
/**
 * A site at the revision in force; labels say what undo and redo would do, None when nothing.
 */
export interface SiteState {
  changedAt: string;
  id: string;
  recipe: Recipe;
  redo: string | null;
  revision: number;
  title: string;
  undo: string | null;
}
/**
 * A named revision: how the site was at a moment.
 */
export interface Snapshot {
  id: string;
  madeAt: string;
  name: string;
}
/**
 * A step that what comes before it is shaped of.
 */
export interface StepReady {
  step: string;
}
/**
 * A file that was written.
 */
export interface StillFile {
  bytes: number;
  name: string;
}
/**
 * What was taken: the folder's name, where it lies, and the files in it.
 */
export interface StillsTaken {
  files: StillFile[];
  folder: string;
  path: string;
}
/**
 * A recipe with a suite laid on it, what was done in words, ids of the new layers, what could not come along.
 */
export interface SuiteLaid {
  label: string;
  layers: string[];
  notes: string[];
  recipe: Recipe;
}
/**
 * A suite that is kept: its layers' names from the top down, how many wears, the site it comes from, and how
 * many limits of its rules can follow the ground.
 */
export interface SuiteLine {
  id: string;
  layers: string[];
  measured: number;
  name: string;
  ofSite: string;
  wears: number;
}
/**
 * Where the sun stands, degrees.
 */
export interface SunPlace {
  bearingDeg: number;
  heightDeg: number;
}
/**
 * A site's marks with what a rule leaves of its mask painted, the rule that reads them, the share of places that
 * it gets right without them, and the shares of the ground that were painted: missed and too much.
 */
export interface TakenRule {
  marks: Marks;
  missed: number;
  right: number;
  rule: Rule;
  tooMuch: number;
}
/**
 * A thing that is kept, how a strew of it begins, and how large its usual ones are, metres.
 */
export interface ThingLine {
  begins: Strew;
  id: string;
  thing: Thing;
  triangles: number[];
}
/**
 * A small picture of an entry, a PNG in base 64.
 */
export interface Thumb {
  entry: string;
  picture: string;
}
/**
 * A small picture of each entry of a sheet.
 */
export interface Thumbs {
  thumbs: Thumb[];
}
/**
 * What a wear does; ``limited`` says what limits its depth, None where nothing does.
 */
export interface Told {
  lightness: [number, number] | null;
  limited: string | null;
  metallic: [number, number] | null;
  reliefMm: number | null;
  roughness: [number, number] | null;
  sentence: string;
  share: number;
  worn: number | null;
}
/**
 * A cut along a line through the peg: distance and elevation (m) and the foremost layer (-1 none).
 */
export interface Transect {
  distanceM: number[];
  elevationM: number[];
  layer: number[];
  pegAtM: number;
}
/**
 * Sets that fit a wish, how many of all are in each category, tone and collection, and how fine the asking site's
 * near stand looks, metres a pixel.
 */
export interface WallOfSets {
  categories: {
    [k: string]: number;
  };
  collections: {
    [k: string]: number;
  };
  finestPixelM: number | null;
  sets: SetLine[];
  tones: {
    [k: string]: number;
  };
  total: number;
}
/**
 * A kind of wear that is drawn: what it is called, how large a tile is, what it usually follows, its numbers.
 */
export interface WearKind {
  about: string;
  controls: Control[];
  follows: string;
  tileM: number;
  title: string;
  what: string;
}
