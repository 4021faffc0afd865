/** How much of this ground lies at each pair of two measures, with the layer's region to drag and places to light up. */

import { useMeasures } from "../../state/measures";
import type { Beginnings } from "../../generated/answers";
import { memo, useEffect, useRef, useState } from "react";
import * as api from "../../api/client";
import type { Chart } from "../../api/types";
import type { OnMeasure } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { nameOf, useBeginnings, useReady } from "../../state/ground";
import { inRuled, useSite, type Ruled } from "../../state/site";
import { useTools } from "../../state/tools";
import { measureOf, MEASURES, onMeasure, SHORT, softOf, withLimit, type End, type MeasureName } from "./clauses";
import { added } from "./edit-rule";
import { placeOn, valueOn } from "./edges";

const LEFT = 8;
const TOP = 6;
const WIDE = 216;
const TALL = 192;

/** The clause of a rule that limits a measure plainly: not the opposite, joined by and, outside brackets. */
function limitOf(layer: Ruled, name: MeasureName): OnMeasure | null {
  const found = layer.rule.clauses.find(
    (one) => one.kind === "measure" && one.measure === name && !one.opposite && one.join === "and",
  );
  return found?.kind === "measure" ? found : null;
}

function putLimit(layer: Ruled, name: MeasureName, end: End, value: number, begin: Beginnings) {
  return inRuled(layer.id, (one) => {
    const held = limitOf(one, name);
    if (!held) {
      const fresh = { ...onMeasure(name, begin), lower: null, upper: null };
      return { ...one.rule, clauses: added(one, withLimit(fresh, end, value)) };
    }
    return {
      ...one.rule,
      clauses: one.rule.clauses.map((clause) => (clause === held ? withLimit(held, end, value) : clause)),
    };
  });
}

interface Box {
  x0: number;
  x1: number;
  y0: number;
  y1: number;
}

/** A layer's region on the chart, 0..1 from the left and from below; with its soft ends when `out`. */
function regionOf(layer: Ruled, chart: Chart, across: MeasureName, up: MeasureName, out: boolean): Box {
  const ends = (name: MeasureName, edges: readonly number[]): [number, number] => {
    const clause = limitOf(layer, name);
    const at = (end: End) => {
      const value = clause?.[end] ?? null;
      if (!clause || value === null) return end === "lower" ? 0 : 1;
      const soft = out ? softOf(clause, end) : 0;
      return placeOn(edges, end === "lower" ? value - soft : value + soft);
    };
    return [at("lower"), at("upper")];
  };
  const [x0, x1] = ends(across, chart.acrossEdges);
  const [y0, y1] = ends(up, chart.upEdges);
  return { x0, x1, y0, y1 };
}

const px = (v: number) => LEFT + v * WIDE;
const py = (v: number) => TOP + (1 - v) * TALL;
const rect = (box: Box) => ({
  x: px(box.x0),
  y: py(box.y1),
  width: Math.max(0, (box.x1 - box.x0) * WIDE),
  height: Math.max(0, (box.y1 - box.y0) * TALL),
});

export function WhereChart({ layer }: { layer: Ruled }) {
  const begin = useBeginnings();
  const ready = useReady();
  const ground = useSite((s) => s.shown?.ground);
  const layers = useSite((s) => s.shown?.layers ?? []);
  const first = layers[0]?.id === layer.id;
  const { across, up, pointed, brushed } = useTools();
  const [all, setAll] = useState(false);
  const { preview, keep, drop } = useSite.getState();
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ name: MeasureName; end: End } | { from: [number, number] } | null>(null);

  const key = ready && ground ? JSON.stringify([nameOf(ground), across, up]) : null;
  const { value: chart } = useLatest<Chart>(key, () => {
    const recipe = useSite.getState().shown;
    if (!recipe) throw new Error("the site was closed");
    return api.whereChart(recipe, across, up);
  });

  /** Where the pointer is on the chart, 0..1 from the left and from below. */
  function at(event: React.PointerEvent): [number, number] {
    const frame = svg.current?.getBoundingClientRect();
    if (!frame) return [0, 0];
    const clamp = (v: number) => Math.min(1, Math.max(0, v));
    return [clamp((event.clientX - frame.left - LEFT) / WIDE), clamp(1 - (event.clientY - frame.top - TOP) / TALL)];
  }
  function valueAt(event: React.PointerEvent, name: MeasureName): number {
    if (!chart) return 0;
    const [x, y] = at(event);
    const raw = name === across ? valueOn(chart.acrossEdges, x) : valueOn(chart.upEdges, y);
    const { digits, least, most } = measureOf(name, begin);
    return Math.min(most, Math.max(least, Number(raw.toFixed(digits))));
  }
  const inner = chart ? regionOf(layer, chart, across, up, false) : null;
  const handles: { name: MeasureName; end: End; x: number; y: number; label: string }[] = inner
    ? [
        { name: across, end: "lower", x: inner.x0, y: (inner.y0 + inner.y1) / 2, label: `Least ${SHORT[across]}` },
        { name: across, end: "upper", x: inner.x1, y: (inner.y0 + inner.y1) / 2, label: `Greatest ${SHORT[across]}` },
        { name: up, end: "upper", x: (inner.x0 + inner.x1) / 2, y: inner.y1, label: `Greatest ${SHORT[up]}` },
        { name: up, end: "lower", x: (inner.x0 + inner.x1) / 2, y: inner.y0, label: `Least ${SHORT[up]}` },
      ]
    : [];

  function brush(from: [number, number], to: [number, number]) {
    if (!chart) return;
    const ends = [
      Math.min(from[0], to[0]),
      Math.max(from[0], to[0]),
      Math.min(from[1], to[1]),
      Math.max(from[1], to[1]),
    ] as const;
    const wide = ends[1] - ends[0] > 0.02 && ends[3] - ends[2] > 0.02;
    useTools.setState({
      brushed: wide
        ? {
            across,
            up,
            across_from: valueOn(chart.acrossEdges, ends[0]),
            across_to: valueOn(chart.acrossEdges, ends[1]),
            up_from: valueOn(chart.upEdges, ends[2]),
            up_to: valueOn(chart.upEdges, ends[3]),
          }
        : null,
    });
  }
  const shownBrush =
    chart && brushed && brushed.across === across && brushed.up === up
      ? {
          x0: placeOn(chart.acrossEdges, brushed.across_from),
          x1: placeOn(chart.acrossEdges, brushed.across_to),
          y0: placeOn(chart.upEdges, brushed.up_from),
          y1: placeOn(chart.upEdges, brushed.up_to),
        }
      : null;
  const dot =
    chart && pointed && pointed.measures[across] !== undefined && pointed.measures[up] !== undefined
      ? {
          x: px(placeOn(chart.acrossEdges, pointed.measures[across] ?? 0)),
          y: py(placeOn(chart.upEdges, pointed.measures[up] ?? 0)),
        }
      : null;
  const ends = (edges: readonly number[] | undefined, name: MeasureName) => {
    const { unit } = measureOf(name, begin);
    const text = (v: number) =>
      Math.abs(v) >= 100000
        ? v.toExponential(0)
        : shown(v, Math.abs(v) >= 10 || v === 0 ? 0 : Math.abs(v) >= 1 ? 1 : 3);
    return edges ? `${text(edges[0] ?? 0)} to ${text(edges.at(-1) ?? 0)} ${unit}` : "";
  };

  return (
    <div className="relative">
      <Cells chart={chart} />
      <svg
        ref={svg}
        width={LEFT + WIDE + 2}
        height={TOP + TALL + 4}
        className="figures relative touch-none select-none"
        fontSize="11"
        onPointerDown={(event) => {
          if (held.current !== null) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { from: at(event) };
          useTools.setState({ brushed: null });
        }}
        onPointerMove={(event) => {
          const grip = held.current;
          if (!grip) return;
          if ("from" in grip) brush(grip.from, at(event));
          else preview(putLimit(layer, grip.name, grip.end, valueAt(event, grip.name), begin));
        }}
        onPointerUp={() => {
          const grip = held.current;
          held.current = null;
          if (grip && "name" in grip) keep(`${layer.name}: ${SHORT[grip.name]} limit`);
        }}
        onPointerCancel={() => {
          if (held.current && "name" in held.current) drop();
          held.current = null;
        }}
      >
        <title>
          Where-chart: this ground by {SHORT[across]} and {SHORT[up]}, and where {layer.name} lies. Drag over it to
          light up those places.
        </title>
        <rect x={LEFT} y={TOP} width={WIDE} height={TALL} fill="none" stroke="#1c1d1e" />
        {all &&
          chart &&
          layers.slice(1).map(
            (one, k) =>
              one.id !== layer.id &&
              one.on &&
              (limitOf(one, across) ?? limitOf(one, up)) && (
                <g key={one.id}>
                  <rect
                    {...rect(regionOf(one, chart, across, up, false))}
                    fill="none"
                    stroke="#1c1d1e"
                    strokeWidth="1"
                  />
                  <text
                    x={rect(regionOf(one, chart, across, up, false)).x + 3}
                    y={rect(regionOf(one, chart, across, up, false)).y + 11}
                    fontWeight="600"
                    stroke="#f6f5f3"
                    strokeWidth="2.5"
                    paintOrder="stroke"
                  >
                    {k + 2}
                  </text>
                </g>
              ),
          )}
        {!first && chart && inner && (
          <>
            <rect
              {...rect(regionOf(layer, chart, across, up, true))}
              fill="none"
              stroke="#bf3b1c"
              strokeDasharray="3 3"
            />
            <rect {...rect(inner)} fill="none" stroke="#bf3b1c" strokeWidth="1.6" />
            {handles.map((handle) => (
              <circle
                key={handle.label}
                cx={px(handle.x)}
                cy={py(handle.y)}
                r="4.5"
                fill="#bf3b1c"
                stroke="#f6f5f3"
                tabIndex={0}
                role="slider"
                aria-label={`${handle.label} of ${layer.name}`}
                aria-valuenow={
                  limitOf(layer, handle.name)?.[handle.end] ??
                  Number((handle.name === across ? handle.x : handle.y).toPrecision(4))
                }
                aria-valuetext={limitOf(layer, handle.name)?.[handle.end] == null ? "no limit" : undefined}
                className={handle.name === across ? "cursor-ew-resize" : "cursor-ns-resize"}
                data-handle={`${handle.name}-${handle.end}`}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  svg.current?.setPointerCapture(event.pointerId);
                  held.current = { name: handle.name, end: handle.end };
                }}
                onKeyDown={(event) => {
                  const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
                  if (by === undefined) return;
                  event.preventDefault();
                  const edges = handle.name === across ? chart.acrossEdges : chart.upEdges;
                  const place = (handle.name === across ? handle.x : handle.y) + by * 0.01;
                  const value = Number(valueOn(edges, place).toFixed(measureOf(handle.name, begin).digits));
                  keep(
                    `${layer.name}: ${SHORT[handle.name]} limit`,
                    putLimit(layer, handle.name, handle.end, value, begin),
                  );
                }}
              >
                <title>{handle.label}: drag</title>
              </circle>
            ))}
          </>
        )}
        {shownBrush && (
          <rect
            {...rect(shownBrush)}
            fill="#bf3b1c"
            fillOpacity="0.18"
            stroke="#bf3b1c"
            strokeDasharray="1 2"
            data-brush
          />
        )}
        {dot && <circle cx={dot.x} cy={dot.y} r="4" fill="none" stroke="#bf3b1c" strokeWidth="2" data-pointed />}
      </svg>
      <div
        className="figures grid grid-cols-[auto_1fr_auto] items-center gap-x-1 text-[11px] text-quiet"
        style={{ width: LEFT + WIDE }}
      >
        <Axis
          label="→"
          value={across}
          other={up}
          onChoose={(name) => useTools.setState({ across: name, brushed: null })}
        />
        <span className="truncate">{ends(chart?.acrossEdges, across)}</span>
        <button
          type="button"
          className="underline"
          aria-pressed={all}
          onClick={() => setAll(!all)}
          title="Regions of all layers at once: gaps and overlaps show"
        >
          {all ? "this layer" : "all layers"}
        </button>
        <Axis label="↑" value={up} other={across} onChoose={(name) => useTools.setState({ up: name, brushed: null })} />
        <span className="truncate">{ends(chart?.upEdges, up)}</span>
        {brushed ? (
          <button type="button" className="underline" onClick={() => useTools.setState({ brushed: null })}>
            unlight
          </button>
        ) : (
          <span />
        )}
      </div>
    </div>
  );
}

function Axis({
  label,
  value,
  other,
  onChoose,
}: {
  label: string;
  value: MeasureName;
  other: MeasureName;
  onChoose: (name: MeasureName) => void;
}) {
  const kinds = useMeasures();
  return (
    <label className="flex items-center gap-1">
      {label}
      <select
        className="min-h-6 border-b border-ink bg-transparent text-ink"
        value={value}
        aria-label={`Measure ${label === "→" ? "across" : "up"} the chart`}
        onChange={(event) => {
          const name = MEASURES.find((one) => one === event.target.value);
          if (name) onChoose(name);
        }}
      >
        {kinds
          .map((kind) => kind.name)
          .filter((name) => name !== other)
          .map((name) => (
            <option key={name} value={name}>
              {SHORT[name]}
            </option>
          ))}
      </select>
    </label>
  );
}

/** How much of the ground lies at each pair of values, drawn once: hundreds of cells are no parts of the page. */
const Cells = memo(function Cells({ chart }: { chart: Chart | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const on = canvas.current;
    const context = on?.getContext("2d");
    if (!on || !context || !chart) return;
    const rows = chart.counts.length;
    const cols = chart.counts[0]?.length ?? 1;
    const most = Math.max(...chart.counts.flat(), 1);
    on.width = cols;
    on.height = rows;
    chart.counts.forEach((line, row) => {
      line.forEach((n, col) => {
        if (n === 0) return;
        context.fillStyle = `rgba(28, 29, 30, ${0.08 + 0.84 * Math.sqrt(n / most)})`;
        context.fillRect(col, rows - 1 - row, 1, 1);
      });
    });
  }, [chart]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      className="absolute bg-[#f6f5f3] [image-rendering:pixelated]"
      style={{ left: LEFT, top: TOP, width: WIDE, height: TALL }}
    />
  );
});
