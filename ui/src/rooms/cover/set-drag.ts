/** Texture sets dragged from the stock's list onto the column or a picture. */

import * as api from "../../api/client";
import type { PictureAsked } from "../../api/types";
import type { SetLine } from "../../api/stock";
import { useSite } from "../../state/site";
import { pickThing } from "../../api/things";
import { layOnThing } from "../things/set/set-things";
import { newLayer } from "./new-layer";

export const SET_DRAG = "application/x-elvatch-set";

type Dragged = Pick<SetLine, "name" | "title" | "tileM" | "reliefM">;

export function startDrag(event: React.DragEvent, set: SetLine): void {
  const dragged: Dragged = { name: set.name, title: set.title, tileM: set.tileM, reliefM: set.reliefM };
  event.dataTransfer.setData(SET_DRAG, JSON.stringify(dragged));
  event.dataTransfer.effectAllowed = "copy";
}

export function draggedSet(event: React.DragEvent): Dragged | null {
  const text = event.dataTransfer.getData(SET_DRAG);
  if (!text) return null;
  return JSON.parse(text) as Dragged;
}

/** The thing that a set is dropped on: one set by hand, a strewn one too where things are what is worked on. */
async function thingUnder(asked: PictureAsked, across: number, down: number, strewnToo: boolean) {
  const { strews, set_things } = asked.recipe;
  if (set_things.length === 0 && !(strewnToo && strews.length > 0)) return null;
  const met = await pickThing(asked, across, down);
  return met.set !== null || (strewnToo && met.strew !== null) ? met : null;
}

/** Lay a set where it is dropped on a picture: on a thing, or on the ground; there its rule begins with that slope and
 * that elevation. */
export function useSetDrop(request: () => PictureAsked | null, strewnToo: boolean) {
  return (event: React.DragEvent) => {
    const set = draggedSet(event);
    const asked = request();
    if (!set || !asked) return;
    event.preventDefault();
    const box = event.currentTarget.getBoundingClientRect();
    const across = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    const down = Math.min(1, Math.max(0, (event.clientY - box.top) / box.height));
    const { underWay } = useSite.getState();
    async function drop(of: Dragged, on: PictureAsked) {
      const thing = await thingUnder(on, across, down, strewnToo);
      if (thing) {
        layOnThing(of, thing.thing, thing.sizeM);
        return;
      }
      const { spot, rule } = await api.pointed(on, across, down);
      const { keep, select, shown, say } = useSite.getState();
      if (!spot) {
        say("Nothing was laid: there is no ground under that spot of the picture.");
        return;
      }
      const layer = newLayer(of, (shown?.layers.length ?? 0) > 0 ? rule.clauses : []);
      keep(`laid ${layer.name} where it was dropped`, (recipe) => ({ ...recipe, layers: [...recipe.layers, layer] }));
      select(layer.id);
    }
    underWay(
      drop(set, asked).catch((error: unknown) => {
        useSite.getState().say(error instanceof Error ? error.message : String(error));
      }),
    );
  };
}
