/** Limits of what a place on a thing is like: numbers to drag, in the sentence and in the clause's panel. */

import type { OnThing } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { useSite, type Ruled } from "../../state/site";
import { softOf, thingMeasure, withLimit, withSoft, type Clause, type End } from "./clauses";
import { labelOf, withClause, type At } from "./edit-rule";

interface EndProps {
  layer: Ruled;
  clause: OnThing;
  at: At;
}

const word = (clause: OnThing, end: End) => thingMeasure(clause.of)[end === "lower" ? "above" : "below"];

function Ends({ layer, clause, at, end, value }: EndProps & { end: End; value: number }) {
  const { preview, keep, drop } = useSite.getState();
  const kind = thingMeasure(clause.of);
  const number = (of: number, label: string, least: number, change: (v: number) => OnThing) => (
    <Num
      label={`${layer.name}, ${label}`}
      strong={least < 0 || label === word(clause, end)}
      value={of}
      unit={kind.unit}
      least={least}
      most={kind.most}
      step={kind.step}
      digits={kind.digits}
      perPixel={Math.max(kind.step / 2, Math.abs(of) / 90)}
      onMove={(v) => preview(withClause(layer, at, change(v)))}
      onKeep={(v) => keep(`${layer.name}: ${label} ${shown(v, kind.digits)}`, withClause(layer, at, change(v)))}
      onDrop={drop}
    />
  );
  return (
    <>
      {number(value, word(clause, end), kind.least, (v) => withLimit(clause, end, v))}
      <span className="text-quiet"> soft </span>
      {number(softOf(clause, end), `softness ${word(clause, end)}`, 0, (v) => withSoft(clause, end, v))}
    </>
  );
}

export function ThingWords({ layer, clause, at, door }: EndProps & { door: (words: string) => React.ReactNode }) {
  const ends = (["lower", "upper"] as const).flatMap((end) => {
    const value = clause[end];
    return value === null ? [] : [{ end, value }];
  });
  return (
    <>
      {door(ends[0] ? word(clause, ends[0].end) : thingMeasure(clause.of).title.toLowerCase())}{" "}
      {ends.map(({ end, value }, k) => (
        <span key={end}>
          {k > 0 && ` and ${word(clause, end)} `}
          <Ends layer={layer} clause={clause} at={at} end={end} value={value} />
        </span>
      ))}
    </>
  );
}

export function ThingEnds({ layer, clause, at }: EndProps) {
  const { keep } = useSite.getState();
  const kind = thingMeasure(clause.of);
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  return (
    <div className="grid gap-1.5">
      <p className="text-quiet">{kind.about}</p>
      {(["lower", "upper"] as const).map((end) => {
        const value = clause[end];
        const begun = kind.begins[end] ?? kind.begins[end === "lower" ? "upper" : "lower"] ?? 0;
        return value === null ? (
          <button
            key={end}
            type="button"
            className="key justify-self-start"
            onClick={() => put(withLimit(clause, end, begun), `${word(clause, end)} added`)}
          >
            Limit it: {word(clause, end)} …
          </button>
        ) : (
          <p key={end} className="flex flex-wrap items-baseline gap-x-2">
            {word(clause, end)} <Ends layer={layer} clause={clause} at={at} end={end} value={value} />
            <button
              type="button"
              className="text-xs underline"
              onClick={() => put(withLimit(clause, end, null), `${word(clause, end)} taken away`)}
            >
              no limit
            </button>
          </p>
        );
      })}
    </div>
  );
}
