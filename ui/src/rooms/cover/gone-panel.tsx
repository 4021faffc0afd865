/** A clause whose mask, path, image or layer is no longer there: named, and offered to be mended. */

import { Panel } from "../../parts/panel";
import { useSite, type Ruled } from "../../state/site";
import { thingOf } from "../things/set/set-things";
import { kindOf, pointedAt, referenceOf, type Clause } from "./clauses";
import { candidates, useAskable } from "./use-askable";
import { changed, labelOf, withClause, inRule, type At } from "./edit-rule";

export function GonePanel({ layer, clause, at, called }: { layer: Ruled; clause: Clause; at: At; called: string }) {
  const recipe = useSite((s) => s.shown);
  const { keep } = useSite.getState();
  const askable = useAskable(layer.id);
  const on = thingOf(recipe, layer.id);
  if (!recipe) return null;
  const reference = referenceOf(clause);
  const kind = kindOf(clause);
  if (!reference || !kind) return null;
  const others = candidates(reference.where, recipe, on, askable);
  return (
    <Panel
      title="A clause to mend"
      width={280}
      side="top"
      trigger={
        <button type="button" className="bg-raised px-1 font-semibold text-warn underline">
          {called}, which is gone
        </button>
      }
    >
      <p>
        The {reference.where} <b>{called}</b> is no longer there. Until it is mended this clause lets nothing in. Undo
        brings it back.
      </p>
      <div className="mt-2 grid gap-1">
        {others.map((one) => (
          <button
            key={one.id}
            type="button"
            className="key text-left"
            onClick={() =>
              keep(
                labelOf(layer, clause, `now ${one.name}`),
                withClause(layer, at, pointedAt(clause, reference.where, one)),
              )
            }
          >
            Take {one.name} instead
          </button>
        ))}
        <button
          type="button"
          className="key text-left"
          onClick={() =>
            keep(
              labelOf(layer, clause, "taken out"),
              inRule(layer, (now) => changed(now, at, null)),
            )
          }
        >
          Take the clause out
        </button>
      </div>
    </Panel>
  );
}
