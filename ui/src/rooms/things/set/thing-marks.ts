/** Paint and images on a thing's own surface that its rules read, as changes of the recipe. */

import type { Recipe, Thing } from "../../../generated/recipe";
import { newId } from "../../../parts/new-id";
import { inThing, type Ruled } from "../../../state/site";
import { useTools } from "../../../state/tools";
import { added, inRule } from "../../cover/edit-rule";
import { made, type Channel } from "../../cover/clauses";
import { joined } from "../../cover/new-marks";
import { freeName } from "../../../state/part-names";

/** The thing that a mask is painted on; null where it is one of the ground's. */
export function thingPainted(recipe: Recipe | null, mask: string | null): Thing | null {
  return recipe?.things.find((one) => one.cover.masks.some((other) => other.id === mask)) ?? null;
}

/** How large a thing is where it is largest on its site, metres: brushes begin by it. */
export function largestM(recipe: Recipe, thing: Thing): number {
  const set = recipe.set_things.filter((one) => one.thing === thing.id).map((one) => one.size_m);
  const strewn = recipe.strews.filter((one) => one.kinds.some((kind) => kind.thing === thing.id));
  return Math.max(0.05, ...set, ...strewn.map((one) => one.size.to_m));
}

/** Takes a brush for a mask: one on a thing begins no larger than a part of it, and adds or takes away. */
export function paintOn(recipe: Recipe, mask: string): void {
  const thing = thingPainted(recipe, mask);
  useTools.getState().paintOn(mask);
  if (!thing) return;
  const most = Number((largestM(recipe, thing) / 5).toPrecision(2));
  useTools.setState(({ brush }) => ({
    brush: {
      ...brush,
      size_m: Math.min(brush.size_m, most),
      tool: brush.tool === "smooth" ? "add" : brush.tool,
    },
  }));
}

/** A new mask on a thing, with the clause that reads it. */
export function withPaintOn(thing: Thing, part: Ruled, way: "in" | "out") {
  const id = newId();
  const name = freeName(`${way === "in" ? "Paint" : "Bare"} of ${part.name}`, thing.cover.masks);
  const mask = { id, name, file: null };
  const change = (recipe: Recipe): Recipe => {
    const marked = inThing(thing.id, (one) => ({
      ...one,
      cover: { ...one.cover, masks: [...one.cover.masks, mask] },
    }))(recipe);
    return inRule(part, (now) => added(now, joined(now, way, made.painted(id, name))))(marked);
  };
  return { id, name, change };
}

/** An image over a thing's texture coordinates, with a clause that reads one channel of it. */
export function withImageOn(
  thing: Thing,
  part: Ruled,
  image: { id: string; name: string; file: string; file_name: string },
  channel: Channel,
): (recipe: Recipe) => Recipe {
  const { id, name, file, file_name } = image;
  return (recipe) => {
    const marked = inThing(thing.id, (one) =>
      one.cover.images.some((other) => other.id === id)
        ? one
        : { ...one, cover: { ...one.cover, images: [...one.cover.images, { id, name, file, file_name }] } },
    )(recipe);
    return inRule(part, (now) => added(now, made.image(id, name, channel)))(marked);
  };
}

/** The recipe without a mask on a thing. */
export function withoutPaintOn(thing: Thing, mask: string): (recipe: Recipe) => Recipe {
  return inThing(thing.id, (one) => ({
    ...one,
    cover: { ...one.cover, masks: one.cover.masks.filter((other) => other.id !== mask) },
  }));
}
