/** One of the three pictures: shows the cover, turns and tips when dragged, takes paint, carries the peg in Far. */

import { FindingMark } from "../../judging/finding-mark";
import { SideBySide } from "../../judging/side-by-side";
import { memo, useEffect, useRef } from "react";
import type { StandName } from "../../api/types";
import type { Recipe, Stand } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useRest } from "../../parts/use-rest";
import { useSize } from "../../parts/use-size";
import { useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { useFitHand } from "./fit-hand";
import { PathMarks } from "./path-marks";
import { PegMark } from "./peg-mark";
import { BrushRing, useBrushHand, usePointing } from "./hand";
import { SET_DRAG, useSetDrop } from "./set-drag";
import { plainRequest, usePicture, type Bare } from "./use-picture";
import { SetMarks } from "../things/set/set-marks";

interface PictureProps {
  stand: StandName;
  label: string;
  whole: boolean;
  /** Gives the picture the whole row; left out where it has no row. */
  onWhole?: () => void;
  /** The ground alone, in plain grey or in a measure's colours. */
  bare?: Bare;
  /** What else the small line tells. */
  told?: "things";
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
  return mm >= 1000 ? `${shown(mm / 1000, 1)} m/px` : `${shown(mm, mm < 10 ? 1 : 0)} mm/px`;
}

/** How far feet on the plain ground are below the relief that one would stand on (below 0), or above it. */
function Feet() {
  const facts = useTools((s) => s.relief);
  return facts ? (
    <span
      title="Where feet on the plain ground are against the relief that one would stand on"
      className={facts.standM > 0.03 ? "text-warn" : ""}
    >
      {" "}
      · feet {shown(-facts.standM * 1000, 0)} mm
    </span>
  ) : null;
}

/** Drawn anew only when what it tells of its picture changes: the picture itself is a canvas. */
export const PictureView = memo(function PictureView({ stand, label, whole, onWhole, bare, told }: PictureProps) {
  const { box, size } = useSize();
  const { canvas, facts, resting, trouble, point } = usePicture(stand, size, bare);
  const { preview, keep, drop, underWay } = useSite.getState();
  const frame = useRef<HTMLElement | null>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const rest = useRest();
  const tool = useTools((s) => (bare ? "turn" : s.tool));
  const request = () => {
    const recipe = useSite.getState().shown;
    return recipe && size ? plainRequest(recipe, stand, size, !useShaping.getState().ready) : null;
  };
  const brush = useBrushHand(stand, size);
  const pointing = usePointing(request, !bare);
  const setDrop = useSetDrop(request, told === "things");
  const fitHand = useFitHand(request);
  const path = useTools((s) => s.path);
  const viewKey = useSite((s) =>
    s.shown ? JSON.stringify([s.shown.stands[stand], stand === "far" ? null : s.shown.peg, size]) : "",
  );

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
    rest.later(() => keep(`moved ${label}`));
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
      className={`relative min-h-0 min-w-0 touch-none overflow-hidden bg-booth select-none focus-visible:outline-offset-[-3px] ${tool === "paint" ? "cursor-crosshair" : tool === "probe" || tool === "pick" ? "cursor-help" : tool === "lasso" || tool === "set" ? "cursor-crosshair" : tool === "fit" ? "cursor-move" : ""}`}
      onDoubleClick={tool === "turn" ? onWhole : undefined}
      onContextMenu={(event) => {
        if (tool === "paint" || tool === "fit") event.preventDefault();
      }}
      onDragOver={(event) => {
        if (!bare && event.dataTransfer.types.includes(SET_DRAG)) event.preventDefault();
      }}
      onDrop={(event) => {
        if (!bare) setDrop(event);
      }}
      onPointerEnter={point}
      onPointerLeave={pointing.leave}
      onPointerDown={(event) => {
        // while painting the other button turns
        if (event.button !== 0 && !(event.button === 2 && (tool === "paint" || tool === "fit"))) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        if (tool === "paint" && event.button === 0 && !event.altKey) {
          brush.begin(event);
          return;
        }
        if (tool === "fit" && event.button === 0 && !event.altKey && fitHand.begin(event)) return;
        drag.current = { x: event.clientX, y: event.clientY, moved: false };
      }}
      onPointerMove={(event) => {
        pointing.move(event);
        if (brush.move(event) || fitHand.move(event)) return;
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
      onPointerUp={(event) => {
        if (brush.end() || fitHand.end()) return;
        if (drag.current?.moved) keep(`turned ${label}`);
        else if (drag.current) {
          const clicked = pointing.click(event, tool, path);
          if (tool === "path" || tool === "pick" || tool === "set") underWay(clicked);
        }
        drag.current = null;
      }}
      onPointerCancel={() => {
        brush.drop();
        fitHand.drop();
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
          rest.later(() => keep(`turned ${label}`));
        } else if (event.key === "+" || event.key === "=") moveIn(0.85);
        else if (event.key === "-" || event.key === "−") moveIn(1 / 0.85);
      }}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={facts ? `${label}: the site from ${distanceText(facts.distanceM)}` : label}
        hidden={!facts}
        className="absolute inset-0 size-full will-change-transform"
      />
      {!facts && !trouble && <p className="grid size-full place-items-center text-ink">Taking the picture…</p>}
      {trouble && <p className="plate absolute inset-x-3 top-16 p-2">{trouble}</p>}
      {tool === "path" && size && <PathMarks request={request} viewKey={viewKey} size={size} />}
      {told === "things" && size && tool === "turn" && <SetMarks request={request} viewKey={viewKey} size={size} />}
      {tool === "paint" && size && <BrushRing ring={pointing.ring} size={size} />}
      {size && !bare && told === undefined && <SideBySide stand={stand} size={size} />}
      {size && !bare && <FindingMark request={request} viewKey={viewKey} size={size} />}
      {stand === "far" && tool !== "paint" && facts?.peg && size && (
        <PegMark at={{ across: facts.peg[0], down: facts.peg[1] }} size={size} />
      )}
      <div className="figures absolute inset-x-0 bottom-0 flex justify-between gap-2 bg-raised/90 px-2 py-[3px] text-xs font-medium whitespace-nowrap">
        <b className="font-semibold">{label}</b>
        {facts && !resting && !trouble && <span className="text-quiet">refining…</span>}
        <span className="truncate">
          {facts ? `${distanceText(facts.distanceM)} · ${scaleText(facts.mmPerPixel)}` : ""}
          {told === "things" && facts ? ` · ${shown(facts.things, 0)} in view` : ""}
          {stand === "near" && !bare && told === undefined && <Feet />}
        </span>
        {onWhole && (
          <button
            type="button"
            className="underline"
            onClick={onWhole}
            onPointerDown={(event) => event.stopPropagation()}
            onDoubleClick={(event) => event.stopPropagation()}
            title="To the whole row and back; a double-click on the picture does the same"
          >
            {whole ? "All three" : "Widen"}
          </button>
        )}
      </div>
    </div>
  );
});
