/** A measure's values over this ground, with what a clause lets in. */

import type { ClauseFacts } from "../../api/types";
import type { OnMeasure } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { softOf } from "./clauses";
import { placeOn } from "./edges";

const TALL = 84;

/** How much of this ground has each value of the measure, with the clause's limits and soft ends on it. */
export function ClauseHistogram({ clause, facts }: { clause: OnMeasure; facts: ClauseFacts | null }) {
  // as tall as what comes: what stands below must not move from under the hand
  if (!facts?.counts || !facts.edges)
    return (
      <p className="text-quiet" style={{ height: TALL }}>
        Measuring…
      </p>
    );
  const { counts, edges } = facts;
  const wide = 320;
  const most = Math.max(...counts, 1);
  const x = (value: number) => placeOn(edges, value) * wide;
  const digits = Math.abs((edges.at(-1) ?? 1) - (edges[0] ?? 0)) > 20 ? 0 : 2;
  const ends = (["lower", "upper"] as const).flatMap((end) => {
    const value = clause[end];
    if (value === null) return [];
    const soft = softOf(clause, end);
    return [{ end, at: x(value), out: x(end === "lower" ? value - soft : value + soft) }];
  });
  return (
    <svg width={wide + 4} height={TALL} role="img" aria-label={`Histogram of ${clause.measure}`}>
      {counts.map((n, k) => (
        <rect
          key={k}
          x={2 + (k * wide) / counts.length}
          y={64 - Math.sqrt(n / most) * 58}
          width={wide / counts.length - 0.5}
          height={Math.sqrt(n / most) * 58}
          fill="#5d5f61"
        />
      ))}
      <path d={`M2 64h${wide}`} stroke="#1c1d1e" />
      {ends.map(({ end, at, out }) => (
        <g key={end} stroke="#bf3b1c">
          <path d={`M${2 + at} 2v66`} strokeWidth="1.6" />
          <path d={`M${2 + out} 64L${2 + at} 4`} strokeWidth="1" strokeDasharray="3 3" />
        </g>
      ))}
      <g className="figures" fontSize="11" fill="#5d5f61">
        <text x="2" y="79">
          {shown(edges[0] ?? 0, digits)} {clause.unit}
        </text>
        <text x={wide + 2} y="79" textAnchor="end">
          {shown(edges.at(-1) ?? 0, digits)} {clause.unit}
        </text>
      </g>
    </svg>
  );
}
