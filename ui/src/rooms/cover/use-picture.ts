/** One picture of the cover, asked for again whenever what it shows changes. */

import { useEffect, useMemo, useRef, useState } from "react";
import type { PictureAnswer, PictureRequest } from "../../api/client";
import type { StandName } from "../../api/types";
import type { Recipe } from "../../generated/recipe";
import { useKnown, useReady } from "../../state/ground";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { PictureLoop, type Wanted } from "./picture-loop";

export interface Bare {
  measure: string | null;
  radiusM: number | null;
}

/** What asks about places in a picture, whatever is shown in it. */
export function plainRequest(
  recipe: Recipe,
  stand: StandName,
  size: { width: number; height: number },
  preview: boolean,
): PictureRequest {
  return {
    recipe,
    stand,
    width_px: Math.round(size.width),
    height_px: Math.round(size.height),
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

let lastSeen: { of: Recipe; from: Recipe; seen: Recipe } | null = null;

/** The recipe that pictures show: before the last edit or as a snapshot has it while that is held, from where one looks now. */
function seen({
  showBefore,
  before,
  showCompared,
  compared,
  shown,
}: ReturnType<typeof useSite.getState>): Recipe | null {
  if (showBefore && before) return before;
  if (!showCompared || !compared || !shown) return shown;
  if (lastSeen?.of !== compared.recipe || lastSeen.from !== shown) {
    const { stands, peg, light } = shown;
    lastSeen = { of: compared.recipe, from: shown, seen: { ...compared.recipe, stands, peg, light } };
  }
  return lastSeen.seen;
}

/** Wear as it is shown: without the selected one, or without any where none is selected, while that is held away. */
function held(wears: Recipe["wears"], without: boolean, selected: string | null): Recipe["wears"] {
  if (!without) return wears;
  return wears.some((one) => one.id === selected)
    ? wears.map((one) => (one.id === selected ? { ...one, on: false } : one))
    : NO_WEARS;
}

const MOST_PX = 1600;

/** What this picture depends on, and nothing else: Far does not change with the peg. */
export function usePicture(
  stand: StandName,
  size: { width: number; height: number } | null,
  onTime: (ms: number) => void,
  bare: Bare | undefined,
) {
  const recipe = useSite(seen);
  const without = useSite((s) => s.without);
  const ready = useReady(recipe?.ground);
  const known = useKnown();
  const moving = useSite((s) => s.moving);
  const changes = useSite((s) => s.changes);
  const mode = useSite((s) => s.mode);
  const selected = useSite((s) => s.selected);
  const soloId = useTools((s) => s.solo);
  const drawn = useTools((s) => s.drawn);
  const brushed = useTools((s) => s.brushed);
  const [answer, setAnswer] = useState<PictureAnswer | null>(null);
  const [restedOn, setRestedOn] = useState<Wanted | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const loop = useRef<PictureLoop | null>(null);

  useEffect(() => {
    const made = new PictureLoop((next, of, rested) => {
      setAnswer((before) => {
        if (before) window.setTimeout(() => URL.revokeObjectURL(before.url), 1000);
        return next;
      });
      if (stand === "near" && rested) useSite.setState({ nearMmPerPixel: next.mmPerPixel });
      if (rested) setRestedOn(of);
      onTime(next.serverMs);
    }, setTrouble);
    loop.current = made;
    return () => made.end();
  }, [onTime, stand]);

  const solo = recipe && !bare && soloId !== null ? recipe.layers.findIndex((one) => one.id === soloId) : -1;
  const masks = !bare && (mode === "presence" || mode === "coverage");
  const layers = bare ? NO_LAYERS : recipe?.layers;
  const wears = useMemo(
    () => (bare ? NO_WEARS : held(recipe?.wears ?? NO_WEARS, without, selected)),
    [bare, recipe?.wears, without, selected],
  );
  const wear = !bare && (mode === "overlay" || mode === "wear") ? wears.findIndex((one) => one.id === selected) : -1;
  const layer = recipe && masks ? recipe.layers.findIndex((one) => one.id === selected) : -1;
  const width = size ? Math.min(size.width, MOST_PX) : 0;
  const height = size ? Math.min(size.height, MOST_PX) : 0;
  const of = recipe?.stands[stand];
  const wanted = useMemo<Wanted | null>(
    () =>
      recipe && layers && width && known
        ? {
            recipe: { ...recipe, layers, wears },
            stand,
            width_px: width,
            height_px: height,
            mode: bare ? "lit" : mode,
            layer,
            preview: !ready,
            measure: bare?.measure ?? null,
            radius_m: bare?.radiusM ?? null,
            solo,
            wear,
            drawn: bare ? null : drawn,
            brushed: bare ? null : brushed,
          }
        : null,
    // the parts of the recipe that this picture shows
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [
      recipe?.ground,
      layers,
      wears,
      recipe?.marks,
      solo,
      wear,
      drawn,
      brushed,
      recipe?.light,
      recipe?.peg,
      of,
      stand,
      width,
      height,
      mode,
      layer,
      ready,
      known,
      changes,
      bare?.measure,
      bare?.radiusM,
    ],
  );
  useEffect(() => {
    if (wanted) loop.current?.want(wanted, moving || wanted.drawn != null);
  }, [wanted, moving]);
  return { answer, resting: wanted !== null && restedOn === wanted && ready && !moving && !drawn, trouble };
}
