/** What a mask comes to over this ground's measures: the rule that says it best, how well, where it errs. */

import { useEffect, useState } from "react";
import * as api from "../../api/judging";
import { shown } from "../../parts/number";
import { useSite, type Ruled } from "../../state/site";
import type { Clause } from "./clauses";
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
      const told = await api.findRule(recipe, mask);
      setFound(told);
      setErrors(URL.createObjectURL(await api.ruleErrors(recipe, mask, told.rule)));
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
      {trouble && (
        <p role="alert" className="text-warn">
          {trouble}
        </p>
      )}
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
        <button
          type="button"
          className="key-strong justify-self-start"
          onClick={() =>
            useSite.getState().keep(
              labelOf(layer, clause, "became a rule"),
              inRule(layer, (one) => ruled(one, k, found.rule.clauses)),
            )
          }
        >
          Take it
        </button>
      )}
    </section>
  );
}
