/** A layer's rule as a sentence whose numbers are dragged, typed or stepped. */

import type { BreakUp, Layer } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { useRange, type Range } from "../../state/ground";
import { inLayer, useSite } from "../../state/site";
import { limit, measureOf, newClause, soft, withLimit, withSoft, type Clause, type End, type Measure } from "./clauses";
import type { Facts } from "./use-facts";

interface SentenceProps {
  layer: Layer;
  first: boolean;
  facts: Facts | null;
}

function withClause(layer: Layer, at: number, clause: Clause) {
  return inLayer(layer.id, (one) => ({ ...one, rule: { ...one.rule, clauses: one.rule.clauses.with(at, clause) } }));
}

function withBreakUp(layer: Layer, change: Partial<BreakUp>) {
  return inLayer(layer.id, (one) => ({ ...one, rule: { ...one.rule, break_up: { ...one.rule.break_up, ...change } } }));
}

export function RuleSentence({ layer, first, facts }: SentenceProps) {
  const range = useRange();
  const { keep } = useSite.getState();
  const { clauses, break_up } = layer.rule;

  if (first) {
    return (
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies everywhere, under all others. What other layers leave open, it covers.
      </p>
    );
  }
  const present = new Set(clauses.map((clause) => clause.measure));
  const missing = (["slope", "elevation"] as const).filter((name) => !present.has(name));
  return (
    <>
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies {clauses.length === 0 ? "everywhere" : "on ground "}
        {clauses.map((clause, at) => (
          <span key={`${clause.measure}-${at}`}>
            {at > 0 && <span className="text-quiet">, and </span>}
            <ClausePhrase layer={layer} clause={clause} at={at} range={range} facts={facts} />
          </span>
        ))}
        {clauses.length > 0 && break_up.strength > 0 && (
          <>
            <span className="text-quiet">, its edges broken up by noise of </span>
            <BreakUpNumber layer={layer} field="size_m" label="Size of the noise" unit="m" least={0.1} most={500} step={0.1} digits={1} />
            <span className="text-quiet"> by </span>
            <BreakUpNumber layer={layer} field="strength" label="Strength of the break-up" unit="×" least={0} most={4} step={0.05} digits={2} />
            <span className="text-quiet"> their softness</span>
          </>
        )}
        .
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {missing.map((name) => (
          <button key={name} type="button" className="key"
            onClick={() => keep(`${layer.name}: limited by ${name}`, inLayer(layer.id, (one) => ({ ...one, rule: { ...one.rule, clauses: [...one.rule.clauses, newClause(name, range)] } })))}>
            Limit by {name}
          </button>
        ))}
        {clauses.length > 0 && break_up.strength === 0 && (
          <button type="button" className="key" onClick={() => keep(`${layer.name}: broken up`, withBreakUp(layer, { strength: 0.5 }))}>
            Break up the edges
          </button>
        )}
      </div>
    </>
  );
}

interface BreakUpNumberProps {
  layer: Layer;
  field: "size_m" | "strength";
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  digits: number;
}

function BreakUpNumber({ layer, field, ...rest }: BreakUpNumberProps) {
  const { preview, keep, drop } = useSite.getState();
  return (
    <Num {...rest} value={layer.rule.break_up[field]}
      onMove={(value) => preview(withBreakUp(layer, { [field]: value }))}
      onKeep={(value) => keep(`${layer.name}: break-up`, withBreakUp(layer, { [field]: value }))}
      onDrop={drop} />
  );
}

interface PhraseProps {
  layer: Layer;
  clause: Clause;
  at: number;
  range: Range;
  facts: Facts | null;
}

function ClausePhrase({ layer, clause, at, range, facts }: PhraseProps) {
  const measure = measureOf(clause.measure, range);
  const { preview, keep, drop } = useSite.getState();
  const number = (end: End, prefix: string) => {
    const value = limit(clause, end);
    if (value === null) return null;
    return (
      <Num
        label={`${layer.name}, ${prefix}`}
        value={value}
        unit={measure.unit}
        least={measure.least}
        most={measure.most}
        step={measure.step}
        perPixel={measure.perPixel}
        digits={measure.step < 0.05 ? 3 : measure.step < 0.5 ? 2 : value % 1 === 0 ? 0 : 1}
        prefix={`${prefix} `}
        onMove={(next) => preview(withClause(layer, at, withLimit(clause, end, next)))}
        onKeep={(next) => keep(`${layer.name}: ${prefix} ${shown(next, 1)} ${measure.unit}`, withClause(layer, at, withLimit(clause, end, next)))}
        onDrop={drop}
      />
    );
  };
  const lower = number("lower", measure.above);
  const upper = number("upper", measure.below);
  return (
    <>
      {clause.opposite && <span>not </span>}
      {lower}
      {lower && upper && <span className="text-quiet"> and </span>}
      {upper}
      {!lower && !upper && <span className="text-quiet">of any {clause.measure}</span>}{" "}
      <ClausePanel layer={layer} clause={clause} at={at} measure={measure} range={range} facts={facts} />
    </>
  );
}

function ClausePanel({ layer, clause, at, measure, range, facts }: PhraseProps & { measure: Measure }) {
  const { preview, keep, drop } = useSite.getState();
  const put = (next: Clause, label: string) => keep(`${layer.name}: ${label}`, withClause(layer, at, next));
  const softs = (["lower", "upper"] as const).filter((end) => limit(clause, end) !== null);
  const softText = softs.map((end) => `${shown(soft(clause, end), measure.step < 0.05 ? 2 : soft(clause, end) % 1 ? 1 : 0)}${measure.unit === "°" ? "°" : " m"}`).join(" and ");
  return (
    <Panel
      title={`${clause.measure} on this ground`}
      side="top"
      width={330}
      trigger={
        <button type="button" className="figures border-b border-dotted border-ink text-[13px] text-quiet" title="Open the clause: histogram, soft ends, opposite">
          {softs.length > 0 ? `soft over ${softText}` : "open"}
        </button>
      }
    >
      <Histogram clause={clause} range={range} facts={facts} />
      <div className="mt-2 grid grid-cols-[1fr_auto_auto] items-center gap-x-3 gap-y-1.5">
        {(["lower", "upper"] as const).map((end) => {
          const value = limit(clause, end);
          const words = end === "lower" ? measure.above : measure.below;
          return value === null ? (
            <div key={end} className="col-span-3">
              <button type="button" className="key" onClick={() => put(withLimit(clause, end, limitFor(end, clause, range, measure)), `${words} added`)}>
                Add a limit: {words}
              </button>
            </div>
          ) : (
            <div key={end} className="contents">
              <span>
                Soft end {end === "lower" ? "below" : "above"}
              </span>
              <Num label={`Softness, ${words}`} value={soft(clause, end)} unit={measure.unit} least={0} most={measure.unit === "°" ? 90 : 5000}
                step={measure.step} digits={measure.step < 0.05 ? 3 : 1} perPixel={measure.perPixel / 2}
                onMove={(next) => preview(withClause(layer, at, withSoft(clause, end, next)))}
                onKeep={(next) => put(withSoft(clause, end, next), "softness")} onDrop={drop} />
              <button type="button" className="key" onClick={() => put(withLimit(clause, end, null), `${words} taken away`)}>
                No limit
              </button>
            </div>
          );
        })}
      </div>
      <div className="mt-3 flex gap-2">
        <button type="button" className="key" aria-pressed={clause.opposite} onClick={() => put({ ...clause, opposite: !clause.opposite }, "opposite")}>
          {clause.opposite ? "As it was" : "The opposite"}
        </button>
        <button type="button" className="key"
          onClick={() => keep(`${layer.name}: ${clause.measure} clause removed`, inLayer(layer.id, (one) => ({ ...one, rule: { ...one.rule, clauses: one.rule.clauses.toSpliced(at, 1) } })))}>
          Remove the clause
        </button>
      </div>
    </Panel>
  );
}

function limitFor(end: End, clause: Clause, range: Range, measure: Measure): number {
  const other = limit(clause, end === "lower" ? "upper" : "lower");
  const low = measure.name === "slope" ? 0 : range.lowest_m;
  const high = measure.name === "slope" ? 60 : range.highest_m;
  const from = other ?? (low + high) / 2;
  return Math.round(end === "lower" ? (low + from) / 2 : (high + from) / 2);
}

/** How much of this ground lies at each value, with the clause's limits on it. */
function Histogram({ clause, range, facts }: { clause: Clause; range: Range; facts: Facts | null }) {
  if (!facts) return <p className="text-quiet">Measuring…</p>;
  const slope = clause.measure === "slope";
  const counts = slope
    ? (facts.chart[0] ?? []).map((_, k) => facts.chart.reduce((sum, row) => sum + (row[k] ?? 0), 0))
    : facts.chart.map((row) => row.reduce((sum, n) => sum + n, 0));
  const low = slope ? 0 : range.lowest_m;
  const high = slope ? facts.steepestDeg : range.highest_m;
  const most = Math.max(...counts, 1);
  const total = counts.reduce((sum, n) => sum + n, 0);
  const place = (v: number) => Math.min(300, Math.max(0, ((v - low) / (high - low)) * 300));
  const lower = limit(clause, "lower");
  const upper = limit(clause, "upper");
  const inside = counts.reduce((sum, n, k) => {
    const middle = low + ((k + 0.5) / counts.length) * (high - low);
    return (lower === null || middle >= lower) && (upper === null || middle <= upper) ? sum + n : sum;
  }, 0);
  const share = total ? inside / total : 0;
  return (
    <figure>
      <svg width="304" height="84" role="img" aria-label={`Histogram of ${clause.measure}`}>
        {counts.map((n, k) => (
          <rect key={k} x={2 + (k * 300) / counts.length} y={64 - (n / most) * 58} width={300 / counts.length - 0.5} height={(n / most) * 58} fill="#5d5f61" />
        ))}
        <path d="M2 64h300" stroke="#1c1d1e" />
        {[lower, upper].map((value, k) => value !== null && (
          <path key={k} d={`M${2 + place(value)} 2v66`} stroke="#c8401f" strokeWidth="1.6" />
        ))}
        <g className="figures" fontSize="11" fill="#5d5f61">
          <text x="2" y="79">{shown(low, 0)}{slope ? "°" : " m"}</text>
          <text x="302" y="79" textAnchor="end">{shown(high, 0)}{slope ? "°" : " m"}</text>
        </g>
      </svg>
      <figcaption className="figures text-quiet">
        within the limits: {shown((clause.opposite ? 1 - share : share) * 100, 1)}% of the ground
      </figcaption>
    </figure>
  );
}
