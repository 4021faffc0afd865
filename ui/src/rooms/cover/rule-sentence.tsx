/** A layer's rule as a sentence whose numbers are dragged, typed or stepped. */

import type { Ruled } from "../../state/site";
import { AddClause } from "./add-clause";
import { ClausePhrase } from "./clause-phrase";
import { RuleMenu } from "./rule-menu";

export function RuleSentence({ layer, opacity, first }: { layer: Ruled; opacity: number; first: boolean }) {
  const { clauses } = layer.rule;
  if (first) {
    return (
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies everywhere, under all others. What other layers leave open, it covers.
      </p>
    );
  }
  const standing = clauses.filter((one) => one.join !== "break-up");
  return (
    <>
      <p className="text-[15px] leading-[1.72]">
        <b>{layer.name}</b> lies {standing.length === 0 ? "everywhere" : standing[0]?.join === "except" ? "" : standing[0]?.kind === "measure" ? "on ground " : ""}
        {clauses.map((clause, k) => (
          <ClausePhrase key={`${clause.kind}-${k}`} layer={layer} clause={clause} at={{ k }} first={clause === standing[0]} />
        ))}
        .
      </p>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <AddClause layer={layer} />
        <RuleMenu layer={layer} opacity={opacity} />
      </div>
    </>
  );
}
