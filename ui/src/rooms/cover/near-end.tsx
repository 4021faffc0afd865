/** A limit of nearness: metres to drag, and how softly it ends. */

import { numberOf } from "../../state/numbers";
import type { OnNear } from "../../generated/recipe";
import { Num } from "../../parts/number";
import { useSite, type Ruled } from "../../state/site";
import { softOf, withLimit, withSoft, type Clause, type End } from "./clauses";
import { labelOf, withClause, type At } from "./edit-rule";

const AWAY = numberOf("OnNear", "upper");

/** How far from something a clause on nearness goes, and how softly it ends there. */
export function NearEnd({
  layer,
  clause,
  at,
  end,
  value,
}: {
  layer: Ruled;
  clause: OnNear;
  at: At;
  end: End;
  value: number;
}) {
  const { preview, keep, drop } = useSite.getState();
  const number = (of: number, label: string, change: (v: number) => OnNear) => (
    <Num
      {...AWAY}
      label={label}
      strong={label.endsWith("m away")}
      value={of}
      perPixel={(AWAY.perPixel ?? AWAY.step) + of / 90}
      onMove={(v) => preview(withClause(layer, at, change(v)))}
      onKeep={(v) => keep(`${layer.name}: near ${clause.called}`, withClause(layer, at, change(v)))}
      onDrop={drop}
    />
  );
  return (
    <>
      {number(value, `${layer.name}, ${clause.called}, m away`, (v) => withLimit(clause, end, v))}
      <span className="text-quiet"> soft </span>
      {number(softOf(clause, end), `${layer.name}, ${clause.called}, softness`, (v) => withSoft(clause, end, v))}
    </>
  );
}

/** Nearer than, and further than. */
export function NearEnds({ layer, clause, at }: { layer: Ruled; clause: OnNear; at: At }) {
  const { keep } = useSite.getState();
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  return (
    <div className="grid gap-1.5">
      {(["upper", "lower"] as const).map((end) => {
        const value = clause[end];
        const word = end === "upper" ? "nearer than" : "further than";
        return value === null ? (
          <button
            key={end}
            type="button"
            className="key justify-self-start"
            onClick={() => put(withLimit(clause, end, end === "upper" ? (clause.lower ?? 0) + 1 : 0), `${word} added`)}
          >
            Limit it: {word} …
          </button>
        ) : (
          <p key={end} className="flex items-baseline gap-2">
            {word} <NearEnd layer={layer} clause={clause} at={at} end={end} value={value} />
            <button
              type="button"
              className="text-xs underline"
              onClick={() => put(withLimit(clause, end, null), `${word} taken away`)}
            >
              no limit
            </button>
          </p>
        );
      })}
    </div>
  );
}
