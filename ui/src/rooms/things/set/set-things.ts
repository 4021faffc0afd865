/** Changes of things that were set by hand and of what covers things, as changes of the recipe. */

import type { SetLine } from "../../../api/stock";
import type { Spot } from "../../../api/types";
import { CATALOGUE } from "../../../generated/catalogue";
import type { Layer, Recipe, SetThing, Strew, Thing } from "../../../generated/recipe";
import { newId } from "../../../parts/new-id";
import { inSet, inThing, useSite } from "../../../state/site";
import { useTools } from "../../../state/tools";
import { freeName } from "../../../state/part-names";
import { pointedAt, referenceOf, type Single } from "../../cover/clauses";
import { tidied, withThing } from "../strews";
import { useHand } from "../use-hand";

/** The thing that a layer or wear lies on; null where it is one of the ground's. */
export function thingOf(recipe: Recipe | null, part: string | null): Thing | null {
  const on = ({ cover }: Thing) => [...cover.layers, ...cover.wears].some((one) => one.id === part);
  return recipe?.things.find(on) ?? null;
}

/** A new thing set by hand, as large as the largest of a strew of it; whoever sets it says which and where. */
export function newlySet(thing: Thing, begins: Strew): SetThing {
  return {
    ...CATALOGUE.setThing,
    name: thing.name,
    size_m: begins.size.to_m,
    sunk: begins.stands.sunk_from,
    leans: Math.min(0.5, begins.stands.leans),
  };
}

/** Sets the thing that is in the hand where a picture was clicked. */
export function dropThing(spot: Spot): void {
  const { inHand } = useHand.getState();
  if (!inHand) return;
  const { keep, select } = useSite.getState();
  const id = newId();
  keep(`set ${inHand.thing.name}`, (recipe) => {
    const held = withThing(recipe, inHand.thing);
    const count = held.recipe.set_things.filter((one) => one.thing === held.id).length;
    const one: SetThing = {
      ...newlySet(inHand.thing, inHand.begins),
      id,
      thing: held.id,
      name: freeName(inHand.thing.name, held.recipe.set_things),
      variant: count % 4,
      east_m: Number(spot.eastM.toFixed(3)),
      north_m: Number(spot.northM.toFixed(3)),
    };
    return { ...held.recipe, set_things: [...held.recipe.set_things, one] };
  });
  select(id);
  useHand.setState({ inHand: null });
  useTools.setState({ tool: "turn" });
}

/** A change that lets a thing stand on the ground below it, sunk as far as it is. */
export const droppedToGround = (id: string) => inSet(id, (now) => ({ ...now, follows: true }));

/** A copy beside the one that it is of. */
export function duplicated(recipe: Recipe, of: SetThing, id: string): Recipe {
  const { ground } = recipe;
  const copy = {
    ...of,
    id,
    name: freeName(of.name, recipe.set_things),
    variant: (of.variant + 1) % 12,
    east_m: Math.min(ground.width_m, Number((of.east_m + of.size_m).toFixed(3))),
  };
  return { ...recipe, set_things: [...recipe.set_things, copy] };
}

/** Copies of a thing so far apart along a path, the path's first point to its last; its length points along. */
export function alongPath(recipe: Recipe, of: SetThing, path: string, apartM: number): Recipe {
  const points = recipe.marks.paths.find((one) => one.id === path)?.points ?? [];
  const made: SetThing[] = [];
  let left = 0;
  points.slice(1).forEach((to, k) => {
    const from = points[k];
    if (!from) return;
    const [east, north] = [to.east_m - from.east_m, to.north_m - from.north_m];
    const length = Math.hypot(east, north);
    for (; left <= length && made.length < 200; left += apartM) {
      made.push({
        ...of,
        id: newId(),
        name: `${of.name.slice(0, 70)}, ${made.length + 1}`,
        variant: made.length % 12,
        east_m: Number((from.east_m + (east * left) / length).toFixed(3)),
        north_m: Number((from.north_m + (north * left) / length).toFixed(3)),
        turn_deg: Number(((Math.atan2(north, east) * 180) / Math.PI).toFixed(2)),
      });
    }
    left -= length;
  });
  const room = CATALOGUE.most.setThings - recipe.set_things.length;
  return { ...recipe, set_things: [...recipe.set_things, ...made.slice(0, room)] };
}

/** The recipe without a thing that was set; its kind goes too where nothing else is of it. */
export function withoutSet(recipe: Recipe, id: string): Recipe {
  return tidied({ ...recipe, set_things: recipe.set_things.filter((one) => one.id !== id) });
}

/** A set laid on a thing, on top of what lies there. */
export function newLayerOn(set: Pick<SetLine, "name" | "title" | "tileM" | "reliefM">, sizeM: number): Layer {
  const begun = CATALOGUE.layerOnThing;
  // a tile as the set has it, but no larger than the thing
  const tile_m = Number(Math.min(set.tileM, Math.max(0.2, sizeM / 2)).toFixed(2));
  const relief_m = Number(Math.min((set.reliefM * tile_m) / set.tileM, tile_m).toFixed(4));
  return { ...begun, id: newId(), name: set.title, set: set.name, fit: { ...begun.fit, tile_m, relief_m } };
}

/** Lay a set on a thing, on top of what lies there. */
export function layOnThing(
  set: Pick<SetLine, "name" | "title" | "tileM" | "reliefM">,
  id: string,
  sizeM: number,
): void {
  const { shown, keep, say } = useSite.getState();
  const thing = shown?.things.find((one) => one.id === id);
  if (!thing) return;
  if (thing.cover.layers.length >= CATALOGUE.most.onThing) {
    say(`${thing.name} has ${CATALOGUE.most.onThing} layers, which is as many as it can have: take one away first.`);
    return;
  }
  const layer = newLayerOn(set, sizeM);
  keep(
    `laid ${set.title} on ${thing.name}`,
    inThing(id, (one) => ({ ...one, cover: { ...one.cover, layers: [...one.cover.layers, layer] } })),
  );
}

/** The same cover under ids of its own. */
function withOwnIds(cover: Thing["cover"]): Thing["cover"] {
  const parts = [...cover.layers, ...cover.masks, ...cover.images];
  const ids = new Map(parts.map((one) => [one.id, newId()]));
  const own = (id: string) => ids.get(id) ?? id;
  const single = (one: Single): Single => {
    const found = referenceOf(one);
    return found ? pointedAt(one, found.where, { id: own(found.id), name: found.called }) : one;
  };
  const rule = (of: Layer["rule"]): Layer["rule"] => ({
    ...of,
    clauses: of.clauses.map((one) =>
      one.kind === "bracket" ? { ...one, clauses: one.clauses.map(single) } : single(one),
    ),
  });
  return {
    ...cover,
    masks: cover.masks.map((mask) => ({ ...mask, id: own(mask.id) })),
    images: cover.images.map((image) => ({ ...image, id: own(image.id) })),
    layers: cover.layers.map((layer) => ({ ...layer, id: own(layer.id), rule: rule(layer.rule) })),
    wears: cover.wears.map((wear) => ({
      ...wear,
      id: newId(),
      rule: rule(wear.rule),
      place: wear.place && own(wear.place),
      over: wear.over.map(own),
    })),
  };
}

/** One thing's own copy of its kind, so that its cover is changed alone. */
export function asItsOwn(recipe: Recipe, of: SetThing): Recipe {
  const thing = recipe.things.find((one) => one.id === of.thing);
  if (!thing) return recipe;
  const id = newId();
  const own = { ...thing, id, name: freeName(of.name, recipe.things), cover: withOwnIds(thing.cover) };
  return {
    ...recipe,
    things: [...recipe.things, own],
    set_things: recipe.set_things.map((one) => (one.id === of.id ? { ...one, thing: id } : one)),
  };
}
