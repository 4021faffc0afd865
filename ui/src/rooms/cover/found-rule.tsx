/** What a mask comes to over this ground's measures: the rule that says it best, how well, where it errs. */

import { Trouble } from "../../parts/trouble";
import { useEffect, useState } from "react";
import * as api from "../../api/judging";
import { shown } from "../../parts/number";
import { useSite, type Ruled } from "../../state/site";
import { made, type Clause } from "./clauses";
import { inRule, labelOf, ruled } from "./edit-rule";

interface FoundRuleProps {
  layer: Ruled;
  clause: Clause;
  k: number;
}

export function FoundRule({ layer, clause, k }: FoundRuleProps) {
  const [found, setFound] = useState<api.FoundRule | null>(null);
  const [errors, setErrors] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [denies, setDenies] = useState("");
  const masks = useSite((s) => s.shown?.marks.masks ?? []);
  const others = clause.kind === "painted" ? masks.filter((one) => one.id !== clause.mask) : [];
  useEffect(
    () => () => {
      if (errors) URL.revokeObjectURL(errors);
    },
    [errors],
  );

  async function find() {
    const recipe = useSite.getState().shown;
    if (!recipe) return;
    const mask = { clauses: [{ ...clause, join: "and" as const }] };
    setBusy(true);
    setTrouble(null);
    try {
      const no = recipe.marks.masks.find((one) => one.id === denies);
      const told = await api.findRule(recipe, mask, no ? { clauses: [made.painted(no.id, no.name)] } : null);
      setFound(told);
      // strokes say nothing of most of the ground: there it cannot err
      setErrors(no ? null : URL.createObjectURL(await api.ruleErrors(recipe, mask, told.rule)));
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  }

  /** The rule, and what it leaves of the mask painted beside it, as one step. */
  async function takeAll(rule: api.FoundRule["rule"]) {
    const { shown: recipe, keep } = useSite.getState();
    if (!recipe) return;
    setBusy(true);
    setTrouble(null);
    try {
      const called = "called" in clause ? clause.called : layer.name;
      const taken = await api.takeRule(recipe, { clauses: [{ ...clause, join: "and" as const }] }, rule, called);
      keep(labelOf(layer, clause, "became a rule, the rest painted"), (now) =>
        inRule(layer, (one) => ruled(one, k, taken.rule.clauses))({ ...now, marks: taken.marks }),
      );
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  }

  return (
    <section aria-label="The rule that a mask comes to" className="grid gap-1.5 border-t border-rule pt-2">
      <button
        type="button"
        className="key justify-self-start"
        disabled={busy}
        title="Few clauses over this ground's measures that say the same"
        onClick={() => void find()}
      >
        {busy ? "Looking for the rule…" : "Find the rule"}
      </button>
      {others.length > 0 && (
        <label className="flex items-center gap-1.5">
          <span className="text-quiet">judged</span>
          <select
            className="field min-w-0 flex-1"
            aria-label="What the rule is judged by"
            value={denies}
            onChange={(event) => {
              setDenies(event.target.value);
              setFound(null);
            }}
          >
            <option value="">by all of the ground</option>
            {others.map((one) => (
              <option key={one.id} value={one.id}>
                by strokes: not where {one.name} is
              </option>
            ))}
          </select>
        </label>
      )}
      <Trouble says={trouble} />
      {found && !found.explained && (
        <p>
          <b className="font-semibold">No measure of this ground explains it.</b> The best rule is hardly better than
          chance: it tells {shown(found.told * 100, 0)}% of what could be told apart.
        </p>
      )}
      {found?.explained && (
        <>
          <p>
            <b className="font-semibold">{found.sentence}</b>
          </p>
          <p className="figures text-quiet">
            right on {shown(found.right * 100, 1)}% of places it had not seen · overlap {shown(found.overlap, 2)} of 1
          </p>
        </>
      )}
      {found?.explained && errors && (
        <figure>
          <img src={errors} alt="Where the rule errs" className="max-h-40 border border-rule" />
          <figcaption className="text-xs text-quiet">
            dark both, light neither, <span className="text-accent">red</span> missed,{" "}
            <span className="font-semibold text-[#466e96]">blue</span> too much
          </figcaption>
        </figure>
      )}
      {found && found.more.length > 0 && (
        <p className="text-xs text-quiet">
          Also: {found.more.map((one) => `${one.join} ${one.words} (+${shown(one.gain, 3)})`).join("; ")}
        </p>
      )}
      {found?.explained && (
        <div className="flex gap-1.5">
          <button
            type="button"
            className="key-strong"
            onClick={() =>
              useSite.getState().keep(
                labelOf(layer, clause, "became a rule"),
                inRule(layer, (one) => ruled(one, k, found.rule.clauses)),
              )
            }
          >
            Take it
          </button>
          <button
            type="button"
            className="key"
            disabled={busy || denies !== ""}
            title="What the rule misses, and where it is too much, stays as two small painted masks"
            onClick={() => void takeAll(found.rule)}
          >
            Take it, the rest painted
          </button>
        </div>
      )}
    </section>
  );
}
