/** Laying a set on the column: it begins where such material lies, and its share is told where its rule stands. */

import { newId } from "../../parts/new-id";
import * as api from "../../api/client";
import type { SetLine } from "../../api/stock";
import { useSite } from "../../state/site";

/** Lay a set; `at` is how many layers are below it, on top where it is left out. */
export function lay(set: Pick<SetLine, "name" | "title">, at?: number): void {
  const { shown, underWay, say } = useSite.getState();
  if (!shown) return;
  underWay(
    api.beginLayer(shown, newId(), set.name).then(
      ({ layer }) => {
        const { keep, select } = useSite.getState();
        keep(`laid ${set.title}`, (recipe) => ({
          ...recipe,
          layers: recipe.layers.toSpliced(at ?? recipe.layers.length, 0, layer),
        }));
        select(layer.id);
      },
      (error: unknown) => say(error instanceof Error ? error.message : String(error)),
    ),
  );
}
