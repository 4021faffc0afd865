/** Everything about one clause: histogram with its limits and share, softness, opposite, curve, how it is joined. */

import { numberOf, percentOf } from "../../state/numbers";
import * as api from "../../api/client";
import type { ClauseFacts } from "../../api/types";
import { Num, shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { useLatest } from "../../parts/use-latest";
import { useBeginnings } from "../../state/ground";
import { useSite, type Ruled } from "../../state/site";
import { useTools } from "../../state/tools";
import type { ClauseKind } from "../../generated/answers";
import type { OnMeasure } from "../../generated/recipe";
import {
  compass,
  isCurved,
  isDistance,
  isValue,
  kindOf,
  measureOf,
  nameOf,
  referenceOf,
  softOf,
  softSpan,
  textOf,
  withLimit,
  withSoft,
  KINDS,
  type Clause,
  type End,
  type Limiting,
} from "./clauses";
import { ClauseCurve } from "./clause-curve";
import { ClauseHistogram } from "./clause-histogram";
import { FoundRule } from "./found-rule";
import { NearEnds } from "./near-end";
import { ThingEnds } from "./thing-ends";
import { CompassDial } from "./compass-dial";
import { bracketed, changed, JOINS, labelOf, withClause, inRule, type At } from "./edit-rule";
import { thingOf } from "../things/set/set-things";
import { paintOn } from "../things/set/thing-marks";
import { saveImage } from "./save-image";

interface PanelProps {
  layer: Ruled;
  clause: Clause;
  at: At;
}

/** The clause alone, with what breaks up its edges. */
function alone(layer: Ruled, clause: Clause): Clause[] {
  return [{ ...clause, join: "and" }, ...layer.rule.clauses.filter((one) => one.join === "break-up" && one !== clause)];
}

function useClauseFacts(layer: Ruled, clause: Clause, onGround: boolean) {
  const recipe = useSite((s) => s.shown);
  const rule = alone(layer, clause);
  const key = recipe && onGround ? JSON.stringify([recipe.ground, recipe.marks, recipe.water, rule]) : null;
  return useLatest<ClauseFacts>(key, () => {
    const now = useSite.getState().shown;
    if (!now) throw new Error("the site was closed");
    return api.clauseFacts(
      now,
      now.layers.findIndex((one) => one.id === layer.id),
      rule,
    );
  });
}

export function ClausePanel({ layer, clause, at }: PanelProps) {
  const { keep } = useSite.getState();
  const onGround = useSite((s) => thingOf(s.shown, layer.id) === null);
  const { value: facts, trouble } = useClauseFacts(layer, clause, onGround);
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  const first = at.inside === undefined ? at.k === 0 : at.inside === 0;
  const kind = kindOf(clause);
  const about = referenceOf(clause);
  const stands = clause.join !== "break-up";
  const joins = JOINS.filter(
    ({ join }) => join !== "break-up" || (at.inside === undefined && (kind?.breaksUp ?? true)),
  );
  return (
    <div className="grid gap-2.5">
      {trouble && <p className="text-warn">{trouble}</p>}
      {clause.kind === "measure" && onGround && <ClauseHistogram clause={clause} facts={facts} />}
      {clause.kind === "measure" && clause.measure === "aspect" && (
        <CompassDial
          clause={clause}
          onMove={(next) => useSite.getState().preview(withClause(layer, at, next))}
          onKeep={(next) => put(next, "facing")}
          onDrop={useSite.getState().drop}
        />
      )}
      {kind?.choices.map(({ field, choice }) => (
        <Segments
          key={field}
          label={choice.label}
          value={textOf(clause, field)}
          choices={choice.options.map(({ value, label, hint }) => (hint ? { value, label, hint } : { value, label }))}
          onChoose={(value) => put({ ...clause, [field]: value }, `${choice.label.toLowerCase()} ${value}`)}
        />
      ))}
      {onGround && (
        <p className="figures text-quiet">
          lets in {facts ? `${shown(facts.share * 100, 1)}% of this ground` : "… measuring"}
        </p>
      )}
      {clause.kind === "measure" && <MeasureEnds layer={layer} clause={clause} at={at} />}
      {isValue(clause) && stands && <ValueEnds layer={layer} clause={clause} at={at} />}
      {clause.kind === "thing" && stands && <ThingEnds layer={layer} clause={clause} at={at} />}
      {isDistance(clause) && stands && <NearEnds layer={layer} clause={clause} at={at} />}
      {kind && <KindNumbers layer={layer} clause={clause} at={at} kind={kind} />}
      {kind?.drawn && stands && at.inside === undefined && onGround && (
        <FoundRule key={`${layer.id} ${at.k}`} layer={layer} clause={clause} k={at.k} />
      )}
      {about?.where === "path" && (
        <button type="button" className="key justify-self-start" onClick={() => useTools.getState().draw(about.id)}>
          Move the points of {about.called}
        </button>
      )}
      {about?.where === "mask" && (
        <button
          type="button"
          className="key justify-self-start"
          onClick={() => {
            const { shown: recipe } = useSite.getState();
            if (recipe) paintOn(recipe, about.id);
          }}
        >
          Paint on {about.called}
        </button>
      )}
      {isCurved(clause) && stands && (
        <ClauseCurve
          curve={clause.curve}
          onMove={(curve) => useSite.getState().preview(withClause(layer, at, { ...clause, curve }))}
          onKeep={(curve) => put({ ...clause, curve }, "curve")}
        />
      )}
      <div>
        <Segments
          label="How it is joined"
          value={clause.join}
          choices={joins.map(({ join, label, hint }) => ({
            value: join,
            label: first && join === "and" ? "begins" : label,
            hint,
          }))}
          onChoose={(join) => put({ ...clause, join }, `joined by ${join}`)}
        />
      </div>
      <div className="flex flex-wrap gap-1.5">
        <button
          type="button"
          className="key"
          aria-pressed={clause.opposite}
          onClick={() => put({ ...clause, opposite: !clause.opposite }, "opposite")}
        >
          {clause.opposite ? "As it was" : "The opposite"}
        </button>
        {at.inside === undefined && clause.join !== "break-up" && (
          <button
            type="button"
            className="key"
            onClick={() =>
              keep(
                labelOf(layer, clause, "brackets"),
                inRule(layer, (now) => bracketed(now, at.k)),
              )
            }
          >
            {clause.kind === "bracket" ? "Without brackets" : "Put in brackets"}
          </button>
        )}
        <button
          type="button"
          className="key"
          onClick={() => saveImage(`${layer.name} ${nameOf(clause)}`, alone(layer, clause), 1)}
          title="16-bit grey PNG of the whole ground"
        >
          Write as image
        </button>
        <button
          type="button"
          className="key"
          onClick={() =>
            keep(
              `${layer.name}: ${nameOf(clause)} clause taken out`,
              inRule(layer, (now) => changed(now, at, null)),
            )
          }
        >
          Take out
        </button>
      </div>
    </div>
  );
}

function MeasureEnds({ layer, clause, at }: { layer: Ruled; clause: OnMeasure; at: At }) {
  const words = KINDS[clause.measure];
  const measure = measureOf(clause.measure, useBeginnings());
  const { preview, keep, drop } = useSite.getState();
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  const other = (end: End) => clause[end === "lower" ? "upper" : "lower"];
  const begin = (end: End) => {
    const from = other(end) ?? 0;
    const by = Math.max(measure.soft * 3, measure.step * 10) * (end === "lower" ? -1 : 1);
    return Math.min(measure.most, Math.max(measure.least, Number((from + by).toFixed(measure.digits))));
  };
  return (
    <div className="grid grid-cols-[1fr_auto_auto_auto] items-center gap-x-2.5 gap-y-1.5">
      {(["lower", "upper"] as const).map((end) => {
        const value = clause[end];
        const word = end === "lower" ? words.above : words.below;
        if (value === null) {
          return (
            <button
              key={end}
              type="button"
              className="key col-span-4 justify-self-start"
              onClick={() => put(withLimit(clause, end, begin(end)), `${word} added`)}
            >
              Limit it: {word} …
            </button>
          );
        }
        return (
          <div key={end} className="contents">
            <span>
              {word}
              {clause.measure === "aspect" ? ` ${compass(value)}` : ""}
            </span>
            <Num
              label={`Limit, ${word}`}
              strong
              value={value}
              unit={measure.unit}
              least={measure.least}
              most={measure.most}
              step={measure.step}
              digits={measure.digits}
              perPixel={measure.perPixel(value)}
              onMove={(next) => preview(withClause(layer, at, withLimit(clause, end, next)))}
              onKeep={(next) => put(withLimit(clause, end, next), "limit")}
              onDrop={drop}
            />
            <span className="text-quiet">
              soft{" "}
              <Num
                label={`Softness, ${word}`}
                value={softOf(clause, end)}
                {...softSpan(measure)}
                perPixel={measure.perPixel(softOf(clause, end)) / 2}
                onMove={(next) => preview(withClause(layer, at, withSoft(clause, end, next)))}
                onKeep={(next) => put(withSoft(clause, end, next), "softness")}
                onDrop={drop}
              />
            </span>
            <button
              type="button"
              className="text-xs underline"
              onClick={() => put(withLimit(clause, end, null), `${word} taken away`)}
            >
              no limit
            </button>
          </div>
        );
      })}
      {clause.lower !== null && clause.upper !== null && clause.measure !== "aspect" && (
        <Bands layer={layer} clause={clause} at={at} />
      )}
      {measure.radiusM !== null && (
        <>
          <span>within a radius of</span>
          <Num
            {...numberOf("MeasureClause", "radius_m")}
            value={clause.radius_m ?? measure.radiusM}
            perPixel={0.5}
            onMove={() => undefined}
            onKeep={(radius_m) => put({ ...clause, radius_m }, "radius")}
            onDrop={drop}
          />
        </>
      )}
    </div>
  );
}

/** Whether what lies between the limits comes again and again, how far apart, and how irregularly. */
function Bands({ layer, clause, at }: { layer: Ruled; clause: OnMeasure; at: At }) {
  const measure = measureOf(clause.measure, useBeginnings());
  const { preview, keep, drop } = useSite.getState();
  const put = (next: Clause, what: string) => keep(labelOf(layer, clause, what), withClause(layer, at, next));
  const wide = (clause.upper ?? 0) - (clause.lower ?? 0);
  // bands must not meet
  const least = Number((wide + measure.step).toFixed(measure.digits));
  if (clause.every === null) {
    return (
      <button
        type="button"
        className="key col-span-4 justify-self-start"
        title="The same again and again, as old shorelines and beds of rock are"
        onClick={() => put({ ...clause, every: Math.max(least, Number((wide * 3).toFixed(measure.digits))) }, "bands")}
      >
        Again and again …
      </button>
    );
  }
  const every = clause.every;
  return (
    <>
      <span>again every</span>
      <Num
        label="Again every"
        strong
        value={every}
        unit={measure.unit}
        least={least}
        most={measure.most - measure.least}
        step={measure.step}
        digits={measure.digits}
        perPixel={measure.perPixel(every)}
        onMove={(next) => preview(withClause(layer, at, { ...clause, every: next }))}
        onKeep={(next) => put({ ...clause, every: next }, "bands apart")}
        onDrop={drop}
      />
      <span className="text-quiet">
        irregular{" "}
        <Num
          {...percentOf("MeasureClause", "irregular")}
          label="Irregular"
          value={Math.round(clause.irregular * 100)}
          onMove={(next) => preview(withClause(layer, at, { ...clause, irregular: next / 100 }))}
          onKeep={(next) => put({ ...clause, irregular: next / 100 }, "irregular bands")}
          onDrop={drop}
        />
      </span>
      <button
        type="button"
        className="text-xs underline"
        onClick={() => put({ ...clause, every: null }, "once, not in bands")}
      >
        once
      </button>
    </>
  );
}

/** A value of 0 to 1 held between limits: nothing below the first number, all from the second on. */
function ValueEnds({ layer, clause, at }: { layer: Ruled; clause: Limiting; at: At }) {
  const { preview, keep, drop } = useSite.getState();
  const full = clause.lower ?? 1;
  const none = full - clause.soft_lower;
  const ranged = (from: number, to: number): Clause => ({
    ...clause,
    lower: to,
    soft_lower: Number(Math.max(0, to - from).toFixed(4)),
  });
  const show = (from: number, to: number) => preview(withClause(layer, at, ranged(Math.min(from, to), to)));
  const put = (from: number, to: number) =>
    keep(labelOf(layer, clause, "range"), withClause(layer, at, ranged(Math.min(from, to), to)));
  return (
    <p className="figures">
      nothing up to{" "}
      <Num
        {...numberOf("ViewNumbers", "nothing_upto")}
        value={none}
        onMove={(v) => show(v, full)}
        onKeep={(v) => put(v, full)}
        onDrop={drop}
      />
      , all from{" "}
      <Num
        {...numberOf("ViewNumbers", "all_from")}
        value={full}
        onMove={(v) => show(none, v)}
        onKeep={(v) => put(none, v)}
        onDrop={drop}
      />{" "}
      of 0 to 1
    </p>
  );
}

/** What else a kind of clause has: its numbers that are not told in the sentence. */
function KindNumbers({ layer, clause, at, kind }: PanelProps & { kind: ClauseKind }) {
  const { preview, keep, drop } = useSite.getState();
  const beside = kind.numbers.filter((one) => !kind.phrase.includes(`{${one.field}`));
  return beside.map(({ field, shown: { pixel, ...shown } }) => {
    const value = Number(textOf(clause, field));
    const changed = (next: number): Clause => ({
      ...clause,
      [field]: field === "seed" ? Math.round(next) : next,
    });
    const kept = (next: number) =>
      keep(labelOf(layer, clause, shown.label.toLowerCase()), withClause(layer, at, changed(next)));
    return (
      <p key={field} className="figures">
        {shown.label.toLowerCase()}{" "}
        <Num
          {...shown}
          perPixel={pixel || shown.step}
          value={value}
          onMove={(next) => preview(withClause(layer, at, changed(next)))}
          onKeep={kept}
          onDrop={drop}
        />
        {field === "seed" && (
          <button type="button" className="ml-2 text-xs underline" onClick={() => kept((value * 7 + 13) % 9973)}>
            another
          </button>
        )}
      </p>
    );
  });
}
