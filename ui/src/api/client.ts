/** The only place that talks to the server. */

import { changesOf } from "./changes";
import type { Ground, MaskImage, Reading, Recipe, Thing } from "../generated/recipe";
import type {
  AtPlace,
  BegunLayer,
  BootCut,
  FrameHead,
  FramePart,
  BroughtImage,
  Chart,
  ClauseFacts,
  CoverFacts,
  Cut,
  GroundFacts,
  HeightFacts,
  Histogram,
  LaidWeights,
  Legend,
  Lines,
  MaskImageFacts,
  Pointed,
  Probe,
  ReadinessState,
  ReliefFacts,
  Removed,
  Repetition,
  SiteLine,
  SiteLines,
  SiteState,
  StepReady,
  Transect,
} from "../generated/answers";
import type { DrawnStroke, FrameAsked, Job, Mode, PictureAsked } from "./types";

export interface TrueSize {
  width_m: number;
  depth_m: number;
  lowest_m: number;
  highest_m: number;
}

export interface NewSite {
  title: string;
  ground: Ground;
  /** No layers: else it begins as a place, of what the stock has. */
  empty?: boolean;
}

/** Tells one window from another, so that only its own older requests are cancelled. */
const WINDOW = crypto.getRandomValues(new Uint32Array(2)).join("-");

export class ServerError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly state: SiteState | null,
  ) {
    super(message);
  }
}

/** Resolves after a while; rejects as an aborted request does when that is given up. */
function later(ms: number, signal?: AbortSignal | null): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = window.setTimeout(resolve, ms);
    signal?.addEventListener("abort", () => {
      window.clearTimeout(timer);
      reject(new DOMException("given up", "AbortError"));
    });
  });
}

export async function send(path: string, init: RequestInit): Promise<Response> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      ...init,
      headers: { "X-Window": WINDOW, ...(init.headers as Record<string, string> | undefined) },
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new ServerError("The server does not answer. It may have been stopped; start it again.", 0, null);
  }
  if (answer.ok) return answer;
  const wait = Number(answer.headers.get("Retry-After"));
  if (answer.status === 503 && wait > 0) {
    // a first start is still getting ready, and says how far it is beside this
    await later(wait * 1000, init.signal);
    return send(path, init);
  }
  let message = `The server answered ${answer.status}.`;
  let state: SiteState | null = null;
  try {
    const body = (await answer.json()) as { message?: string; state?: SiteState };
    message = body.message ?? message;
    state = body.state ?? null;
  } catch {
    // the answer was no JSON: the status has to do
  }
  throw new ServerError(message, answer.status, state);
}

export async function json<T>(path: string, init: RequestInit = {}): Promise<T> {
  return (await (await send(path, init)).json()) as T;
}

export function posting(body: unknown, signal?: AbortSignal): RequestInit {
  return withBody("POST", body, signal);
}

export function withBody(method: string, body: unknown, signal?: AbortSignal): RequestInit {
  return {
    method,
    body: JSON.stringify(body),
    headers: { "Content-Type": "application/json" },
    ...(signal ? { signal } : {}),
  };
}

/** The recipe of the open site as the server has it: what differs from it is all that a question need say. */
let base: SiteState | null = null;

export function standOn(state: SiteState): void {
  base = state;
}

/** Longer than this, a recipe told by what differs is no shorter than the whole. */
const MOST_CHANGES = 60;

/** A recipe told by what differs from the one that the server has; as a whole where that is not short. */
function told(recipe: Recipe): unknown {
  if (!base) return recipe;
  const changes = changesOf(base.recipe, recipe);
  if (changes.length > MOST_CHANGES || changes.some((one) => one.at.length === 0)) return recipe;
  return { base: { site: base.id, revision: base.revision, changes } };
}

type Asking = { recipe: Recipe } & object;

/** A question about a recipe. */
async function asked(path: string, body: Asking, signal?: AbortSignal): Promise<Response> {
  try {
    return await send(path, posting({ ...body, recipe: told(body.recipe) }, signal));
  } catch (error) {
    // another revision is in force there than the one that we know
    if (error instanceof ServerError && error.status === 428) return send(path, posting(body, signal));
    throw error;
  }
}

/** A question about a recipe that is answered with JSON. */
export const ask = async <T>(
  path: string,
  body: { recipe: Recipe } & Record<string, unknown>,
  signal?: AbortSignal,
): Promise<T> => (await (await asked(path, body, signal)).json()) as T;

/** A question about a recipe that is answered with a picture. */
export const askPicture = async (
  path: string,
  body: { recipe: Recipe } & Record<string, unknown>,
  signal?: AbortSignal,
): Promise<Blob> => (await asked(path, body, signal)).blob();

export type FramePicture = Omit<FramePart, "bytes"> & { pixels: ImageData | ImageBitmap };

export interface Frame {
  serverMs: number;
  pictures: FramePicture[];
}

/** On this machine pixels come as they are; from afar small while they move, exact at rest. */
const here = () => ["localhost", "127.0.0.1", "[::1]"].includes(window.location.hostname);

/** Several pictures in one answer. */
export async function frame(request: FrameAsked, signal: AbortSignal): Promise<Frame> {
  const codec = here() ? "plain" : request.resting ? "png" : "jpeg";
  const question: FrameAsked = { ...request, codec };
  const answer = await asked("/api/frame", question, signal);
  const data = await answer.arrayBuffer();
  const length = new DataView(data).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length))) as FrameHead;
  let at = 4 + length;
  const pictures = head.pictures.map(({ bytes, ...of }) => {
    const part = new Uint8ClampedArray(data, at, bytes);
    at += bytes;
    return decoded(part, of, head.codec);
  });
  return { serverMs: head.serverMs, pictures: await Promise.all(pictures) };
}

async function decoded(
  part: Uint8ClampedArray<ArrayBuffer>,
  of: Omit<FramePicture, "pixels">,
  codec: FrameHead["codec"],
): Promise<FramePicture> {
  if (codec === "plain") return { ...of, pixels: new ImageData(part, of.widthPx, of.heightPx) };
  return { ...of, pixels: await createImageBitmap(new Blob([part], { type: `image/${codec}` })) };
}

export const sites = async () => (await json<SiteLines>("/api/sites")).sites;
export const site = (id: string) => json<SiteState>(`/api/sites/${id}`);
export const newSite = (wanted: NewSite) => json<SiteState>("/api/sites", posting(wanted));
/** Begins a site of one thing on a stand. */
export const siteOfThing = (thing: Thing) => json<SiteState>("/api/sites/of-thing", posting({ thing }));
/** Lays out a site to learn from; what it makes is the site. */
export const sampleSite = () => json<Job<SiteState>>("/api/sites/sample", posting({}));
/** Gives a layer, wear, mask, path or image another name, wherever it is spoken of. */
export const namePart = (id: string, base: number, part: string, name: string) =>
  json<SiteState>(`/api/sites/${id}/name`, withBody("PUT", { base, id: part, name }));

/** What a first start still has to do. */
export const readiness = () => json<ReadinessState>("/api/readiness");

export const renameSite = (id: string, title: string) =>
  json<SiteState>(`/api/sites/${id}/title`, withBody("PUT", { title }));
export const duplicateSite = (id: string) => json<SiteState>(`/api/sites/${id}/duplicate`, { method: "POST" });
export const removeSite = (id: string) => json<Removed>(`/api/sites/${id}`, { method: "DELETE" });

export interface GroundAsk {
  ground: Ground;
  preview: boolean;
  measure: string | null;
  radius_m: number | null;
}

export interface MapAnswer {
  url: string;
  low: number | null;
  high: number | null;
}

/** The relief map, a measure's where one is named; the caller lets the address go. */
export async function groundMap(
  of: { recipe: Recipe; moving: boolean } & Omit<GroundAsk, "ground">,
  size: { width: number; height: number },
  contour: number,
): Promise<MapAnswer> {
  const { width: width_px, height: height_px } = size;
  const question = { ...of, width_px, height_px, contour_m: contour };
  const answer = await asked("/api/ground/map", question);
  const ends = answer.headers.get("X-Shown")?.split(",").map(Number);
  return { url: URL.createObjectURL(await answer.blob()), low: ends?.[0] ?? null, high: ends?.[1] ?? null };
}

export function bringImage(file: File): Promise<BroughtImage> {
  const form = new FormData();
  form.append("file", file, file.name);
  return json("/api/ground/image", { method: "POST", body: form });
}

export const groundFacts = (ground: Ground, preview: boolean) =>
  json<GroundFacts>("/api/ground/facts", posting({ ground, preview }));
/** Has all that comes before a step shaped, so that an edit of it repeats nothing of that. */
export const readyStep = (recipe: Recipe, step: string) =>
  json<StepReady>("/api/ground/ready", posting({ recipe, step }));
export const shapeGround = (ground: Ground) => json<Job>("/api/ground/shape", posting({ ground }));
export const groundHistogram = (ask: GroundAsk) => json<Histogram>("/api/ground/histogram", posting(ask));
export const groundCut = (ground: Ground, preview: boolean, start: [number, number], end: [number, number]) =>
  json<Cut>("/api/ground/cut", posting({ ground, preview, start, end }));
export const groundAt = (ask: GroundAsk, east: number, north: number) =>
  json<AtPlace>("/api/ground/at", posting({ ...ask, east_m: east, north_m: north }));

interface FileLook {
  file: string;
  file_name: string;
  reading: Reading;
}

export const lookAtHeights = (look: FileLook, size: TrueSize | null) =>
  json<HeightFacts>("/api/heights/look", posting({ ...look, ...size }));
export async function heightsRelief(look: FileLook): Promise<string> {
  return URL.createObjectURL(await (await send("/api/heights/relief", posting(look))).blob());
}

export function bringHeights(file: File): Promise<HeightFacts> {
  const form = new FormData();
  form.append("file", file, file.name);
  return json<HeightFacts>("/api/heights", { method: "POST", body: form });
}

export const edit = (id: string, base: number, label: string, recipe: Recipe) =>
  json<SiteState>(`/api/sites/${id}/recipe`, withBody("PUT", { base, label, recipe }));
export const step = (id: string, base: number, way: "undo" | "redo") =>
  json<SiteState>(`/api/sites/${id}/${way}`, posting({ base }));

export const farUrl = (line: SiteLine, changes: number) =>
  `/api/sites/${line.id}/far.png?revision=${line.revision}&changes=${changes}`;

export const coverFacts = (recipe: Recipe) => ask<CoverFacts>("/api/cover-facts", { recipe });
export const transect = (recipe: Recipe, bearingDeg: number, signal: AbortSignal) =>
  ask<Transect>("/api/transect", { recipe, bearing_deg: bearingDeg }, signal);
/** The place under a spot of a picture, and the rule that a set begins with there. */
export const pointed = (request: PictureAsked, across: number, down: number) =>
  ask<Pointed>("/api/spot", { ...request, across, down, measures: [] });
export const spot = async (request: PictureAsked, across: number, down: number, measures: readonly string[] = []) =>
  (await ask<Pointed>("/api/spot", { ...request, across, down, measures })).spot;
/** The place under a spot of a picture, and a circle about it as it lies there. */
export const ring = (
  request: PictureAsked,
  across: number,
  down: number,
  ringM: number | null,
  measures: readonly string[],
  fit: boolean,
  onMask: string | null,
) => ask<Pointed>("/api/spot", { ...request, across, down, ring_m: ringM, measures, fit, on_mask: onMask });
export const repetition = (recipe: Recipe, layer: number) => ask<Repetition>("/api/repetition", { recipe, layer });
export const relief = (recipe: Recipe, limitM: number) => ask<ReliefFacts>("/api/relief", { recipe, limit_m: limitM });
export const bootCut = (recipe: Recipe, bearingDeg: number, lengthM: number) =>
  ask<BootCut>("/api/boot-cut", { recipe, bearing_deg: bearingDeg, length_m: lengthM });
export const legends = () => json<Partial<Record<Mode, Legend>>>("/api/legends");
/** Where lines on the ground lie in a picture: their points, and the smooth curves through them. */
export const projected = (request: PictureAsked, lines: [number, number][][]) =>
  ask<Lines>("/api/lines", { ...request, lines });
/** The layers whose presence a layer may ask for without asking for itself in the end. */
export const askable = (recipe: Recipe, layer: string) => ask<string[]>("/api/askable", { recipe, layer });
export const whereChart = (recipe: Recipe, across: string, up: string) =>
  ask<Chart>("/api/where-chart", { recipe, across, up });
/** A new layer of a set as it begins on top of a site, where such material lies, and the share that it takes. */
export const beginLayer = (recipe: Recipe, id: string, set: string) =>
  ask<BegunLayer>("/api/cover/begin", { recipe, id, set });
export const clauseFacts = (recipe: Recipe, layer: number, clauses: Recipe["layers"][number]["rule"]["clauses"]) =>
  ask<ClauseFacts>("/api/clause", { recipe, layer, clauses });
export const probe = (recipe: Recipe, east: number, north: number) =>
  ask<Probe>("/api/probe", { recipe, east_m: east, north_m: north });
export const paint = (id: string, base: number, stroke: DrawnStroke) =>
  json<SiteState>(`/api/sites/${id}/paint`, posting({ base, stroke }));

/** An image kept and taken apart; told whether it fits a ground, where it is to lie on one. */
export function bringMaskImage(file: File, over: Recipe["ground"] | null): Promise<MaskImageFacts> {
  const form = new FormData();
  form.append("file", file, file.name);
  if (over) {
    form.append("width_m", String(over.width_m));
    form.append("depth_m", String(over.depth_m));
  }
  return json("/api/mask-images", { method: "POST", body: form });
}
export const maskImage = (file: string) => json<MaskImageFacts>(`/api/mask-images/${file}`);
export const channelUrl = (file: string, channel: string) => `/api/mask-images/${file}/${channel}.png`;
export const laySplat = async (recipe: Recipe, weights: { image: MaskImage; channel: string; layer: string }[]) =>
  (await json<LaidWeights>("/api/splat", posting({ recipe, weights }))).recipe;
/** A rule's presence over the whole ground as a 16-bit image. */
export async function presenceImage(
  recipe: Recipe,
  name: string,
  clauses: Recipe["layers"][number]["rule"]["clauses"],
  opacity: number,
  sizePx: number,
): Promise<Blob> {
  return (await send("/api/presence", posting({ recipe, name, clauses, opacity, size_px: sizePx }))).blob();
}

export const job = <R>(id: string) => json<Job<R>>(`/api/jobs/${id}`);
export const cancelJob = <R>(id: string) => json<Job<R>>(`/api/jobs/${id}`, { method: "DELETE" });
