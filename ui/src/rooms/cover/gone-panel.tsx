/** A clause whose mask, path, image or layer is no longer there: named, and offered to be mended. */

import { Panel } from "../../parts/panel";
import { useSite, type Ruled } from "../../state/site";
import { thingOf } from "../things/set/set-things";
import { made, nearOf, type Clause } from "./clauses";
import { useAskable } from "./use-askable";
import { changed, labelOf, withClause, inRule, type At } from "./edit-rule";

const WHAT = { painted: "mask", path: "path", image: "image", layer: "layer", near: "strew, path or thing" } as const;

export function GonePanel({ layer, clause, at, called }: { layer: Ruled; clause: Clause; at: At; called: string }) {
  const recipe = useSite((s) => s.shown);
  const { keep } = useSite.getState();
  const { layers: askable, strews } = useAskable(layer.id);
  const on = thingOf(recipe, layer.id);
  if (!recipe) return null;
  if (clause.kind === "measure" || clause.kind === "noise" || clause.kind === "bracket" || clause.kind === "thing")
    return null;
  const others = {
    painted: [...(on?.cover.masks ?? []), ...recipe.marks.masks],
    path: recipe.marks.paths,
    image: on?.cover.images ?? recipe.marks.images,
    layer: askable,
    near: clause.kind === "near" && clause.to !== "strew" ? nearOf(clause.to, recipe) : strews,
  }[clause.kind];
  const with_ = (id: string, name: string): Clause => {
    const kept = { join: clause.join, strength: clause.strength, opposite: clause.opposite };
    switch (clause.kind) {
      case "painted":
        return { ...made.painted(id, name), ...kept };
      case "path":
        return { ...made.path(id, name), ...kept };
      case "image":
        return { ...made.image(id, name, clause.channel), ...kept };
      case "near":
        return { ...clause, target: id, called: name };
      default:
        return { ...made.layer(id, name), ...kept };
    }
  };
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
        The {WHAT[clause.kind]} <b>{called}</b> is no longer there. Until it is mended this clause lets nothing in. Undo
        brings it back.
      </p>
      <div className="mt-2 grid gap-1">
        {others.map((one) => (
          <button
            key={one.id}
            type="button"
            className="key text-left"
            onClick={() =>
              keep(labelOf(layer, clause, `now ${one.name}`), withClause(layer, at, with_(one.id, one.name)))
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
