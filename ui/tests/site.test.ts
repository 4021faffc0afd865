/** The open site: what is shown, what is kept, and what becomes of edits that cross. */

import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as api from "../src/api/client";
import type { SiteState } from "../src/api/types";
import type { Recipe } from "../src/generated/recipe";
import { resting } from "../src/state/resting";
import { inLayer, useSite } from "../src/state/site";
import { layer, opacity, recipe, state } from "./samples";

interface Sent {
  base: number;
  label: string;
  recipe: Recipe;
  answer: (state: SiteState) => void;
  refuse: (error: Error) => void;
}
let sent: Sent[];

const start = recipe(layer("low"), layer("top"));
const settle = () => new Promise((done) => setTimeout(done, 0));
const shownOpacity = (id: string) => useSite.getState().shown?.layers.find((one) => one.id === id)?.opacity;

beforeEach(async () => {
  sent = [];
  vi.spyOn(api, "site").mockResolvedValue(state(1, start));
  vi.spyOn(api, "edit").mockImplementation(
    (_id, base, label, wanted) =>
      new Promise((answer, refuse) => sent.push({ base, label, recipe: wanted, answer, refuse })),
  );
  useSite.setState({ state: null, shown: null, trouble: null, keeping: false, moving: false, selected: null });
  await useSite.getState().open("site");
});
afterEach(async () => {
  // the way to the server is one queue: leave nothing in it for the next test
  for (const edit of sent) edit.answer(state(1, edit.recipe));
  await settle();
  vi.restoreAllMocks();
});

test("opening shows the site as kept, with its top layer chosen", () => {
  expect(useSite.getState()).toMatchObject({ shown: start, moving: false, selected: "top", trouble: null });
});

test("a drag is shown but not sent until it ends, then it is one edit", async () => {
  const { preview, keep } = useSite.getState();
  preview(opacity("top", 0.7));
  preview(opacity("top", 0.4));
  expect(shownOpacity("top")).toBe(0.4);
  expect(useSite.getState().moving).toBe(true);
  expect(sent).toHaveLength(0);
  keep("top: opacity");
  await settle();
  expect(sent).toHaveLength(1);
  expect(sent[0]).toMatchObject({ base: 1, label: "top: opacity" });
  expect(useSite.getState()).toMatchObject({ moving: false, keeping: true });
  const edit = sent[0] as Sent;
  edit.answer(state(2, edit.recipe));
  await settle();
  expect(useSite.getState()).toMatchObject({ keeping: false, before: start });
  expect(useSite.getState().state?.revision).toBe(2);
});

test("a drag given up shows what was kept", () => {
  useSite.getState().preview(opacity("low", 0.1));
  useSite.getState().drop();
  expect(useSite.getState()).toMatchObject({ shown: start, moving: false });
});

test("a drag given up while an edit is on its way shows that edit, and nothing moves once it is kept", async () => {
  const { preview, keep, drop } = useSite.getState();
  keep("first", opacity("top", 0.5));
  preview(opacity("low", 0.1));
  drop();
  expect(shownOpacity("low")).toBe(1);
  expect(shownOpacity("top")).toBe(0.5);
  drop();
  await settle();
  const first = sent[0] as Sent;
  first.answer(state(2, structuredClone(first.recipe)));
  await settle();
  expect(useSite.getState()).toMatchObject({ moving: false, keeping: false });
  expect(useSite.getState().shown).toBe(useSite.getState().state?.recipe);
});

test("nothing moves while two edits are on their way, and what a drag shows over the first stays", async () => {
  const { preview, keep, drop } = useSite.getState();
  keep("first", opacity("top", 0.5));
  keep("second", opacity("low", 0.25));
  await settle();
  sent[0]?.answer(state(2, structuredClone(sent[0].recipe)));
  await settle();
  expect(useSite.getState().moving).toBe(false);
  expect(shownOpacity("low")).toBe(0.25);
  preview(opacity("top", 0.3));
  sent[1]?.answer(state(3, structuredClone(sent[1].recipe)));
  await settle();
  expect(useSite.getState().moving).toBe(true);
  expect(shownOpacity("top")).toBe(0.3);
  drop();
  expect(useSite.getState().shown).toBe(useSite.getState().state?.recipe);
});

test("edits that follow closely are sent one after the other, each on the one before", async () => {
  const { keep } = useSite.getState();
  keep("first", opacity("top", 0.5));
  keep("second", opacity("low", 0.25));
  await settle();
  expect(sent.map((one) => one.label)).toEqual(["first"]);
  const first = sent[0] as Sent;
  first.answer(state(2, first.recipe));
  await settle();
  expect(shownOpacity("low")).toBe(0.25);
  expect(sent.map((one) => [one.label, one.base])).toEqual([
    ["first", 1],
    ["second", 2],
  ]);
  const second = sent[1] as Sent;
  expect(second.recipe.layers.map((one) => one.opacity)).toEqual([0.25, 0.5]);
  second.answer(state(3, second.recipe));
  await settle();
  expect(useSite.getState()).toMatchObject({ moving: false, keeping: false });
  expect(useSite.getState().shown).toEqual(second.recipe);
});

test("what is dragged while an edit is on its way stays shown and stays moving", async () => {
  const { keep, preview } = useSite.getState();
  keep("first", opacity("top", 0.5));
  await settle();
  preview(opacity("low", 0.9));
  const first = sent[0] as Sent;
  first.answer(state(2, first.recipe));
  await settle();
  expect(shownOpacity("low")).toBe(0.9);
  expect(useSite.getState()).toMatchObject({ moving: true, keeping: false });
});

test("a conflict shows the newer state and says why", async () => {
  const newer = state(7, recipe(layer("low")));
  useSite.getState().keep("mine", opacity("top", 0.5));
  await settle();
  (sent[0] as Sent).refuse(new api.ServerError("Somebody changed this site in another window.", 409, newer));
  await settle();
  expect(useSite.getState()).toMatchObject({
    state: newer,
    shown: newer.recipe,
    selected: "low",
    keeping: false,
    moving: false,
    trouble: "Somebody changed this site in another window.",
  });
});

test.each(["kept at once", "dragged"])(
  "a change %s that met a conflict can be made again on what is there now",
  async (how) => {
    const newer = state(7, recipe(layer("top"), layer("new")));
    const { preview, keep } = useSite.getState();
    if (how === "dragged") {
      preview(opacity("top", 0.8));
      preview(opacity("top", 0.5));
      keep("mine");
    } else keep("mine", opacity("top", 0.5));
    await settle();
    (sent[0] as Sent).refuse(new api.ServerError("Somebody changed this site in another window.", 409, newer));
    await settle();
    expect(shownOpacity("top")).toBe(1);
    useSite.getState().lost?.again();
    await settle();
    expect(sent[1]).toMatchObject({ base: 7, label: "mine" });
    expect(sent[1]?.recipe.layers.map((one) => [one.id, one.opacity])).toEqual([
      ["top", 0.5],
      ["new", 1],
    ]);
    expect(useSite.getState().lost).toBeNull();
  },
);

test("steps of a drag that add up are made again as one", async () => {
  const { preview, keep } = useSite.getState();
  const fainter = inLayer("top", (one) => ({ ...one, opacity: one.opacity / 2 }));
  preview(fainter);
  preview(fainter);
  keep("fainter");
  await settle();
  (sent[0] as Sent).refuse(new api.ServerError("Somebody changed this site in another window.", 409, state(7, start)));
  await settle();
  useSite.getState().lost?.again();
  await settle();
  expect(sent[1]?.recipe.layers[1]?.opacity).toBe(0.25);
});

test("work of the server's that met a conflict can be asked for again", async () => {
  const ask = vi
    .fn<(base: SiteState) => Promise<SiteState>>()
    .mockRejectedValueOnce(new api.ServerError("Somebody changed this site in another window.", 409, state(7, start)))
    .mockResolvedValue(state(8, start));
  useSite.getState().through("a stroke", ask);
  await settle();
  useSite.getState().lost?.again();
  await settle();
  expect(ask.mock.calls.map(([base]) => base.revision)).toEqual([1, 7]);
  expect(useSite.getState()).toMatchObject({ lost: null, trouble: null, state: { revision: 8 } });
});

test("an edit that waited behind one that met a conflict does not bring the older recipe back", async () => {
  const { keep } = useSite.getState();
  keep("mine", opacity("top", 0.5));
  keep("mine too", opacity("top", 0.3));
  await settle();
  (sent[0] as Sent).refuse(
    new api.ServerError(
      "Somebody changed this site in another window.",
      409,
      state(7, recipe(layer("top"), layer("theirs"))),
    ),
  );
  await settle();
  expect(sent[1]).toMatchObject({ base: 7, label: "mine too" });
  expect(sent[1]?.recipe.layers.map((one) => [one.id, one.opacity])).toEqual([
    ["top", 0.3],
    ["theirs", 1],
  ]);
  const second = sent[1] as Sent;
  second.answer(state(8, second.recipe));
  await settle();
  expect(useSite.getState().shown).toEqual(second.recipe);
  expect(useSite.getState().trouble).toContain("another window");
});

test.each(["undo", "a stroke"])("an edit made while %s is on its way is made on what that gave", async (what) => {
  const given = state(5, recipe(layer("top"), layer("given")));
  if (what === "undo") {
    vi.spyOn(api, "step").mockResolvedValue(given);
    useSite.getState().step("undo");
  } else useSite.getState().through(what, () => Promise.resolve(given));
  useSite.getState().keep("fainter", opacity("top", 0.5));
  await settle();
  expect(sent[0]).toMatchObject({ base: 5 });
  const edit = sent[0] as Sent;
  expect(edit.recipe.layers.map((one) => [one.id, one.opacity])).toEqual([
    ["top", 0.5],
    ["given", 1],
  ]);
  expect(useSite.getState().shown).toEqual(edit.recipe);
});

test("edits that wait when another site is opened are kept all the same", async () => {
  useSite.getState().keep("first", opacity("top", 0.5));
  useSite.getState().keep("second", opacity("low", 0.2));
  vi.mocked(api.site).mockResolvedValue(state(1, recipe(layer("other")), "elsewhere"));
  const opening = useSite.getState().open("elsewhere");
  await settle();
  (sent[0] as Sent).answer(state(2, (sent[0] as Sent).recipe));
  await settle();
  expect(sent.map((one) => [one.label, one.base])).toEqual([
    ["first", 1],
    ["second", 2],
  ]);
  (sent[1] as Sent).refuse(new Error("no room on the disk"));
  await opening;
  expect(useSite.getState()).toMatchObject({
    state: { id: "elsewhere" },
    trouble: expect.stringContaining("no room on the disk") as string,
  });
});

test("the site opened last is shown, and one opened again while an edit is on its way as that edit left it", async () => {
  const other = state(1, recipe(layer("other")), "elsewhere");
  vi.mocked(api.site).mockImplementation((id) => Promise.resolve(id === "site" ? state(1, start) : other));
  const passing = useSite.getState().open("elsewhere");
  await useSite.getState().open("site");
  await passing;
  expect(useSite.getState().state?.id).toBe("site");
  useSite.getState().keep("first", opacity("top", 0.5));
  await settle();
  const asked = vi.mocked(api.site).mock.calls.length;
  const again = useSite.getState().open("site");
  await settle();
  expect(vi.mocked(api.site).mock.calls).toHaveLength(asked);
  (sent[0] as Sent).answer(state(2, (sent[0] as Sent).recipe));
  await again;
});

test("after a refusal the next edit is sent all the same", async () => {
  useSite.getState().keep("bad", opacity("top", 0.5));
  await settle();
  (sent[0] as Sent).refuse(new Error("no"));
  await settle();
  useSite.getState().keep("good", opacity("top", 0.6));
  await settle();
  expect(sent.map((one) => one.label)).toEqual(["bad", "good"]);
});

test("what was refused stays shown and can be sent again", async () => {
  useSite.getState().keep("mine", opacity("top", 0.5));
  await settle();
  (sent[0] as Sent).refuse(new Error("The server does not answer."));
  await settle();
  expect(shownOpacity("top")).toBe(0.5);
  useSite.getState().lost?.again();
  await settle();
  expect(sent[1]).toMatchObject({ base: 1, label: "mine" });
  expect(sent[1]?.recipe.layers[1]?.opacity).toBe(0.5);
});

test("what was refused and is sent again behind an undo is made on what the undo gave", async () => {
  const { preview, keep, step } = useSite.getState();
  preview(inLayer("top", (one) => ({ ...one, opacity: one.opacity / 2 })));
  keep("fainter");
  await settle();
  (sent[0] as Sent).refuse(new Error("The server does not answer."));
  await settle();
  const { lost } = useSite.getState();
  vi.spyOn(api, "step").mockResolvedValue(state(5, recipe(layer("top"), layer("given"))));
  step("undo");
  lost?.again();
  await settle();
  expect(sent[1]?.base).toBe(5);
  expect(sent[1]?.recipe.layers.map((one) => [one.id, one.opacity])).toEqual([
    ["top", 0.5],
    ["given", 1],
  ]);
});

test("an answer for a site that was left does not show", async () => {
  useSite.getState().keep("late", opacity("top", 0.5));
  vi.mocked(api.site).mockResolvedValue(state(1, recipe(layer("other")), "elsewhere"));
  await settle();
  expect(sent).toHaveLength(1);
  const opening = useSite.getState().open("elsewhere");
  for (const edit of sent) edit.answer(state(2, edit.recipe));
  await opening;
  expect(useSite.getState().state?.id).toBe("elsewhere");
  expect(useSite.getState().shown?.layers.map((one) => one.id)).toEqual(["other"]);
});

test("undo goes on from the newest revision and remembers what was before", async () => {
  const back = vi.spyOn(api, "step").mockResolvedValue(state(1, start));
  vi.mocked(api.site).mockResolvedValue(state(4, recipe(layer("low"))));
  await useSite.getState().open("site");
  useSite.getState().step("undo");
  await settle();
  expect(back).toHaveBeenCalledWith("site", 4, "undo");
  expect(useSite.getState().shown).toEqual(start);
  expect(useSite.getState().before?.layers).toHaveLength(1);
});

test("steps that wait for the keys to rest are kept before an undo, which then takes them back", async () => {
  const step = vi.spyOn(api, "step").mockResolvedValue(state(3, start));
  resting().later(() => useSite.getState().keep("stepped", opacity("top", 0.3)));
  useSite.getState().step("undo");
  await settle();
  expect(sent.map((one) => one.label)).toEqual(["stepped"]);
  expect(step).not.toHaveBeenCalled();
  const stepped = sent[0] as Sent;
  stepped.answer(state(2, stepped.recipe));
  await settle();
  expect(step).toHaveBeenCalledWith("site", 2, "undo");
});

test("what needs the site as it stands waits for steps that rest and edits on their way", async () => {
  const order: string[] = [];
  resting().later(() => useSite.getState().keep("stepped", opacity("top", 0.3)));
  const all = useSite
    .getState()
    .kept()
    .then(() => order.push("kept"));
  await settle();
  expect(sent.map((one) => one.label)).toEqual(["stepped"]);
  expect(order).toEqual([]);
  (sent[0] as Sent).answer(state(2, (sent[0] as Sent).recipe));
  await all;
  expect(useSite.getState().state?.revision).toBe(2);
});

test("a site is not called kept while edits, or questions that end in one, are on their way", async () => {
  let answered: () => void = () => undefined;
  const { underWay, keep } = useSite.getState();
  underWay(new Promise<void>((done) => (answered = done)).then(() => keep("asked first", opacity("top", 0.4))));
  expect(useSite.getState().keeping).toBe(true);
  answered();
  await settle();
  expect(useSite.getState().keeping).toBe(true);
  keep("another", opacity("top", 0.2));
  const first = sent[0] as Sent;
  first.answer(state(2, first.recipe));
  await settle();
  expect(useSite.getState().keeping).toBe(true);
  const second = sent[1] as Sent;
  second.answer(state(3, second.recipe));
  await settle();
  expect(useSite.getState().keeping).toBe(false);
});
