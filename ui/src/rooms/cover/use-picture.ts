/** One picture of the cover, asked for again whenever what it shows changes. */

import { useEffect, useRef, useState } from "react";
import { create } from "zustand";
import type { FramePicture } from "../../api/client";
import type { Draped, PictureAsked, StandName } from "../../api/types";
import type { Recipe } from "../../generated/recipe";
import { isKnown, isReady, useShaping } from "../../state/ground";
import { useSite, withPicture } from "../../state/site";
import { densityOf, onOtherScreen, pixelsOf } from "../../parts/screen";
import { pictureGone, pictureWhole, underHand } from "../../state/still";
import { useTools } from "../../state/tools";
import { FrameLoop, type Wanted } from "./frame-loop";
import { under } from "./light/kept-lights";

export interface Bare {
  measure: Draped | null;
  radiusM: number | null;
}

/** The small line under a picture, and where its peg stands. */
export type Seen = Omit<FramePicture, "pixels" | "stand" | "widthPx" | "heightPx">;

/** What asks about places in a picture, whatever is shown in it. */
export function plainRequest(
  recipe: Recipe,
  stand: StandName,
  size: { width: number; height: number },
  preview: boolean,
): PictureAsked {
  const { width, height } = pixelsOf(size);
  return {
    recipe,
    stand,
    width_px: width,
    height_px: height,
    resting: false,
    mode: "lit",
    layer: -1,
    preview,
    measure: null,
    radius_m: null,
  };
}

const NO_LAYERS: Recipe["layers"] = [];
const NO_WEARS: Recipe["wears"] = [];
const NO_STREWS: Recipe["strews"] = [];
const NO_SET: Recipe["set_things"] = [];

let lastSeen: { of: object; from: Recipe; seen: Recipe } | null = null;

/** The recipe that pictures show: before the last edit or as what is compared with has it while that is held, from where one looks now. */
function seen({
  showBefore,
  before,
  showCompared,
  compared,
  showOther,
  otherLight,
  shown,
}: ReturnType<typeof useSite.getState>): Recipe | null {
  if (showBefore && before) return before;
  if (showOther && otherLight && shown) {
    if (lastSeen?.of !== otherLight || lastSeen.from !== shown)
      lastSeen = { of: otherLight, from: shown, seen: under(shown, otherLight.light, otherLight.water) };
    return lastSeen.seen;
  }
  if (!showCompared || !compared || !shown) return shown;
  if (lastSeen?.of !== compared || lastSeen.from !== shown)
    lastSeen = { of: compared, from: shown, seen: compared.seen(shown) };
  return lastSeen.seen;
}

let lastHeld: { of: Recipe["wears"]; selected: string | null; held: Recipe["wears"] } | null = null;

/** Wear as it is shown: without the selected one, or without any where none is selected, while that is held away. */
function held(wears: Recipe["wears"], without: boolean, selected: string | null): Recipe["wears"] {
  if (!without) return wears;
  if (lastHeld?.of !== wears || lastHeld.selected !== selected) {
    const away = wears.some((one) => one.id === selected)
      ? wears.map((one) => (one.id === selected ? { ...one, on: false } : one))
      : NO_WEARS;
    lastHeld = { of: wears, selected, held: away };
  }
  return lastHeld.held;
}

export interface Frame {
  size: { width: number; height: number } | null;
  bare: Bare | undefined;
}

/** What a picture depends on, and nothing else: Far does not change with the peg. Of another recipe where one is given. */
function wantedOf(stand: StandName, { size, bare }: Frame, other: Recipe | null = null): Wanted | null {
  const site = useSite.getState();
  const tools = useTools.getState();
  const recipe = other ?? seen(site);
  if (!recipe || !size?.width || !isKnown(useShaping.getState())) return null;
  const { mode, selected, changes } = site;
  const layers = bare ? NO_LAYERS : recipe.layers;
  const strews = bare ? NO_STREWS : recipe.strews;
  const set_things = bare ? NO_SET : recipe.set_things;
  const wears = bare ? NO_WEARS : held(recipe.wears, site.without, selected);
  const indexIn = (of: readonly { id: string }[], id: string | null) => of.findIndex((one) => one.id === id);
  const solo = bare || tools.solo === null ? -1 : indexIn(recipe.layers, tools.solo);
  const strewn = mode === "strewn" || mode === "crowd";
  const layer = bare
    ? -1
    : strewn
      ? indexIn(
          recipe.strews.filter((one) => one.on),
          selected,
        )
      : mode === "presence" || mode === "coverage"
        ? indexIn(recipe.layers, selected)
        : -1;
  const wear = !bare && (mode === "overlay" || mode === "wear") ? indexIn(wears, selected) : -1;
  const asked = {
    preview: !isReady(recipe.ground),
    measure: bare?.measure ?? null,
    radius_m: bare?.radiusM ?? null,
    drawn: bare ? null : tools.drawn,
    brushed: bare ? null : tools.brushed,
  };
  const pixels = pixelsOf(size);
  const density = densityOf(size);
  const view = {
    stand,
    width_px: pixels.width,
    height_px: pixels.height,
    mode: bare ? ("lit" as const) : mode,
    layer,
    solo,
    wear,
  };
  const peg = stand === "far" ? null : recipe.peg;
  const places = [
    recipe.ground,
    recipe.stands[stand],
    peg,
    recipe.water,
    recipe.light.beyond,
    view.width_px,
    view.height_px,
    asked.preview,
    changes,
  ];
  return {
    recipe:
      layers === recipe.layers && wears === recipe.wears && strews === recipe.strews && set_things === recipe.set_things
        ? recipe
        : { ...recipe, layers, wears, strews, set_things },
    asked,
    view,
    density,
    places,
    inputs: [
      ...places,
      density,
      layers,
      wears,
      strews,
      set_things,
      recipe.things,
      recipe.marks,
      recipe.light,
      recipe.peg,
      ...Object.values(asked),
      ...Object.values(view),
    ],
  };
}

/** The question for one picture of another recipe, as the room shows its own; bare grounds all alike, of few samples. */
export function questionOf(recipe: Recipe, stand: StandName, frame: Frame): PictureAsked | null {
  const wanted = wantedOf(stand, frame, recipe);
  if (!wanted) return null;
  const preview = wanted.asked.preview || frame.bare !== undefined;
  return { recipe: wanted.recipe, ...wanted.asked, ...wanted.view, preview };
}

interface Shows {
  frame: Frame;
  draw: (picture: FramePicture, serverMs: number) => void;
  rested: (rested: boolean) => void;
  trouble: (message: string | null) => void;
}

const showing = new Map<StandName, Shows>();
const waiting = new Set<() => void>();

/** Waits for the next picture, though not for ever: what follows a hand after its pictures. */
export function pictureDrawn(atMostMs = 300): Promise<void> {
  return new Promise((done) => {
    const go = () => {
      clearTimeout(timer);
      waiting.delete(go);
      done();
    };
    const timer = setTimeout(go, atMostMs);
    waiting.add(go);
  });
}

const loop = new FrameLoop({
  picture: (stand, picture, serverMs) => {
    showing.get(stand)?.draw(picture, serverMs);
    for (const go of [...waiting]) go();
    withPicture();
  },
  rested: (stand, rested, whole) => {
    pictureWhole(stand, whole);
    showing.get(stand)?.rested(rested);
  },
  trouble: (message) => {
    for (const one of showing.values()) one.trouble(message);
  },
});

/** A stroke begins or ends: its last pictures come once it is kept. */
export const strokeBegins = () => loop.keep(false);
export const strokeEnds = () => loop.keep(true);

/** Looks at everything that pictures depend on, at once: a picture must not wait until the page has drawn itself. */
function look(): void {
  const all = new Map([...showing].map(([stand, { frame }]) => [stand, wantedOf(stand, frame)] as const));
  loop.want(all, underHand());
}
useSite.subscribe(look);
useTools.subscribe(look);
useShaping.subscribe(look);

function paint(canvas: HTMLCanvasElement, { pixels, widthPx, heightPx }: FramePicture): void {
  const context = canvas.getContext("2d", { alpha: false });
  if (!context) return;
  if (canvas.width !== widthPx || canvas.height !== heightPx) {
    canvas.width = widthPx;
    canvas.height = heightPx;
  }
  if (pixels instanceof ImageData) context.putImageData(pixels, 0, 0);
  else {
    context.drawImage(pixels, 0, 0);
    pixels.close();
  }
}

/** How long the server took for the last pictures, told now and then. */
export const usePictureMs = create<{ ms: number; at: number }>(() => ({ ms: 0, at: 0 }));

function tellTime(serverMs: number): void {
  const now = performance.now();
  if (now - usePictureMs.getState().at > 400) usePictureMs.setState({ ms: Math.round(serverMs), at: now });
}

/** A picture drawn on a canvas; the page around it is drawn anew only when what it tells of the picture changes. */
export function usePicture(stand: StandName, size: { width: number; height: number } | null, bare: Bare | undefined) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [facts, setFacts] = useState<Seen | null>(null);
  const [resting, setResting] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const count = useRef(0);
  useEffect(() => {
    showing.set(stand, {
      frame: { size: null, bare: undefined },
      draw: (picture, serverMs) => {
        const on = canvas.current;
        if (!on) return;
        paint(on, picture);
        count.current += 1;
        const { distanceM, mmPerPixel, peg, things } = picture;
        const frame = on.closest<HTMLElement>("[data-stand]");
        if (frame) frame.dataset.shown = String(count.current);
        // a small picture's pixels are larger than those it is shown with
        const told = {
          distanceM,
          mmPerPixel: (mmPerPixel * picture.widthPx) / Math.max(showing.get(stand)?.frame.size?.width ?? 1, 1),
          peg,
          things,
        };
        if (stand === "near") toldNear(told.mmPerPixel);
        setFacts((before) => (before && JSON.stringify(before) === JSON.stringify(told) ? before : told));
        tellTime(serverMs);
      },
      rested: setResting,
      trouble: setTrouble,
    });
    look();
    return () => {
      showing.delete(stand);
      loop.end(stand);
      pictureGone(stand);
    };
  }, [stand]);
  useEffect(() => {
    const one = showing.get(stand);
    if (!one) return;
    one.frame = { size, bare };
    look();
  }, [stand, size, bare]);
  useEffect(() => onOtherScreen(look), []);
  return { canvas, facts, resting, trouble, point: () => loop.point(stand) };
}

/** How large a pixel of Near is, once it is known in another size than before. */
function toldNear(nearMmPerPixel: number): void {
  const before = useSite.getState().nearMmPerPixel;
  if (Math.abs(before - nearMmPerPixel) > 1e-3) useSite.setState({ nearMmPerPixel });
}
