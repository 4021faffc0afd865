/** Where a step takes hold: a sentence of clauses, like a layer's rule. */

import { Num, shown } from "../../parts/number";
import { useRange } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep } from "../../state/steps";
import { limit, measureOf, newClause, soft, withLimit, withSoft, type Clause, type End } from "../cover/clauses";
import type { Step } from "./step-kinds";

export function PlaceLimit({ step }: { step: Step }) {
  const range = useRange();
  const { keep } = useSite.getState();
  const add = (name: Clause["measure"]) =>
    keep(`${step.name}: limited by ${name}`, inStep(step.id, { where: [...step.where, newClause(name, range)] }));
  return (
    <div className="mt-1.5">
      <p className="leading-[1.7]">
        It takes hold {step.where.length === 0 ? "everywhere" : "only on ground "}
        {step.where.map((clause, at) => (
          <span key={at}>
            {at > 0 && <span className="text-quiet">, and </span>}
            <Phrase step={step} clause={clause} at={at} />
          </span>
        ))}
        .
      </p>
      <div className="mt-1 flex gap-2">
        <button type="button" className="key" disabled={step.where.length >= 6} onClick={() => add("slope")}>
          Limit by slope
        </button>
        <button type="button" className="key" disabled={step.where.length >= 6} onClick={() => add("elevation")}>
          Limit by elevation
        </button>
      </div>
    </div>
  );
}

function Phrase({ step, clause, at }: { step: Step; clause: Clause; at: number }) {
  const range = useRange();
  const measure = measureOf(clause.measure, range);
  const { preview, keep, drop } = useSite.getState();
  const change = (next: Clause) => inStep(step.id, (one) => ({ ...one, where: one.where.with(at, next) }));
  const number = (end: End) => {
    const value = limit(clause, end);
    if (value === null) return null;
    const words = end === "lower" ? measure.above : measure.below;
    return (
      <span key={end}>
        {words}{" "}
        <Num label={`${step.name}, ${words}`} value={value} unit={measure.unit} least={measure.least} most={measure.most} step={measure.step}
          digits={clause.measure === "slope" ? 1 : 1} perPixel={measure.perPixel} onMove={(next) => preview(change(withLimit(clause, end, next)))}
          onKeep={(next) => keep(`${step.name}: ${words} ${shown(next, 1)} ${measure.unit}`, change(withLimit(clause, end, next)))} onDrop={drop} />
        <span className="text-quiet"> soft over </span>
        <Num label={`${step.name}, softness ${words}`} value={soft(clause, end)} unit={measure.unit} least={0} most={clause.measure === "slope" ? 90 : 5000}
          step={measure.step} digits={1} perPixel={measure.perPixel} onMove={(next) => preview(change(withSoft(clause, end, next)))}
          onKeep={(next) => keep(`${step.name}: softness`, change(withSoft(clause, end, next)))} onDrop={drop} />
      </span>
    );
  };
  const ends = (["lower", "upper"] as const).filter((end) => limit(clause, end) !== null);
  const missing = (["lower", "upper"] as const).filter((end) => limit(clause, end) === null);
  return (
    <>
      {clause.opposite && <span>not </span>}
      {ends.map((end, k) => (
        <span key={end}>
          {k > 0 && <span className="text-quiet"> and </span>}
          {number(end)}
        </span>
      ))}
      {missing.map((end) => (
        <button key={end} type="button" className="ml-1.5 text-xs text-quiet underline"
          onClick={() => keep(`${step.name}: another limit`, change(withLimit(clause, end, startOf(clause, end, range))))}>
          {end === "lower" ? measure.above : measure.below}…
        </button>
      ))}
      <button type="button" className="ml-1.5 text-xs text-quiet underline" onClick={() => keep(`${step.name}: the opposite place`, change({ ...clause, opposite: !clause.opposite }))}>
        opposite
      </button>
      <button type="button" className="ml-1.5 text-xs text-quiet underline"
        onClick={() => keep(`${step.name}: a limit less`, inStep(step.id, (one) => ({ ...one, where: one.where.toSpliced(at, 1) })))}>
        take out
      </button>
    </>
  );
}

function startOf(clause: Clause, end: End, range: { lowest_m: number; highest_m: number }): number {
  const other = limit(clause, end === "lower" ? "upper" : "lower") ?? 0;
  const span = clause.measure === "slope" ? 20 : Math.max(1, (range.highest_m - range.lowest_m) / 4);
  const wanted = end === "lower" ? other - span : other + span;
  return clause.measure === "slope" ? Math.min(90, Math.max(0, Math.round(wanted))) : Math.round(wanted);
}
