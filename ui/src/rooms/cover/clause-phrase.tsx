/** One clause of the sentence: its words, its numbers to drag, and the door to all the rest of it. */

import { numberOf } from "../../state/numbers";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { useBeginnings } from "../../state/ground";
import { useSite, type Ruled } from "../../state/site";
import type { OnMeasure } from "../../generated/recipe";
import {
  compass,
  filled,
  goneName,
  kindOf,
  measureOf,
  softSpan,
  KINDS,
  textOf,
  withLimit,
  withSoft,
  type Clause,
  type End,
} from "./clauses";
import { ClausePanel } from "./clause-panel";
import { GonePanel } from "./gone-panel";
import { NearEnd } from "./near-end";
import { ThingWords } from "./thing-ends";
import { joining, labelOf, withClause, type At } from "./edit-rule";

interface PhraseProps {
  layer: Ruled;
  clause: Clause;
  at: At;
  first: boolean;
}

export function ClausePhrase({ layer, clause, at, first }: PhraseProps) {
  const recipe = useSite((s) => s.shown);
  const gone = recipe ? goneName(clause, recipe) : null;
  return (
    <span data-clause={`${at.k}${at.inside === undefined ? "" : `.${at.inside}`}`}>
      <span className="text-quiet">{joining(clause, first)}</span>
      {clause.opposite && <b className="font-semibold">not </b>}
      {gone !== null ? (
        <GonePanel layer={layer} clause={clause} at={at} called={gone} />
      ) : (
        <Words layer={layer} clause={clause} at={at} />
      )}
    </span>
  );
}

function Door({ layer, clause, at, children }: { layer: Ruled; clause: Clause; at: At; children: React.ReactNode }) {
  return (
    <Panel
      title={`Clause of ${layer.name}`}
      width={348}
      side="top"
      trigger={
        <button
          type="button"
          className="font-semibold underline decoration-rule decoration-2 underline-offset-4 hover:decoration-ink"
          title="Opens its histogram, limits and joins"
        >
          {children}
        </button>
      }
    >
      <ClausePanel layer={layer} clause={clause} at={at} />
    </Panel>
  );
}

function Words({ layer, clause, at }: { layer: Ruled; clause: Clause; at: At }) {
  const { preview, keep, drop } = useSite.getState();
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  const show = (next: Clause) => preview(withClause(layer, at, next));
  switch (clause.kind) {
    case "measure":
      return <MeasureWords layer={layer} clause={clause} at={at} />;
    case "noise":
      return (
        <>
          {clause.join !== "break-up" && "in "}
          <Door layer={layer} clause={clause} at={at}>
            {clause.noise === "soft" ? "noise" : `${clause.noise} noise`}
          </Door>{" "}
          of{" "}
          <Num
            {...numberOf("OnNoise", "size_m")}
            label="Size of the noise"
            value={clause.size_m}
            digits={clause.size_m < 10 ? 2 : 1}
            perPixel={0.05 + clause.size_m / 120}
            onMove={(size_m) => show({ ...clause, size_m })}
            onKeep={(size_m) => put({ ...clause, size_m }, `size ${shown(size_m, 1)} m`)}
            onDrop={drop}
          />
          {clause.join === "break-up" && (
            <>
              <span className="text-quiet"> strength </span>
              <Num
                {...numberOf("OnNoise", "strength")}
                label="Strength of the break-up"
                value={clause.strength}
                onMove={(strength) => show({ ...clause, strength })}
                onKeep={(strength) => put({ ...clause, strength }, "strength")}
                onDrop={drop}
              />
            </>
          )}
        </>
      );
    case "thing":
      return (
        <ThingWords
          layer={layer}
          clause={clause}
          at={at}
          door={(words) => (
            <Door layer={layer} clause={clause} at={at}>
              {words}
            </Door>
          )}
        />
      );
    case "near":
      return (
        <>
          {clause.upper !== null ? "within " : ""}
          {clause.upper !== null && <NearEnd layer={layer} clause={clause} at={at} end="upper" value={clause.upper} />}
          {clause.lower !== null && (clause.upper !== null ? " and further than " : "further than ")}
          {clause.lower !== null && (
            <NearEnd layer={layer} clause={clause} at={at} end="lower" value={clause.lower} />
          )}{" "}
          of{" "}
          <Door layer={layer} clause={clause} at={at}>
            {clause.called}
          </Door>
        </>
      );
    case "bracket":
      return (
        <>
          <Door layer={layer} clause={clause} at={at}>
            (
          </Door>
          {clause.clauses.map((one, inside) => (
            <ClausePhrase
              key={`${one.kind}-${inside}`}
              layer={layer}
              clause={one}
              at={{ k: at.k, inside }}
              first={inside === 0}
            />
          ))}
          <b className="font-semibold">)</b>
        </>
      );
    default:
      return <Told layer={layer} clause={clause} at={at} />;
  }
}

/** A clause by its kind's phrase: words, numbers to drag, and the door to the rest of it in brackets. */
function Told({ layer, clause, at }: { layer: Ruled; clause: Clause; at: At }) {
  const kind = kindOf(clause);
  const { preview, keep, drop } = useSite.getState();
  if (!kind) return null;
  const [before = "", door = "", after = ""] = kind.phrase.split(/[[\]]/);
  const told = (text: string) =>
    text.split(/(\{\w+(?::g)?\})/).map((part, k) => {
      const number = kind.numbers.find((one) => `{${one.field}:g}` === part);
      if (!number) return <span key={`${k}`}>{filled(part, clause)}</span>;
      const { pixel, ...shown } = number.shown;
      const value = Number(textOf(clause, number.field));
      const changed = (next: number): Clause => ({ ...clause, [number.field]: next });
      return (
        <Num
          key={`${k}`}
          {...shown}
          perPixel={pixel || shown.step}
          value={value}
          onMove={(next) => preview(withClause(layer, at, changed(next)))}
          onKeep={(next) => keep(labelOf(layer, clause, shown.label), withClause(layer, at, changed(next)))}
          onDrop={drop}
        />
      );
    });
  return (
    <>
      {told(before)}
      <Door layer={layer} clause={clause} at={at}>
        {filled(door, clause)}
      </Door>
      {told(after)}
    </>
  );
}

function MeasureWords({ layer, clause, at }: { layer: Ruled; clause: OnMeasure; at: At }) {
  const begin = useBeginnings();
  const measure = measureOf(clause.measure, begin);
  const words = KINDS[clause.measure];
  const { preview, keep, drop } = useSite.getState();
  const facing = clause.measure === "aspect";

  const word = (end: End) => (end === "lower" ? words.above : words.below);
  const ends = (["lower", "upper"] as const).filter((end) => clause[end] !== null);
  const number = (end: End) => {
    const value = clause[end] ?? 0;
    const soft = end === "lower" ? clause.soft_lower : clause.soft_upper;
    return (
      <>
        {facing && <span>{compass(value)} </span>}
        <Num
          label={`${layer.name}, ${word(end)}`}
          strong
          value={value}
          unit={measure.unit}
          least={measure.least}
          most={measure.most}
          step={measure.step}
          digits={measure.digits}
          perPixel={measure.perPixel(value)}
          onMove={(next) => preview(withClause(layer, at, withLimit(clause, end, next)))}
          onKeep={(next) =>
            keep(
              `${layer.name}: ${word(end)} ${shown(next, measure.digits)} ${measure.unit}`,
              withClause(layer, at, withLimit(clause, end, next)),
            )
          }
          onDrop={drop}
        />
        <span className="text-quiet"> soft </span>
        <Num
          label={`${layer.name}, softness ${word(end)}`}
          value={soft}
          {...softSpan(measure)}
          perPixel={measure.perPixel(soft) / 2}
          onMove={(next) => preview(withClause(layer, at, withSoft(clause, end, next)))}
          onKeep={(next) => keep(`${layer.name}: softness`, withClause(layer, at, withSoft(clause, end, next)))}
          onDrop={drop}
        />
      </>
    );
  };
  // one door for both ends, so that its panel stays open while limits come and go
  return (
    <>
      <Door layer={layer} clause={clause} at={at}>
        {ends[0] ? word(ends[0]) : `of any ${words.title.toLowerCase()}`}
      </Door>{" "}
      {ends.map((end, k) => (
        <span key={end}>
          {k > 0 && <span className={facing ? "" : "text-quiet"}>{facing ? ` ${word(end)} ` : " and "}</span>}
          {k > 0 && !facing && `${word(end)} `}
          {number(end)}
        </span>
      ))}
      {clause.every !== null && (
        <>
          <span className="text-quiet">, again every </span>
          <Num
            label={`${layer.name}, again every`}
            strong
            value={clause.every}
            unit={measure.unit}
            least={Number(((clause.upper ?? 0) - (clause.lower ?? 0) + measure.step).toFixed(measure.digits))}
            most={measure.most - measure.least}
            step={measure.step}
            digits={measure.digits}
            perPixel={measure.perPixel(clause.every)}
            onMove={(every) => preview(withClause(layer, at, { ...clause, every }))}
            onKeep={(every) => keep(`${layer.name}: bands apart`, withClause(layer, at, { ...clause, every }))}
            onDrop={drop}
          />
        </>
      )}
    </>
  );
}
