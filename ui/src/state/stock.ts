/** The Stock room: what is looked for, which set is chosen, what is on its way in, the work that runs. */

import { create } from "zustand";
import { cancelJob, job as askJob } from "../api/client";
import * as api from "../api/stock";
import type { Found, MendAsk, Proposal, SetState, Wish } from "../api/stock";
import type { Job } from "../api/types";
import type { SetDescription } from "../generated/stock";
import { SetEdits, type Changed, type Way } from "./set-edits";
import { useSite } from "./site";

export type Sheet = "wall" | "intake" | "supplier" | "make";

export const NO_WISH: Wish = {
  text: "",
  category: "",
  roles: [],
  leastPx: 0,
  seam: "",
  tone: "",
  collection: "",
  aside: false,
  sort: "title",
};

export interface Bringing {
  proposal: Proposal;
  into: SetState | null;
}

interface Stock {
  wish: Wish;
  /** The site whose near stand says which sizes are needed; null in the stock by itself. */
  site: string | null;
  found: Found | null;
  /** The chosen set as it is shown: with what is on its way to the server. */
  chosen: SetState | null;
  /** What the last change of the chosen set's content was, and the set before it. */
  changed: Changed | null;
  keeping: boolean;
  sheet: Sheet;
  bringing: Bringing | null;
  /** The set whose files the next drop replaces. */
  replacing: SetState | null;
  job: Job | null;
  look: (change: Partial<Wish>) => void;
  reload: () => Promise<void>;
  choose: (name: string | null) => Promise<void>;
  describe: (label: string, change: Partial<SetDescription>) => void;
  step: (way: Way) => void;
  setAside: (aside: boolean) => void;
  mend: (ask: MendAsk) => Promise<void>;
  /** A set as the server has it once what is on its way is kept: what its files are replaced on. */
  latest: (state: SetState) => Promise<SetState>;
  show: (sheet: Sheet) => void;
  replace: (state: SetState | null) => void;
  run: <R>(start: () => Promise<Job<R>>) => Promise<Job<R> | null>;
  cancel: () => void;
  bringIn: (files: { path: string; file: File }[]) => Promise<void>;
  open: (bringing: Bringing) => void;
  away: () => void;
}

const POLL_MS = 200;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
const said = (error: unknown) => (error instanceof Error ? error.message : String(error));
const say = (text: string | null) => useSite.getState().say(text);

/** What a drop is called when its files do not say: the first folder, else the first file without its ending. */
export function dropTitle(paths: string[]): string {
  const first = paths[0] ?? "";
  const folder = first.includes("/") ? first.split("/")[0] : "";
  return (folder || first.replace(/\.[^.]*$/, "")).slice(0, 80);
}

let asked = 0;
let chose = 0;
/** Whether long work has been asked for whose job the server has not named yet. */
let beginning = false;

export const useStock = create<Stock>((set, get) => {
  const edits = new SetEdits({
    // what is said of a set that was chosen before must not take this one's place
    show: (state) => {
      if (get().chosen?.name === state.name) set({ chosen: state });
    },
    kept: (state, changed) => {
      if (get().chosen?.name === state.name) set({ chosen: state, changed });
      void get().reload();
    },
    keeping: (keeping) => {
      set({ keeping });
      if (keeping) useSite.setState({ trouble: null, lost: null });
    },
    failed: (error, lost) => useSite.setState({ trouble: said(error), lost }),
  });
  return {
    wish: NO_WISH,
    site: null,
    found: null,
    chosen: null,
    changed: null,
    keeping: false,
    sheet: "wall",
    bringing: null,
    replacing: null,
    job: null,

    look: (change) => {
      set({ wish: { ...get().wish, ...change } });
      void get().reload();
    },

    reload: async () => {
      const mine = ++asked;
      try {
        const found = await api.find(api.wishQuery(get().wish, get().site));
        // an older answer must not take the place of a newer one
        if (mine === asked) set({ found });
      } catch (error) {
        if (mine === asked) say(said(error));
      }
    },

    choose: async (name) => {
      const mine = ++chose;
      if (name === null) {
        set({ chosen: null, changed: null });
        return;
      }
      try {
        const chosen = await edits.look(name);
        if (mine === chose) set({ chosen, changed: null, sheet: "wall" });
      } catch (error) {
        if (mine === chose) say(said(error));
      }
    },

    describe: (label, change) => {
      const { chosen } = get();
      if (chosen) edits.describe(chosen, label, change);
    },
    step: (way) => {
      const { chosen } = get();
      if (chosen) edits.step(chosen, way);
    },
    setAside: (aside) => {
      const { chosen } = get();
      if (chosen) edits.setAside(chosen, aside);
    },
    latest: (state) => edits.latest(state.name),

    mend: async (ask) => {
      const { chosen } = get();
      if (!chosen) return;
      const done = await get().run(async () => api.mend(await edits.latest(chosen.name), ask));
      if (done) edits.worked(chosen.name, done.result.label ?? "mended");
    },

    show: (sheet) => set({ sheet }),
    replace: (replacing) => set({ replacing }),

    run: async <R>(start: () => Promise<Job<R>>) => {
      if (beginning || get().job?.state === "running") {
        say("Something is being worked on already: wait for it or cancel it.");
        return null;
      }
      try {
        beginning = true;
        let job = await start().finally(() => {
          beginning = false;
        });
        set({ job });
        while (job.state === "running") {
          await pause(POLL_MS);
          job = await askJob<R>(job.id);
          set({ job });
        }
        if (job.state !== "done") {
          say(job.message);
          return null;
        }
        return job;
      } catch (error) {
        say(said(error));
        set({ job: null });
        return null;
      }
    },

    cancel: () => {
      const { job } = get();
      if (job?.state === "running") cancelJob(job.id).catch((error: unknown) => say(said(error)));
    },

    bringIn: async (files) => {
      const into = get().replacing;
      const left = get().bringing;
      if (left) void api.clear(left.proposal.drop).catch(() => undefined);
      set({ bringing: null, sheet: "intake" });
      let drop = "";
      try {
        drop = (await api.begin(dropTitle(files.map((one) => one.path)))).drop;
        let taken = 0;
        const started = performance.now();
        for (const [number, one] of files.entries()) {
          const share = number / files.length;
          const gone = (performance.now() - started) / 1000;
          set({
            job: {
              id: "",
              title: "reading files",
              state: "running",
              shareDone: share * 0.5,
              secondsLeft: share > 0 ? (gone / share) * (1 - share) : null,
              message: "",
              stepsDone: 0,
              steps: 0,
              result: {},
            },
          });
          taken += (await api.addFile(drop, one.path, one.file)).files;
        }
        set({ job: null });
        if (taken === 0)
          throw new Error(
            "Found no images in what was dropped: expected PNG, JPEG, TIFF, EXR, WebP or TGA, or a zip of them.",
          );
        const done = await get().run(() => api.look(drop));
        if (!done) throw new Error(useSite.getState().trouble ?? "Cancelled.");
        set({ bringing: { proposal: done.result, into }, job: null, replacing: null });
      } catch (error) {
        say(said(error));
        if (drop) void api.clear(drop).catch(() => undefined);
        set({ sheet: "wall", job: null });
      }
    },

    open: (bringing) => set({ bringing, sheet: "intake", job: null }),

    away: () => {
      const { bringing } = get();
      if (bringing) void api.clear(bringing.proposal.drop).catch(() => undefined);
      set({ bringing: null, sheet: "wall", replacing: null });
    },
  };
});
