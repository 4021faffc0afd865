/**
 * The ground as shaped on the server: a preview while something moves, the whole as soon as its
 * job is done. Pictures and maps ask with `preview` until the ground they want is ready.
 */

import { create } from "zustand";
import * as api from "../api/client";
import type { GroundFacts, Job } from "../api/types";
import type { Beginnings } from "../generated/answers";
import { CATALOGUE } from "../generated/catalogue";
import type { Ground } from "../generated/recipe";
import { useSite } from "./site";

const POLL_MS = 250;
const REST_MS = 160;

interface Shaping {
  of: string | null;
  ready: boolean;
  job: Job | null;
  facts: GroundFacts | null;
  trouble: string | null;
  follow: (ground: Ground, moving: boolean) => void;
  again: () => void;
  cancel: () => void;
  /** Another site is opened: nothing is known of its ground yet. */
  forget: () => void;
}

export const useShaping = create<Shaping>((set, get) => {
  let timer = 0;
  /** The ground for which a job was begun. */
  let begun: string | null = null;
  let asking: string | null = null;
  let wanted: Ground | null = null;

  const message = (error: unknown) => (error instanceof Error ? error.message : String(error));

  async function previewFacts(ground: Ground, of: string): Promise<void> {
    if (asking !== null) return;
    asking = of;
    try {
      const facts = await api.groundFacts(ground, true);
      if (!get().ready) set({ facts, trouble: null });
    } catch (error) {
      if (!(error instanceof api.ServerError && error.status === 410) && get().of === of)
        set({ trouble: message(error) });
    }
    asking = null;
    const { of: now, ready } = get();
    if (!ready && now !== of && wanted) void previewFacts(wanted, now ?? "");
  }

  async function poll(job: Job, ground: Ground, of: string): Promise<void> {
    if (get().of !== of) {
      if (job.state === "running") void api.cancelJob(job.id).catch(() => undefined);
      return;
    }
    set({ job });
    if (job.state === "running") {
      window.setTimeout(() => {
        api.job(job.id).then(
          (next) => poll(next, ground, of),
          (error: unknown) => set({ trouble: message(error) }),
        );
      }, POLL_MS);
      return;
    }
    if (job.state !== "done") {
      set({ trouble: job.state === "failed" ? job.message : null });
      return;
    }
    const facts = await api.groundFacts(ground, false).catch(() => null);
    if (get().of === of) set({ ready: true, facts: facts ?? get().facts, trouble: null });
  }

  function start(ground: Ground, of: string) {
    begun = of;
    api.shapeGround(ground).then(
      (job) => poll(job, ground, of),
      (error: unknown) => {
        if (get().of === of) set({ trouble: message(error) });
      },
    );
  }

  return {
    of: null,
    ready: false,
    job: null,
    facts: null,
    trouble: null,

    follow: (ground, moving) => {
      const of = nameOf(ground);
      const { of: now, job } = get();
      wanted = ground;
      if (of !== now) {
        begun = null;
        if (job?.state === "running") void api.cancelJob(job.id).catch(() => undefined);
        set({ of, ready: false, job: null, trouble: null });
      }
      window.clearTimeout(timer);
      if (begun === of) return;
      if (moving) return;
      // figures of the whole take a while; those of a preview are there at once
      void previewFacts(ground, of);
      timer = window.setTimeout(() => start(ground, of), now === null ? 0 : REST_MS);
    },

    forget: () => {
      window.clearTimeout(timer);
      begun = null;
      wanted = null;
      set({ of: null, ready: false, job: null, facts: null, trouble: null });
    },

    again: () => {
      const { of } = get();
      if (!wanted || of === null) return;
      set({ job: null, trouble: null });
      start(wanted, of);
    },

    cancel: () => {
      const { job } = get();
      if (job?.state === "running") void api.cancelJob(job.id).catch(() => undefined);
    },
  };
});

/** Grounds as they are told apart, each written once. */
const written = new WeakMap<Ground, string>();

export function nameOf(ground: Ground): string {
  const name = written.get(ground) ?? JSON.stringify(ground);
  written.set(ground, name);
  return name;
}

/** Whether a ground need not be shaped any more. */
export function isReady(ground: Ground): boolean {
  const { ready, of } = useShaping.getState();
  return ready && nameOf(ground) === of;
}

/** Whether a ground, the one shown when none is named, need not be shaped any more. */
export function useReady(named?: Ground): boolean {
  const shown = useSite((s) => s.shown?.ground);
  const ready = useShaping((s) => s.ready);
  const of = useShaping((s) => s.of);
  const ground = named ?? shown;
  return ready && ground !== undefined && nameOf(ground) === of;
}

/** Whether it is known by now if the ground has to be shaped: until then nothing need be shown of it. */
export function isKnown({ ready, job, trouble, facts }: Shaping): boolean {
  return ready || job !== null || trouble !== null || facts !== null;
}

/** The elevations between which the ground lies, as far as they are known. */
export function useRange(): { lowest_m: number; highest_m: number } {
  const facts = useShaping((s) => s.facts);
  const source = useSite((s) => s.shown?.ground.source);
  if (facts) return { lowest_m: facts.lowestM, highest_m: Math.max(facts.highestM, facts.lowestM + 0.1) };
  return source?.kind === "file"
    ? { lowest_m: source.lowest_m, highest_m: source.highest_m }
    : { lowest_m: 0, highest_m: 100 };
}

/** What can be begun on the ground as it is shaped, and between which numbers; until that is known, on a usual ground. */
export function useBeginnings(): Beginnings {
  return useShaping((s) => s.facts?.begin) ?? CATALOGUE.nominal;
}
