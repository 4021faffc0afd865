/** Light, kept lights and stills on the server. */

import type { Job } from "./types";
import type {
  DrawnSkyKind,
  KeptLightLine,
  PanoramaFacts,
  PassKind,
  Removed,
  StillsTaken,
  SunPlace,
} from "../generated/answers";
import type { Light, Water, When } from "../generated/recipe";
import { json, posting } from "./client";

export type { KeptLightLine, PanoramaFacts, StillsTaken };

export const sunAt = (when: When) => json<SunPlace>("/api/sun", posting({ when }));

export const keptLights = () => json<KeptLightLine[]>("/api/kept-lights");

export const keepLight = (name: string, light: Light, water: Water) =>
  json<KeptLightLine>("/api/kept-lights", posting({ kept: { name, light, water } }));

export const dropLight = (id: string) => json<Removed>(`/api/kept-lights/${id}`, { method: "DELETE" });

export const drawPanorama = (kind: DrawnSkyKind["kind"]) =>
  json<PanoramaFacts>("/api/panoramas/drawn", posting({ kind }));

export function bringPanorama(file: File): Promise<PanoramaFacts> {
  const form = new FormData();
  form.append("file", file);
  return json<PanoramaFacts>("/api/panoramas", { method: "POST", body: form });
}

export interface StillAsk {
  stands: ("far" | "mid" | "near")[];
  shots: string[];
  width_px: number;
  height_px: number;
  rays: number;
  passes: PassKind["name"][];
  warmth: number;
  contrast: number;
  sequence: "one" | "turn" | "day";
  frames: number;
  seconds: number;
  moving: "webp" | "png";
  sheet: boolean;
}

export const takeStills = (site: string, ask: StillAsk) =>
  json<Job<StillsTaken>>(`/api/sites/${site}/stills`, posting({ ask }));

export const stillUrl = (folder: string, name: string) => `/api/stills/${folder}/${encodeURIComponent(name)}`;
