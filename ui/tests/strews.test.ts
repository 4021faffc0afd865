import { expect, test } from "vitest";
import { CATALOGUE } from "../src/generated/catalogue";
import { strewn, withoutStrew } from "../src/rooms/things/strews";
import { withNumber } from "../src/rooms/things/number-rows";
import { withByHand } from "../src/rooms/things/use-hand";
import * as samples from "./samples";

const kind = CATALOGUE.things.find((one) => one.what === "boulder");
if (!kind) throw new Error("no boulder");
const once = strewn(samples.recipe(), kind.thing, kind.strew, "firstone");
const twice = strewn(once, kind.thing, kind.strew, "otherone");

test("a thing that is there is strewn again under the same id, the strew under another name and seed", () => {
  expect(twice.things).toHaveLength(1);
  expect(twice.strews.map((one) => one.name)).toEqual(["Boulder", "Boulder 2"]);
  expect(new Set(twice.strews.map((one) => one.seed)).size).toBe(2);
});

test("a strew that goes takes its things along when nothing else strews them, and what kept clear of it forgets it", () => {
  const clear = { ...twice, strews: twice.strews.map((one) => ({ ...one, clear_of: ["firstone"] })) };
  const left = withoutStrew(clear, "firstone");
  expect(left.things).toHaveLength(1);
  expect(left.strews[0]?.clear_of).toEqual([]);
  expect(withoutStrew(left, "otherone").things).toEqual([]);
});

test("the smallest pushes the largest before it, and the other way round", () => {
  const [strew] = once.strews;
  if (!strew) throw new Error("nothing strewn");
  expect(withNumber(strew, "size", "from_m", 5).size).toMatchObject({ from_m: 5, to_m: 5 });
  expect(withNumber(strew, "size", "to_m", 0.1).size).toMatchObject({ from_m: 0.1, to_m: 0.1 });
});

test("a picked thing is changed once however often it is changed, and one that was added is changed itself", () => {
  const [strew] = once.strews;
  if (!strew) throw new Error("nothing strewn");
  const picked = { strew: "firstone", number: 77, eastM: 3, northM: 4, sizeM: 0.5, thing: "x" };
  const sized = withByHand(strew, picked, { times: 2 });
  const moved = withByHand(sized, picked, { at: { east_m: 9, north_m: 8 } });
  expect(moved.by_hand).toEqual([{ number: 77, gone: false, east_m: 9, north_m: 8, times: 2, turn_deg: 0 }]);
  const added = { number: 5, thing: "x", east_m: 1, north_m: 1, size_m: 0.5, turn_deg: 0 };
  const one = { ...picked, number: -6 };
  expect(withByHand({ ...strew, added: [added] }, one, { times: 3 }).added[0]?.size_m).toBe(1.5);
  expect(withByHand({ ...strew, added: [added] }, one, { gone: true }).added).toEqual([]);
});
