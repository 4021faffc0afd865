/** One of the three pictures: shows the cover, turns and tips when dragged, carries the peg in Far. */

import { useEffect, useMemo, useRef, useState } from "react";
import { spot, type PictureAnswer } from "../../api/client";
import type { Spot, StandName } from "../../api/types";
import type { Recipe, Stand } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useSize } from "../../parts/use-size";
import { useKnown, useReady, useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { PictureLoop, type Wanted } from "./picture-loop";

interface PictureProps {
  stand: StandName;
  label: string;
  whole: boolean;
  /** Gives the picture the whole row; left out where it has no row. */
  onWhole?: () => void;
  onTime: (ms: number) => void;
  /** The ground alone, in plain grey or in a measure's colours. */
  bare?: Bare;
}

export interface Bare {
  measure: string | null;
  radiusM: number | null;
}

const NO_LAYERS: Recipe["layers"] = [];

const MOST_PX = 1600;

/** What this picture depends on, and nothing else: Far does not change with the peg. */
function usePicture(
  stand: StandName,
  size: { width: number; height: number } | null,
  onTime: (ms: number) => void,
  bare: Bare | undefined,
) {
  const recipe = useSite((s) => (s.showBefore && s.before ? s.before : s.shown));
  const ready = useReady(recipe?.ground);
  const known = useKnown();
  const moving = useSite((s) => s.moving);
  const mode = useSite((s) => s.mode);
  const selected = useSite((s) => s.selected);
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

  const masks = !bare && (mode === "presence" || mode === "coverage");
  const layers = bare ? NO_LAYERS : recipe?.layers;
  const layer = recipe && masks ? recipe.layers.findIndex((one) => one.id === selected) : -1;
  const width = size ? Math.min(size.width, MOST_PX) : 0;
  const height = size ? Math.min(size.height, MOST_PX) : 0;
  const of = recipe?.stands[stand];
  const wanted = useMemo<Wanted | null>(
    () =>
      recipe && layers && width && known
        ? {
            recipe: bare ? { ...recipe, layers } : recipe,
            stand, width_px: width, height_px: height, mode: bare ? "lit" : mode, layer, preview: !ready,
            measure: bare?.measure ?? null, radius_m: bare?.radiusM ?? null,
          }
        : null,
    // the parts of the recipe that this picture shows
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [recipe?.ground, layers, recipe?.light, recipe?.peg, of, stand, width, height, mode, layer, ready, known, bare?.measure, bare?.radiusM],
  );
  useEffect(() => {
    if (wanted) loop.current?.want(wanted, moving);
  }, [wanted, moving]);
  return { answer, resting: wanted !== null && restedOn === wanted && ready && !moving, trouble };
}

function turned(stand: Stand, dx: number, dy: number): Stand {
  return {
    ...stand,
    bearing_deg: (((stand.bearing_deg - dx * 0.35) % 360) + 360) % 360,
    tilt_deg: Math.min(88, Math.max(-20, stand.tilt_deg + dy * 0.25)),
  };
}

function withStand(name: StandName, change: (stand: Stand) => Stand): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, stands: { ...recipe.stands, [name]: change(recipe.stands[name]) } });
}

function distanceText(m: number): string {
  return m >= 100 ? `${shown(m, 0)} m` : `${shown(m, 1)} m`;
}

function scaleText(mm: number): string {
  return mm >= 1000 ? `${shown(mm / 1000, 1)} m per pixel` : `${shown(mm, mm < 10 ? 1 : 0)} mm per pixel`;
}

export function PictureView({ stand, label, whole, onWhole, onTime, bare }: PictureProps) {
  const { box, size } = useSize();
  const { answer, resting, trouble } = usePicture(stand, size, onTime, bare);
  const { preview, keep, drop } = useSite.getState();
  const frame = useRef<HTMLElement | null>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const wheel = useRef<number | undefined>(undefined);

  // React listens to wheels passively; the page must not scroll or zoom under a picture
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const roll = (event: WheelEvent) => {
      event.preventDefault();
      moveIn(Math.exp(event.deltaY * 0.0012));
    };
    element.addEventListener("wheel", roll, { passive: false });
    return () => element.removeEventListener("wheel", roll);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stand]);

  function moveIn(by: number) {
    preview(withStand(stand, (one) => ({ ...one, distance_m: Math.min(40_000, Math.max(0.6, one.distance_m * by)) })));
    window.clearTimeout(wheel.current);
    wheel.current = window.setTimeout(() => keep(`moved ${label}`), 450);
  }

  function turn(dx: number, dy: number) {
    preview(withStand(stand, (one) => turned(one, dx, dy)));
  }

  return (
    <div
      ref={(element) => {
        frame.current = element;
        box(element);
      }}
      data-stand={stand}
      data-resting={resting}
      role="application"
      aria-label={`${label} picture. Arrow keys turn and tip it, plus and minus move in and out.`}
      tabIndex={0}
      className="relative min-h-0 min-w-0 touch-none overflow-hidden bg-booth select-none focus-visible:outline-offset-[-3px]"
      onDoubleClick={onWhole}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, y: event.clientY, moved: false };
      }}
      onPointerMove={(event) => {
        const held = drag.current;
        if (!held) return;
        const dx = event.clientX - held.x;
        const dy = event.clientY - held.y;
        if (!held.moved && Math.hypot(dx, dy) < 4) return;
        held.x = event.clientX;
        held.y = event.clientY;
        held.moved = true;
        turn(dx, dy);
      }}
      onPointerUp={() => {
        if (drag.current?.moved) keep(`turned ${label}`);
        drag.current = null;
      }}
      onPointerCancel={() => {
        drag.current = null;
        drop();
      }}
      onKeyDown={(event) => {
        const ways: Record<string, [number, number]> = {
          ArrowLeft: [-14, 0],
          ArrowRight: [14, 0],
          ArrowUp: [0, -12],
          ArrowDown: [0, 12],
        };
        const way = ways[event.key];
        if (event.altKey || event.ctrlKey) return;
        if (way) {
          event.preventDefault();
          turn(...way);
          window.clearTimeout(wheel.current);
          wheel.current = window.setTimeout(() => keep(`turned ${label}`), 450);
        } else if (event.key === "+" || event.key === "=") moveIn(0.85);
        else if (event.key === "-" || event.key === "−") moveIn(1 / 0.85);
      }}
    >
      {answer && (
        <img
          src={answer.url}
          alt={`${label}: the site from ${distanceText(answer.distanceM)}`}
          draggable={false}
          className="absolute inset-0 size-full"
        />
      )}
      {!answer && !trouble && <p className="grid size-full place-items-center text-ink">Taking the picture…</p>}
      {trouble && <p className="plate absolute inset-x-3 top-16 p-2">{trouble}</p>}
      {stand === "far" && answer?.peg && size && <PegMark at={answer.peg} size={size} />}
      <div className="figures absolute inset-x-0 bottom-0 flex justify-between gap-3 bg-raised/90 px-2 py-[3px] text-xs font-medium whitespace-nowrap">
        <b className="font-semibold">{label}</b>
        {answer && !resting && !trouble && <span className="text-quiet">refining…</span>}
        <span className="truncate">
          {answer ? `${distanceText(answer.distanceM)} · ${scaleText(answer.mmPerPixel)}` : ""}
        </span>
        {onWhole && (
          <button type="button" className="underline" onClick={onWhole} onPointerDown={(event) => event.stopPropagation()} onDoubleClick={(event) => event.stopPropagation()} title="Double-click the picture does the same">
            {whole ? "All three" : "Whole row"}
          </button>
        )}
      </div>
    </div>
  );
}

function pegAt(east: number, north: number): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, peg: { east_m: Number(east.toFixed(2)), north_m: Number(north.toFixed(2)) } });
}

/** The peg in the Far picture: drag it to say what Mid and Near look at. */
function PegMark({ at, size }: { at: { across: number; down: number }; size: { width: number; height: number } }) {
  const [held, setHeld] = useState<{ across: number; down: number } | null>(null);
  const asking = useRef<Promise<void> | null>(null);
  const drag = useRef<{ moved: boolean } | null>(null);
  const { preview, keep, drop } = useSite.getState();
  const place = held ?? at;

  /** The place on the ground under a point of the picture; null where there is none. */
  async function under(across: number, down: number): Promise<Spot | null> {
    const recipe = useSite.getState().shown;
    if (!recipe) return null;
    try {
      return await spot({ recipe, stand: "far", width_px: size.width, height_px: size.height, resting: false, mode: "lit", layer: -1, preview: !useShaping.getState().ready, measure: null, radius_m: null }, across, down);
    } catch {
      return null; // the picture itself says what is wrong
    }
  }

  function follow(across: number, down: number) {
    asking.current ??= under(across, down).then((found) => {
      asking.current = null;
      // an answer that comes after letting go must not set things moving again
      if (found && drag.current) preview(pegAt(found.eastM, found.northM));
    });
  }

  async function settle(across: number, down: number) {
    const found = await under(across, down);
    if (found) keep("moved the peg", pegAt(found.eastM, found.northM));
    else drop();
  }

  function nudge(dx: number, dy: number) {
    const { peg, ground } = useSite.getState().shown ?? {};
    if (!peg || !ground) return;
    const clamp = (v: number, most: number) => Math.min(most, Math.max(0, v));
    const step = Math.max(ground.width_m, ground.depth_m) / 200;
    keep("moved the peg", pegAt(clamp(peg.east_m + dx * step, ground.width_m), clamp(peg.north_m + dy * step, ground.depth_m)));
  }

  if (place.across < 0 || place.across > 1 || place.down < 0 || place.down > 1) return null;
  return (
    <button
      type="button"
      aria-label="The peg: Mid and Near look at it. Arrow keys move it on the ground."
      title="The peg: drag it to where Mid and Near should look"
      className="absolute h-[30px] w-5 -translate-x-1/2 -translate-y-[29px] cursor-grab touch-none"
      style={{ left: `${place.across * 100}%`, top: `${place.down * 100}%` }}
      onDoubleClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { moved: false };
        setHeld(at);
      }}
      onPointerMove={(event) => {
        if (!drag.current) return;
        event.stopPropagation();
        drag.current.moved = true;
        const frame = event.currentTarget.parentElement?.getBoundingClientRect();
        if (!frame) return;
        const across = Math.min(1, Math.max(0, (event.clientX - frame.left) / frame.width));
        const down = Math.min(1, Math.max(0, (event.clientY - frame.top) / frame.height));
        setHeld({ across, down });
        follow(across, down);
      }}
      onPointerUp={(event) => {
        event.stopPropagation();
        const moved = drag.current?.moved;
        drag.current = null;
        if (held && moved) void settle(held.across, held.down).finally(() => setHeld(null));
        else setHeld(null);
      }}
      onPointerCancel={() => {
        drag.current = null;
        setHeld(null);
        drop();
      }}
      onKeyDown={(event) => {
        const ways: Record<string, [number, number]> = {
          ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1],
        };
        const way = ways[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        nudge(...way);
      }}
    >
      <svg width="20" height="30" aria-hidden="true">
        <path d="M10 29 7.5 22V4h5v18z" fill="#c8401f" stroke="#fff" />
        <path d="M2 8h16v4H2z" fill="#f6f5f3" stroke="#c8401f" strokeWidth="1.4" />
      </svg>
    </button>
  );
}
