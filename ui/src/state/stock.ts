/** The Stock room: what is looked for, which set is chosen, what is on its way in, the work that runs. */

import { create } from "zustand";
import { cancelJob, job as askJob } from "../api/client";
import * as api from "../api/stock";
import type { Found, Proposal, SetState, Wish } from "../api/stock";
import type { Job } from "../api/types";
import { useSite } from "./site";

export type Sheet = "wall" | "intake" | "supplier" | "make";

export const NO_WISH: Wish = {
  text: "", category: "", roles: [], leastPx: 0, seam: "", tone: "", collection: "", aside: false, sort: "title",
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
  chosen: SetState | null;
  /** The chosen set as it stood before the last change. */
  before: SetState | null;
  sheet: Sheet;
  bringing: Bringing | null;
  /** The set whose files the next drop replaces. */
  replacing: SetState | null;
  job: Job | null;
  look: (change: Partial<Wish>) => void;
  reload: () => Promise<void>;
  choose: (name: string | null) => Promise<void>;
  took: (state: SetState) => void;
  act: (work: () => Promise<SetState>) => Promise<void>;
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

export const useStock = create<Stock>((set, get) => ({
  wish: NO_WISH,
  site: null,
  found: null,
  chosen: null,
  before: null,
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
    if (name === null) {
      set({ chosen: null, before: null });
      return;
    }
    try {
      const chosen = await api.one(name);
      set({ chosen, before: null, sheet: "wall" });
    } catch (error) {
      say(said(error));
    }
  },

  took: (state) => {
    const { chosen } = get();
    set({ chosen: state, before: chosen?.name === state.name && chosen.revision !== state.revision ? chosen : null });
    void get().reload();
  },

  act: async (work) => {
    try {
      get().took(await work());
      say(null);
    } catch (error) {
      say(said(error));
    }
  },

  show: (sheet) => set({ sheet }),
  replace: (replacing) => set({ replacing }),

  run: async <R>(start: () => Promise<Job<R>>) => {
    if (get().job?.state === "running") {
      say("Something is being worked on already: wait for it or cancel it.");
      return null;
    }
    try {
      let job = await start();
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
            id: "", title: "reading files", state: "running", shareDone: share * 0.5,
            secondsLeft: share > 0 ? (gone / share) * (1 - share) : null, message: "", result: {},
          },
        });
        taken += (await api.addFile(drop, one.path, one.file)).files;
      }
      set({ job: null });
      if (taken === 0) throw new Error("Found no images in what was dropped: expected PNG, JPEG, TIFF, EXR, WebP or TGA, or a zip of them.");
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
}));
