/**
 * Changes of sets on their way to the server, sent one after the other, each on the revision that
 * the one before it made. A set is shown with all that is on its way laid over what the server has.
 */

import * as api from "../api/stock";
import type { SetState } from "../api/stock";
import type { SetDescription } from "../generated/stock";
import { settle } from "./resting";

export type Way = "undo" | "redo";

/** What a change did, to compare with: only one that changed what a cover sees of the set is worth it. */
export interface Changed {
  label: string;
  before: SetState;
}

interface Coming {
  name: string;
  label: string;
  change: Partial<SetDescription>;
}

export interface Shows {
  /** A set as it is shown now. */
  show: (state: SetState) => void;
  /** The server has answered: the set as it is shown now, and what changed when its content did. */
  kept: (state: SetState, changed: Changed | null) => void;
  /** Whether anything is on its way. */
  keeping: (keeping: boolean) => void;
  /** Something was not kept, and how it can be tried again. */
  failed: (error: unknown, lost: { label: string; again: () => void } | null) => void;
}

function laid(state: SetState, { label, change }: Coming): SetState {
  return { ...state, description: { ...state.description, ...change }, undo: label, redo: null };
}

export class SetEdits {
  private queue: Promise<void> = Promise.resolve();
  /** The set of each request that is not answered yet. */
  private readonly underWay: string[] = [];
  private coming: Coming[] = [];
  /** Sets as the server last said they are. */
  private readonly stored = new Map<string, SetState>();

  constructor(private readonly shows: Shows) {}

  /** The set as the server has it, once all that is on its way is kept. */
  async latest(name: string): Promise<SetState> {
    settle();
    await this.queue;
    return this.stored.get(name) ?? this.look(name);
  }

  /** The set as it is now, asked for anew. */
  async look(name: string): Promise<SetState> {
    if (this.underWay.includes(name)) await this.queue;
    const state = await api.one(name);
    this.stored.set(name, state);
    return this.withComing(state);
  }

  describe(shown: SetState, label: string, change: Partial<SetDescription>): void {
    settle();
    const mine = { name: shown.name, label, change };
    this.coming.push(mine);
    this.shows.show(laid(shown, mine));
    this.then(
      mine.name,
      label,
      (base) => api.describe(base, label, { ...base.description, ...change }),
      (now) => this.describe(now, label, change),
      mine,
    );
  }

  step(shown: SetState, way: Way): void {
    settle();
    this.then(
      shown.name,
      way === "undo" ? "undone" : "redone",
      (base) => api.step(base, way),
      (now) => this.step(now, way),
    );
  }

  setAside(shown: SetState, aside: boolean): void {
    settle();
    this.then(
      shown.name,
      aside ? "set aside" : "put back",
      (base) => api.setAside(base.name, aside),
      (now) => this.setAside(now, aside),
    );
  }

  /** Long work has made another revision of this set: show it. */
  worked(name: string, label: string): void {
    this.then(name, label, () => api.one(name), null);
  }

  private withComing(state: SetState): SetState {
    return this.coming.filter((one) => one.name === state.name).reduce(laid, state);
  }

  private then(
    name: string,
    label: string,
    ask: (base: SetState) => Promise<SetState>,
    again: ((now: SetState) => void) | null,
    mine?: Coming,
  ) {
    const arrived = () => {
      this.coming = this.coming.filter((one) => one !== mine);
    };
    this.underWay.push(name);
    this.shows.keeping(true);
    this.queue = this.queue.then(async () => {
      try {
        const base = this.stored.get(name) ?? (await api.one(name));
        const kept = await ask(base);
        arrived();
        this.stored.set(name, kept);
        this.shows.kept(this.withComing(kept), kept.content === base.content ? null : { label, before: base });
      } catch (error) {
        arrived();
        await this.goBack(name, label, error, again);
      }
      this.underWay.splice(this.underWay.indexOf(name), 1);
      this.shows.keeping(this.underWay.length > 0);
    });
  }

  /** Show what is in force in place of what was not kept, and say so. */
  private async goBack(name: string, label: string, error: unknown, again: ((now: SetState) => void) | null) {
    try {
      this.stored.set(name, await api.one(name));
    } catch {
      // the server says nothing of it now: what it last said has to do
    }
    const now = this.stored.get(name);
    if (now) this.shows.kept(this.withComing(now), null);
    this.shows.failed(
      error,
      again && now ? { label, again: () => again(this.withComing(this.stored.get(name) ?? now)) } : null,
    );
  }
}
