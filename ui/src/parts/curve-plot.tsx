/** A curve through points in a square, 0..1 both ways: points are dragged, added by a double-click, taken out by Delete. */

import { useRef } from "react";

export interface PlotPoint {
  x: number;
  y: number;
}

interface CurvePlotProps {
  label: string;
  side: number;
  points: PlotPoint[];
  most: number;
  /** A dotted line from corner to corner, where nothing is changed. */
  diagonal?: boolean;
  textOf?: (point: PlotPoint) => string;
  /** The points with one elsewhere, as far as it may go. */
  moved: (k: number, to: PlotPoint) => PlotPoint[];
  mayTakeOut: (k: number) => boolean;
  onMove: (points: PlotPoint[]) => void;
  onKeep: (points: PlotPoint[], what: string) => void;
  onDrop: () => void;
}

const MARGIN = 6;
const CLOSE = 0.03;
const STEP = 0.02;

export function CurvePlot({
  label,
  side,
  points,
  most,
  diagonal,
  textOf,
  moved,
  mayTakeOut,
  onMove,
  onKeep,
  onDrop,
}: CurvePlotProps) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<number | null>(null);
  const px = (v: number) => MARGIN + v * side;
  const py = (v: number) => MARGIN + (1 - v) * side;

  function at(event: { clientX: number; clientY: number }): PlotPoint {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    const clamp = (v: number) => Math.min(1, Math.max(0, v));
    return {
      x: clamp((event.clientX - box.left - MARGIN) / side),
      y: clamp(1 - (event.clientY - box.top - MARGIN) / side),
    };
  }
  return (
    <svg
      ref={svg}
      width={side + 2 * MARGIN}
      height={side + 2 * MARGIN}
      role="img"
      aria-label={label}
      className="shrink-0 touch-none"
      onPointerMove={(event) => {
        if (held.current !== null) onMove(moved(held.current, at(event)));
      }}
      onPointerUp={(event) => {
        if (held.current !== null) onKeep(moved(held.current, at(event)), "curve");
        held.current = null;
      }}
      onPointerCancel={() => {
        held.current = null;
        onDrop();
      }}
      onDoubleClick={(event) => {
        const point = at(event);
        if (points.length >= most || points.some((one) => Math.abs(one.x - point.x) < CLOSE)) return;
        onKeep(
          [...points, point].sort((a, b) => a.x - b.x),
          "a point more",
        );
      }}
    >
      <rect x={MARGIN} y={MARGIN} width={side} height={side} fill="#f6f5f3" stroke="#1c1d1e" />
      {diagonal && <path d={`M${px(0)} ${py(0)}L${px(1)} ${py(1)}`} stroke="#c9c7c2" strokeDasharray="3 3" />}
      <path
        d={`M${points.map((one) => `${px(one.x)} ${py(one.y)}`).join("L")}`}
        fill="none"
        stroke="#1c1d1e"
        strokeWidth="1.5"
      />
      {points.map((one, k) => (
        <circle
          key={k}
          cx={px(one.x)}
          cy={py(one.y)}
          r="5"
          tabIndex={0}
          role="slider"
          aria-label={`Point ${k + 1} of the curve`}
          aria-valuenow={one.y}
          aria-valuemin={0}
          aria-valuemax={1}
          aria-valuetext={textOf?.(one)}
          className="cursor-grab fill-accent"
          onPointerDown={(event) => {
            event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
            held.current = k;
          }}
          onKeyDown={(event) => {
            const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
            if (by !== undefined) {
              event.preventDefault();
              onKeep(moved(k, { x: one.x, y: one.y + by }), "curve");
            } else if ((event.key === "Delete" || event.key === "Backspace") && mayTakeOut(k))
              onKeep(points.toSpliced(k, 1), "a point less");
          }}
        />
      ))}
    </svg>
  );
}
