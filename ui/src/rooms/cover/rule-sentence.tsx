/** A layer's rule as a sentence whose numbers are dragged, typed or stepped. */

import { useState } from "react";
import { inRuled, useSite, type Ruled } from "../../state/site";
import { AddClause } from "./add-clause";
import { ClausePhrase } from "./clause-phrase";
import { percent } from "./column";
import { foldedRuns } from "./edit-rule";
import { RuleMenu } from "./rule-menu";

interface SentenceProps {
  layer: Ruled;
  opacity: number;
  first: boolean;
  /** Of the ground that it takes, 0..1; null while that is being found or where it is not told. */
  share?: number | null;
}

export function RuleSentence({ layer, opacity, first, share = null }: SentenceProps) {
  const { keep } = useSite.getState();
  const { clauses } = layer.rule;
  const [unfolded, setUnfolded] = useState(false);
  if (first) {
    return (
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies everywhere, under all others. What other layers leave open, it covers.
      </p>
    );
  }
  const standing = clauses.filter((one) => one.join !== "break-up");
  const runs = foldedRuns(clauses);
  const folds = runs.some((run) => run.hidden > 0);
  return (
    <>
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies{" "}
        {standing.length === 0
          ? "everywhere"
          : standing[0]?.join === "except"
            ? ""
            : standing[0]?.kind === "measure"
              ? "on ground "
              : ""}
        {runs.map(({ from, to, hidden }) => (
          <span key={from}>
            {clauses.slice(from, unfolded ? to : to - hidden).map((clause, k) => (
              <ClausePhrase
                key={`${clause.kind}-${from + k}`}
                layer={layer}
                clause={clause}
                at={{ k: from + k }}
                first={clause === standing[0]}
              />
            ))}
            {hidden > 0 && !unfolded && (
              <button type="button" className="ml-1 underline" onClick={() => setUnfolded(true)}>
                and {hidden} more like it
              </button>
            )}
          </span>
        ))}
        .{share !== null && <span className="figures text-quiet"> It takes {percent(share)} of the ground.</span>}
      </p>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <AddClause layer={layer} />
        <RuleMenu layer={layer} opacity={opacity} />
        {clauses.length > 0 && (
          <button
            type="button"
            className="key"
            title="Takes all its clauses away; one step of undo brings them back"
            onClick={() =>
              keep(
                `${layer.name} lies everywhere`,
                inRuled(layer.id, () => ({ clauses: [] })),
              )
            }
          >
            Lie everywhere
          </button>
        )}
        {folds && unfolded && (
          <button type="button" className="key" onClick={() => setUnfolded(false)}>
            Fold
          </button>
        )}
      </div>
    </>
  );
}
