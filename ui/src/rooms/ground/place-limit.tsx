/** Where a step takes hold: a sentence of clauses, like a layer's rule. */

import { CATALOGUE } from "../../generated/catalogue";
import { GROUND_MEASURES } from "../../state/measures";
import type { MeasureClause } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { useBeginnings } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep } from "../../state/steps";
import {
  measureOf,
  MEASURES,
  newLimit,
  SHORT,
  softOf,
  softSpan,
  withLimit,
  withSoft,
  KINDS,
  type End,
} from "../cover/clauses";
import type { Step } from "./step-kinds";

export function PlaceLimit({ step }: { step: Step }) {
  const begin = useBeginnings();
  const { keep } = useSite.getState();
  const add = (name: MeasureClause["measure"]) =>
    keep(`${step.name}: limited by ${SHORT[name]}`, inStep(step.id, { where: [...step.where, newLimit(name, begin)] }));
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
        <select
          className="field w-auto"
          aria-label="Limit it by"
          value=""
          disabled={step.where.length >= CATALOGUE.most.where}
          onChange={(event) => {
            const name = MEASURES.find((one) => one === event.target.value);
            if (name) add(name);
          }}
        >
          <option value="">Limit by…</option>
          {GROUND_MEASURES.map(({ name }) => (
            <option key={name} value={name}>
              {SHORT[name]}
            </option>
          ))}
        </select>
      </div>
    </div>
  );
}

function Phrase({ step, clause, at }: { step: Step; clause: MeasureClause; at: number }) {
  const begin = useBeginnings();
  const measure = measureOf(clause.measure, begin);
  const said = KINDS[clause.measure];
  const { preview, keep, drop } = useSite.getState();
  const change = (next: MeasureClause) => inStep(step.id, (one) => ({ ...one, where: one.where.with(at, next) }));
  const number = (end: End) => {
    const value = clause[end];
    if (value === null) return null;
    const words = end === "lower" ? said.above : said.below;
    return (
      <span key={end}>
        {words}{" "}
        <Num
          label={`${step.name}, ${words}`}
          value={value}
          unit={measure.unit}
          least={measure.least}
          most={measure.most}
          step={measure.step}
          digits={measure.digits}
          perPixel={measure.perPixel(value)}
          onMove={(next) => preview(change(withLimit(clause, end, next)))}
          onKeep={(next) =>
            keep(`${step.name}: ${words} ${shown(next, 1)} ${measure.unit}`, change(withLimit(clause, end, next)))
          }
          onDrop={drop}
        />
        <span className="text-quiet"> soft over </span>
        <Num
          label={`${step.name}, softness ${words}`}
          value={softOf(clause, end)}
          {...softSpan(measure)}
          perPixel={measure.perPixel(softOf(clause, end))}
          onMove={(next) => preview(change(withSoft(clause, end, next)))}
          onKeep={(next) => keep(`${step.name}: softness`, change(withSoft(clause, end, next)))}
          onDrop={drop}
        />
      </span>
    );
  };
  const ends = (["lower", "upper"] as const).filter((end) => clause[end] !== null);
  const missing = (["lower", "upper"] as const).filter((end) => clause[end] === null);
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
        <button
          key={end}
          type="button"
          className="ml-1.5 text-xs text-quiet underline"
          onClick={() =>
            keep(`${step.name}: another limit`, change(withLimit(clause, end, startOf(clause, end, measure))))
          }
        >
          {end === "lower" ? said.above : said.below}…
        </button>
      ))}
      <button
        type="button"
        className="ml-1.5 text-xs text-quiet underline"
        onClick={() => keep(`${step.name}: the opposite place`, change({ ...clause, opposite: !clause.opposite }))}
      >
        opposite
      </button>
      <button
        type="button"
        className="ml-1.5 text-xs text-quiet underline"
        onClick={() =>
          keep(
            `${step.name}: a limit less`,
            inStep(step.id, (one) => ({ ...one, where: one.where.toSpliced(at, 1) })),
          )
        }
      >
        take out
      </button>
    </>
  );
}

/** Where a further limit begins: three soft ends away from the one that is there. */
function startOf(clause: MeasureClause, end: End, measure: ReturnType<typeof measureOf>): number {
  const other = clause[end === "lower" ? "upper" : "lower"] ?? 0;
  const by = Math.max(measure.soft * 3, measure.step * 10) * (end === "lower" ? -1 : 1);
  return Math.min(measure.most, Math.max(measure.least, Number((other + by).toFixed(measure.digits))));
}
