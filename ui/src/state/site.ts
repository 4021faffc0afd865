/**
 * The open site: the recipe as stored, the recipe as shown (while something is dragged they
 * differ), and the way from one to the other. A finished change is one revision on the server
 * before it counts as kept.
 */

import { useStore, type StoreApi } from "zustand";
import { createStore } from "zustand/vanilla";
import { reused } from "../api/changes";
import * as api from "../api/client";
import type { Mode, SiteState } from "../api/types";
import type { Layer, Light, Recipe, SetThing, Strew, Thing, Water, Wear } from "../generated/recipe";
import { settle } from "./resting";

type Change = (recipe: Recipe) => Recipe;

let overheard: ((change: Change) => void) | null = null;

/** The change that something would show while it moves, without showing it; none where it would show nothing. */
export function changeOf(show: () => void): Change | null {
  const heard: Change[] = [];
  overheard = (change) => heard.push(change);
  try {
    show();
  } finally {
    overheard = null;
  }
  return heard[0] ?? null;
}

interface Lost {
  label: string;
  again: () => void;
}

/** Something to compare the site with, and how it is seen from where one looks at the site as it is now. */
export interface Compared {
  id: string;
  name: string;
  seen: (now: Recipe) => Recipe;
}

interface OpenSite {
  state: SiteState | null;
  shown: Recipe | null;
  moving: boolean;
  keeping: boolean;
  trouble: string | null;
  selected: string | null;
  mode: Mode;
  before: Recipe | null;
  showBefore: boolean;
  nearMmPerPixel: number;
  /** What pictures are compared with: a snapshot, what was before, another site, another light. */
  compared: Compared | null;
  showCompared: boolean;
  /** A kept light that the site's own is looked at in turn with, while a key is held. */
  otherLight: { id: string; name: string; light: Light; water: Water } | null;
  showOther: boolean;
  /** How often a start that is still going on has changed what pictures show. */
  changes: number;
  /** Whether the selected wear is held away, to see the ground without it. */
  without: boolean;
  /** A finished change that was not kept since another window was first: it can be made again. */
  lost: Lost | null;
  open: (id: string) => Promise<void>;
  preview: (change: (recipe: Recipe) => Recipe) => void;
  keep: (label: string, change?: (recipe: Recipe) => Recipe) => void;
  drop: () => void;
  step: (way: "undo" | "redo") => void;
  /** What will end in an edit once the server has answered: till then the site is not called kept. */
  underWay: (work: Promise<unknown>) => void;
  /** Work whose result the server keeps as a revision of its own; what comes back is shown. */
  through: (label: string, ask: (state: SiteState) => Promise<SiteState>, after?: () => void) => void;
  /** Resolves when all that was edited up to now is on the server, or refused. */
  kept: () => Promise<void>;
  select: (layer: string | null) => void;
  look: (mode: Mode) => void;
  hold: (showBefore: boolean) => void;
  compare: (compared: OpenSite["compared"]) => void;
  say: (trouble: string | null) => void;
}

/** Edits are sent one after the other, each on the revision the one before it made. */
let queue: Promise<void> = Promise.resolve();

/** Sites as the server last said they are: what the next edit is made on, wherever one has gone meanwhile. */
const stored = new Map<string, SiteState>();

/**
 * Counts what makes another recipe the base than the last edit left: an undo, a stroke, a change of
 * another window. An edit asked for before it is then made anew on that base, lest it bring back
 * the recipe that it was made on.
 */
let turns = 0;

/** How often a site was opened: an answer about one opened before must not take a later one's place. */
let opened = 0;

/** How many edits, and questions that end in one, are on their way. */
let onTheWay = 0;

/** What was shown since a drag began, as one change: what is kept without one of its own is this. */
let lastShown: ((recipe: Recipe) => Recipe) | null = null;

/** The recipe of the last finished change, kept already or on its way: what a drag that is given up goes back to. */
let finished: Recipe | null = null;

const site = createStore<OpenSite>((set, get) => {
  /** Show a state; or what was shown, where that is later. */
  function took(came: SiteState, before: Recipe | null, later = false) {
    const { selected, shown, moving } = get();
    // parts that say the same stay the same objects: nothing is asked or drawn again for them
    const state = { ...came, recipe: reused(shown, came.recipe) };
    if (stored.get(state.id) === came) stored.set(state.id, state);
    api.standOn(state);
    const { layers, wears, strews, set_things, things } = state.recipe;
    const onThings = things.flatMap(({ cover }) => [...cover.layers, ...cover.wears]);
    const there = [...layers, ...wears, ...strews, ...set_things, ...onThings].some((one) => one.id === selected);
    if (!later) finished = state.recipe;
    set({
      state,
      shown: later ? shown : state.recipe,
      moving: later && moving,
      before,
      selected: there ? selected : (state.recipe.layers.at(-1)?.id ?? null),
    });
  }

  function underWay(work: Promise<unknown>) {
    onTheWay += 1;
    set({ keeping: true });
    const done = () => {
      onTheWay -= 1;
      set({ keeping: onTheWay > 0 });
    };
    void work.then(done, done);
  }

  const here = (id: string) => get().state?.id === id;

  /** Work on one site, after all that was asked for before it. */
  function enqueue(id: string, work: (base: SiteState) => Promise<void>, lost: (conflict: boolean) => Lost | null) {
    set({ lost: null, trouble: null });
    queue = queue.then(async () => {
      const base = stored.get(id);
      if (!base) return;
      try {
        await work(base);
      } catch (error) {
        refused(base, error, lost);
      }
    });
    underWay(queue);
  }

  /** What comes back after another site was opened is kept but not shown; what was dragged on meanwhile stays shown. */
  function answered(kept: SiteState, base: SiteState, sent: Recipe | null) {
    stored.set(kept.id, kept);
    if (!here(kept.id)) return;
    took(kept, base.recipe, sent !== null && get().shown !== sent);
    if (finished === sent) finished = get().state?.recipe ?? null;
  }

  function refused(base: SiteState, error: unknown, lost: (conflict: boolean) => Lost | null) {
    const message = error instanceof Error ? error.message : String(error);
    const newer = error instanceof api.ServerError ? error.state : null;
    if (newer) {
      turns += 1;
      stored.set(base.id, newer);
    }
    if (!here(base.id)) {
      set({ trouble: `${base.title}: ${message}` });
      return;
    }
    if (newer) took(newer, null);
    set({ trouble: message, moving: false, lost: lost(newer !== null) });
  }

  /** An edit made on what is not the base any more, made on what is; shown, with what is dragged on it. */
  function madeAnew(id: string, base: Recipe, change: (recipe: Recipe) => Recipe): Recipe {
    const sent = change(base);
    if (here(id)) finished = sent;
    if (here(id)) set({ shown: get().moving && lastShown ? lastShown(sent) : sent });
    return sent;
  }

  /** Send an edit: the recipe that it gave, or what it changes where another recipe is in force by then. */
  function send(id: string, label: string, wanted: Recipe, change: (recipe: Recipe) => Recipe) {
    finished = wanted;
    set({ shown: wanted, moving: false });
    const turn = turns;
    enqueue(
      id,
      async (base) => {
        const sent = turn === turns ? wanted : madeAnew(id, base.recipe, change);
        answered(await api.edit(id, base.revision, label, sent), base, sent);
      },
      (conflict) => {
        if (conflict) return { label, again: () => get().keep(label, change) };
        // what was refused for another reason is still shown: it is not changed once more
        return { label, again: () => send(id, label, get().shown ?? wanted, change) };
      },
    );
  }

  return {
    state: null,
    shown: null,
    moving: false,
    keeping: false,
    trouble: null,
    selected: null,
    mode: "lit",
    before: null,
    showBefore: false,
    compared: null,
    showCompared: false,
    otherLight: null,
    showOther: false,
    changes: 0,
    without: false,
    nearMmPerPixel: 0,
    lost: null,

    open: async (id) => {
      settle();
      const mine = ++opened;
      if (!here(id))
        set({
          state: null,
          shown: null,
          selected: null,
          before: null,
          compared: null,
          showCompared: false,
          otherLight: null,
          showOther: false,
          without: false,
          mode: "lit",
        });
      set({ trouble: null, lost: null });
      // after what is on its way, so that its answer is not older than an edit's
      queue = queue.then(async () => {
        if (mine !== opened) return;
        try {
          const found = await api.site(id);
          turns += 1;
          stored.set(id, found);
          if (mine === opened) took(found, null);
        } catch (error) {
          if (mine === opened) set({ trouble: error instanceof Error ? error.message : String(error) });
        }
      });
      await queue;
    },

    preview: (change) => {
      if (overheard) {
        overheard(change);
        return;
      }
      const { shown } = get();
      const before = get().moving ? lastShown : null;
      lastShown = before ? (recipe) => change(before(recipe)) : change;
      if (shown) set({ shown: change(shown), moving: true });
    },

    keep: (label, change) => {
      settle();
      const { shown, state } = get();
      if (!shown || !state) return;
      const made = change ?? lastShown ?? ((recipe) => recipe);
      lastShown = null;
      send(state.id, label, change ? change(shown) : shown, made);
    },

    drop: () => {
      const { state, moving } = get();
      lastShown = null;
      if (state && moving) set({ shown: finished ?? state.recipe, moving: false });
    },

    step: (way) => {
      settle();
      const { state } = get();
      if (!state) return;
      enqueue(
        state.id,
        async (base) => {
          const kept = await api.step(base.id, base.revision, way);
          turns += 1;
          answered(kept, base, null);
        },
        () => null,
      );
    },

    underWay,

    through: (label, ask, after) => {
      settle();
      const { state } = get();
      if (!state) return;
      enqueue(
        state.id,
        async (base) => {
          try {
            const kept = await ask(base);
            turns += 1;
            answered(kept, base, null);
          } finally {
            after?.();
          }
        },
        () => ({ label, again: () => get().through(label, ask) }),
      );
    },

    kept: async () => {
      settle();
      await queue;
    },

    select: (selected) => {
      const { shown, mode } = get();
      const wear = shown?.wears.some((one) => one.id === selected) ?? false;
      // a mask is looked at of what is selected, whether a layer or a wear; an overlay only a wear has
      const turned: Partial<Record<Mode, Mode>> = wear
        ? { presence: "wear", coverage: "lit" }
        : { wear: "presence", overlay: "lit" };
      set({ selected, mode: turned[mode] ?? mode });
    },
    look: (mode) => set({ mode }),
    hold: (showBefore) => set({ showBefore }),
    compare: (compared) => set({ compared }),
    say: (trouble) => set({ trouble }),
  };
});

/** How often the page is drawn anew while something is under the hand; pictures follow by themselves, at once. */
const BEAT_MS = 100;
/** It is drawn with a picture, since each drawing has the whole page put together; without one no later than this. */
const LATEST_MS = 160;

/** The site as the page is told of it: at once, but while something moves at a beat. */
function onBeat(store: StoreApi<OpenSite>): StoreApi<OpenSite> & { withPicture: () => void } {
  const listeners = new Set<Parameters<typeof store.subscribe>[0]>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let told = store.getState();
  let toldAt = 0;
  const tell = () => {
    clearTimeout(timer);
    timer = undefined;
    toldAt = performance.now();
    const before = told;
    told = store.getState();
    for (const listener of [...listeners]) listener(told, before);
  };
  store.subscribe((now) => {
    if (!now.moving || !told.moving) tell();
    else timer ??= setTimeout(tell, LATEST_MS);
  });
  return {
    ...store,
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    withPicture: () => {
      if (timer !== undefined && performance.now() - toldAt > BEAT_MS) tell();
    },
  };
}

const beaten = onBeat(site);

/** A picture is drawn: what the page tells of what moves is drawn with it rather than once more soon after. */
export const { withPicture } = beaten;

/** The open site; what subscribes to it itself is told of everything at once. */
export const useSite = Object.assign(<T>(select: (of: OpenSite) => T): T => useStore(beaten, select), site);

/** The site as it was when nothing moved: a drag is not told of until it rests. */
function still(store: StoreApi<OpenSite>): StoreApi<OpenSite> {
  let last = store.getState();
  const listeners = new Set<Parameters<typeof store.subscribe>[0]>();
  store.subscribe((now) => {
    if (now.moving) return;
    const before = last;
    last = now;
    for (const listener of [...listeners]) listener(now, before);
  });
  return {
    ...store,
    getState: () => last,
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
}

const stilled = still(site);

/** Something of the open site, as it was when nothing moved: for what need not follow a hand. */
export const useStillSite = <T>(select: (of: OpenSite) => T): T => useStore(stilled, select);

/** Return a change of one layer, of the ground or of a thing, as a change of the recipe. */
export function inLayer(id: string, change: (layer: Layer) => Layer): (recipe: Recipe) => Recipe {
  const changed = (layers: Layer[]) => layers.map((layer) => (layer.id === id ? change(layer) : layer));
  return (recipe) => {
    const on = recipe.things.find((one) => one.cover.layers.some((layer) => layer.id === id));
    return on
      ? inThing(on.id, (one) => ({ ...one, cover: { ...one.cover, layers: changed(one.cover.layers) } }))(recipe)
      : { ...recipe, layers: changed(recipe.layers) };
  };
}

/** Return a change of one thing of the site, as a change of the recipe. */
export function inThing(id: string, change: (thing: Thing) => Thing): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, things: recipe.things.map((one) => (one.id === id ? change(one) : one)) });
}

/** Return a change of one thing that was set by hand, as a change of the recipe. */
export function inSet(id: string, change: (one: SetThing) => SetThing): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, set_things: recipe.set_things.map((one) => (one.id === id ? change(one) : one)) });
}

/** What has a rule: a layer, a wear or a strew. */
export type Ruled = Pick<Layer | Wear | Strew, "id" | "name" | "rule">;

/** Return a change of one wear, of the ground or of a thing, as a change of the recipe. */
export function inWear(id: string, change: (wear: Wear) => Wear): (recipe: Recipe) => Recipe {
  const changed = (wears: Wear[]) => wears.map((wear) => (wear.id === id ? change(wear) : wear));
  return (recipe) => {
    const on = recipe.things.find((one) => one.cover.wears.some((wear) => wear.id === id));
    return on
      ? inThing(on.id, (one) => ({ ...one, cover: { ...one.cover, wears: changed(one.cover.wears) } }))(recipe)
      : { ...recipe, wears: changed(recipe.wears) };
  };
}

/** Return a change of one strew, as a change of the recipe. */
export function inStrew(id: string, change: (strew: Strew) => Strew): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, strews: recipe.strews.map((strew) => (strew.id === id ? change(strew) : strew)) });
}

/** Return a change of the rule of a layer, a wear or a strew, as a change of the recipe. */
export function inRuled(id: string, change: (one: Ruled) => Ruled["rule"]): (recipe: Recipe) => Recipe {
  return (recipe) => {
    const laid = inLayer(id, (one) => ({ ...one, rule: change(one) }))(recipe);
    const worn = inWear(id, (one) => ({ ...one, rule: change(one) }))(laid);
    return inStrew(id, (one) => ({ ...one, rule: change(one) }))(worn);
  };
}
