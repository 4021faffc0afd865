/** How much of this ground lies at each elevation and slope, with the layer's region to drag. */

import { useMemo, useRef } from "react";
import type { Layer } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useRange, type Range } from "../../state/ground";
import { inLayer, useSite } from "../../state/site";
import { limit, newClause, soft, withLimit, type Clause, type End } from "./clauses";
import type { Facts } from "./use-facts";

const LEFT = 34;
const TOP = 6;
const WIDE = 194;
const TALL = 204;

interface Region {
  slope: { lower: number | null; upper: number | null; softLower: number; softUpper: number };
  elevation: { lower: number | null; upper: number | null; softLower: number; softUpper: number };
}

function regionOf(layer: Layer): Region {
  const of = (name: Clause["measure"]) => {
    const clause = layer.rule.clauses.find((one) => one.measure === name && !one.opposite);
    if (!clause) return { lower: null, upper: null, softLower: 0, softUpper: 0 };
    return {
      lower: limit(clause, "lower"), upper: limit(clause, "upper"),
      softLower: soft(clause, "lower"), softUpper: soft(clause, "upper"),
    };
  };
  return { slope: of("slope"), elevation: of("elevation") };
}

/** Put a limit into a layer's rule; a clause that was not there is added. */
function putLimit(layer: Layer, name: Clause["measure"], end: End, value: number, range: Range) {
  return inLayer(layer.id, (one) => {
    const at = one.rule.clauses.findIndex((clause) => clause.measure === name && !clause.opposite);
    const clauses = [...one.rule.clauses];
    if (at >= 0) {
      const clause = clauses[at];
      if (clause) clauses[at] = withLimit(clause, end, value);
    } else {
      clauses.push(withLimit(withLimit(newClause(name, range), "lower", null), end, value));
    }
    return { ...one, rule: { ...one.rule, clauses } };
  });
}

export function WhereChart({ layer, facts }: { layer: Layer; facts: Facts | null }) {
  const range = useRange();
  const first = useSite((s) => s.shown?.layers[0]?.id === layer.id);
  const { preview, keep, drop } = useSite.getState();
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ name: Clause["measure"]; end: End } | null>(null);
  const cells = useMemo(() => density(facts), [facts]);

  const steepest = Math.max(10, Math.ceil((facts?.steepestDeg ?? 60) / 5) * 5);
  const { lowest_m: low, highest_m: high } = range;
  const x = (deg: number) => LEFT + (Math.min(steepest, Math.max(0, deg)) / steepest) * WIDE;
  const y = (m: number) => TOP + TALL - (Math.min(1, Math.max(0, (m - low) / (high - low))) * TALL);
  const region = regionOf(layer);
  const box = (out: boolean) => {
    const s = region.slope;
    const e = region.elevation;
    const x0 = x(s.lower === null ? 0 : s.lower - (out ? s.softLower : 0));
    const x1 = x(s.upper === null ? steepest : s.upper + (out ? s.softUpper : 0));
    const y0 = y(e.upper === null ? high : e.upper + (out ? e.softUpper : 0));
    const y1 = y(e.lower === null ? low : e.lower - (out ? e.softLower : 0));
    return { x: x0, y: y0, width: Math.max(0, x1 - x0), height: Math.max(0, y1 - y0) };
  };
  const inner = box(false);
  const handles: { name: Clause["measure"]; end: End; cx: number; cy: number; label: string }[] = [
    { name: "slope", end: "lower", cx: inner.x, cy: inner.y + inner.height / 2, label: "Least slope" },
    { name: "slope", end: "upper", cx: inner.x + inner.width, cy: inner.y + inner.height / 2, label: "Greatest slope" },
    { name: "elevation", end: "upper", cx: inner.x + inner.width / 2, cy: inner.y, label: "Highest elevation" },
    { name: "elevation", end: "lower", cx: inner.x + inner.width / 2, cy: inner.y + inner.height, label: "Lowest elevation" },
  ];
  const precise = high - low > 40 ? 0 : high - low > 4 ? 1 : 2;

  function valueAt(event: React.PointerEvent, name: Clause["measure"]): number {
    const frame = svg.current?.getBoundingClientRect();
    if (!frame) return 0;
    if (name === "slope") {
      const deg = ((event.clientX - frame.left - LEFT) / WIDE) * steepest;
      return Math.round(Math.min(90, Math.max(0, deg)) * 2) / 2;
    }
    const m = high - ((event.clientY - frame.top - TOP) / TALL) * (high - low);
    return Number(Math.min(high, Math.max(low, m)).toFixed(precise));
  }

  return (
    <svg ref={svg} width="236" height="252" className="figures touch-none select-none" fontSize="11"
      onPointerMove={(event) => {
        const grip = held.current;
        if (grip) preview(putLimit(layer, grip.name, grip.end, valueAt(event, grip.name), range));
      }}
      onPointerUp={() => {
        const grip = held.current;
        held.current = null;
        if (grip) keep(`${layer.name}: ${grip.name} limit`);
      }}
      onPointerCancel={() => {
        held.current = null;
        drop();
      }}
    >
      <title>Where-chart: this ground by slope and elevation, and where {layer.name} lies</title>
      <rect x={LEFT} y={TOP} width={WIDE} height={TALL} fill="#f6f5f3" stroke="#1c1d1e" />
      {facts && cells.map((cell) => (
        <rect key={`${cell.row}-${cell.col}`} fill="#1c1d1e" shapeRendering="crispEdges" opacity={cell.share}
          x={x((cell.col / cell.cols) * facts.steepestDeg)} width={((WIDE / cell.cols) * facts.steepestDeg) / steepest}
          y={TOP + TALL - ((cell.row + 1) / cell.rows) * TALL} height={TALL / cell.rows} />
      ))}
      {!first && (
        <>
          <rect {...box(true)} fill="none" stroke="#c8401f" strokeDasharray="3 3" />
          <rect {...inner} fill="none" stroke="#c8401f" strokeWidth="1.6" />
          {handles.map((handle) => (
            <circle key={handle.label} cx={handle.cx} cy={handle.cy} r="4.5" fill="#c8401f" stroke="#f6f5f3"
              className={handle.name === "slope" ? "cursor-ew-resize" : "cursor-ns-resize"} data-handle={`${handle.name}-${handle.end}`}
              onPointerDown={(event) => {
                svg.current?.setPointerCapture(event.pointerId);
                held.current = { name: handle.name, end: handle.end };
              }}>
              <title>{handle.label}: drag</title>
            </circle>
          ))}
        </>
      )}
      <g fill="#5d5f61">
        <text x={LEFT - 4} y={TOP + 9} textAnchor="end">{shown(high, precise)}</text>
        <text x={LEFT - 4} y={TOP + TALL} textAnchor="end">{shown(low, precise)}</text>
        <text x={LEFT - 4} y={TOP + TALL / 2} textAnchor="end">m</text>
        <text x={LEFT} y={TOP + TALL + 14}>0°</text>
        <text x={LEFT + WIDE} y={TOP + TALL + 14} textAnchor="end">{steepest}°</text>
        <text x={LEFT + WIDE / 2} y={TOP + TALL + 28} textAnchor="middle">slope → · elevation ↑ · this ground</text>
      </g>
    </svg>
  );
}

interface Cell {
  row: number;
  col: number;
  rows: number;
  cols: number;
  share: number;
}

function density(facts: Facts | null): Cell[] {
  if (!facts) return [];
  const rows = facts.chart.length;
  const cols = facts.chart[0]?.length ?? 1;
  const most = Math.max(...facts.chart.flat(), 1);
  return facts.chart.flatMap((line, row) =>
    line.flatMap((n, col) => (n > 0 ? [{ row, col, rows, cols, share: 0.08 + 0.84 * Math.sqrt(n / most) }] : [])),
  );
}
