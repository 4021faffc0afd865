/**
 * Keeps the pictures in step with what is wanted. While something moves, one question asks for all that changed,
 * small, and the next is asked when it is answered: nothing queues, and the newest wins. When nothing changes any
 * more each picture is made in full, the one under the pointer first. What moving needs is made ready while the
 * hand is still; after that pictures are made as fine as the screen is, where that is finer.
 */

import { frame, ServerError, type Frame, type FramePicture } from "../../api/client";
import type { FrameAsked, StandName, ViewAsked } from "../../api/types";
import type { Recipe } from "../../generated/recipe";

/** A hand that holds still for so long sees pictures in full, though it has not let go. */
const STILL_MS = 360;
/** After a lost connection. */
const AGAIN_MS = 1000;
/** Parts of a picture's sides while it moves; the next finer or coarser one is taken as the machine manages. */
const SCALES = [0.25, 0.35, 0.5, 0.71, 1] as const;
const QUICK_MS = 36;
const SLOW_MS = 85;
/**
 * Sets that take longer than this are made smaller while the hand still moves, once so many have: the first of another
 * size takes as long as three.
 */
const TOO_SLOW_MS = 140;
const SEEN_SLOW = 3;

/** What is wanted of a picture. Two with the same inputs, one by one, are the same picture. */
export interface Wanted {
  recipe: Recipe;
  asked: Omit<FrameAsked, "recipe" | "resting" | "views" | "making_ready">;
  view: ViewAsked;
  /** The screen's pixels for one of the view's, along a side. */
  density: number;
  inputs: readonly unknown[];
  /** What the places seen depend on, whatever lies there. */
  places: readonly unknown[];
}

interface Stand {
  wanted: Wanted | null;
  version: number;
  shown: number;
  rested: number;
  /** The version that is shown as finely as the screen is. */
  refined: number;
  readied: readonly unknown[] | null;
}

export interface Sink {
  picture: (stand: StandName, picture: FramePicture, serverMs: number) => void;
  /** Whether a picture shows all that is wanted in full, and nothing moves; whether it does, though something may move. */
  rested: (stand: StandName, rested: boolean, whole: boolean) => void;
  trouble: (message: string | null) => void;
}

const same = (a: readonly unknown[], b: readonly unknown[]) =>
  a.length === b.length && a.every((one, k) => one === b[k]);

const middleOf = (of: readonly number[]) => [...of].sort((a, b) => a - b)[of.length >> 1] ?? 0;

export class FrameLoop {
  private readonly stands = new Map<StandName, Stand>();
  private readonly told = new Map<StandName, "coarse" | "whole" | "rested">();
  private moving = false;
  private asking: AbortController | null = null;
  private resting: AbortController | null = null;
  private readying: AbortController | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Whether the hand has just let go. */
  private settling = false;
  /** Whether what the hand did is being kept: until that is there nothing is asked. */
  private keeping = false;
  private pointed: StandName | null = null;
  private scale = 2;
  private times: number[] = [];

  constructor(private readonly sink: Sink) {}

  /** What is wanted of each picture from now on, and whether something is under the hand. */
  want(all: ReadonlyMap<StandName, Wanted | null>, moving: boolean): void {
    const letGo = this.moving && !moving;
    this.moving = moving;
    let changed = false;
    for (const [stand, wanted] of all) changed = this.take(stand, wanted) || changed;
    if (!moving) this.keeping = false;
    if (letGo) {
      this.settleScale();
      // what was asked while it moved comes too late: all that is left is to show it in full
      this.asking?.abort();
      this.settling = true;
    } else if (changed) this.settling = false;
    if (changed) {
      this.resting?.abort();
      this.readying?.abort();
    }
    for (const stand of all.keys()) this.say(stand);
    if (changed || letGo) this.go();
  }

  /** Returns whether another picture is wanted than before. */
  private take(stand: StandName, wanted: Wanted | null): boolean {
    const now = this.stands.get(stand) ?? {
      wanted: null,
      version: 0,
      shown: -1,
      rested: -1,
      refined: -1,
      readied: null,
    };
    this.stands.set(stand, now);
    const before = now.wanted;
    now.wanted = wanted;
    if (before === wanted || (wanted && before && same(wanted.inputs, before.inputs))) return false;
    now.version += 1;
    return true;
  }

  /** Whether a stroke is sent to be kept: nothing else is to keep the server busy until it is, or another begins. */
  keep(keeping: boolean): void {
    this.keeping = keeping && this.moving;
    if (keeping) this.asking?.abort();
  }

  /** The picture under the pointer is made first. */
  point(stand: StandName): void {
    this.pointed = stand;
  }

  end(stand: StandName): void {
    this.stands.delete(stand);
    this.told.delete(stand);
    if (this.stands.size > 0) return;
    this.asking?.abort();
    this.resting?.abort();
    this.readying?.abort();
    clearTimeout(this.timer);
  }

  /** Pictures with something to be done, the one under the pointer first. */
  private due(of: (stand: Stand) => boolean): [StandName, Stand][] {
    const due = [...this.stands].filter(([, stand]) => stand.wanted !== null && of(stand));
    return due.sort(([a], [b]) => Number(b === this.pointed) - Number(a === this.pointed));
  }

  private say(stand: StandName): void {
    const now = this.stands.get(stand);
    const whole = !!now?.wanted && !now.wanted.asked.preview && now.rested === now.version;
    const told = !whole ? "coarse" : this.moving || now.refined !== now.version ? "whole" : "rested";
    if (this.told.get(stand) === told) return;
    this.told.set(stand, told);
    this.sink.rested(stand, told === "rested", whole);
  }

  private go(): void {
    clearTimeout(this.timer);
    if (this.asking || this.keeping) return;
    const changed = this.due((stand) => stand.shown !== stand.version);
    if (changed.length > 0 && !this.settling) void this.quick(changed);
    else if (this.due((stand) => stand.rested !== stand.version).length === 0) void this.makeReady();
    else if (this.moving) this.timer = setTimeout(() => void this.rest(), STILL_MS);
    // at once: a page that has a kept edit to show is busy for longer than a picture takes to be asked
    else void this.rest();
  }

  private request(stands: [StandName, Stand][], restingScale?: number): FrameAsked | null {
    const first = stands[0]?.[1].wanted;
    if (!first) return null;
    const resting = restingScale !== undefined;
    // a ground that moves is coarse itself, and all that is seen of it is worked out anew
    const moving = SCALES[Math.max(0, this.scale - Number(first.asked.preview))] ?? 0.5;
    const scale = restingScale ?? Math.min(moving, first.density);
    const side = (px: number) => Math.max(16, Math.round(px * scale));
    const views = stands.flatMap(([, { wanted }]) =>
      wanted ? [{ ...wanted.view, width_px: side(wanted.view.width_px), height_px: side(wanted.view.height_px) }] : [],
    );
    return { recipe: first.recipe, ...first.asked, resting, views };
  }

  private async quick(stands: [StandName, Stand][]): Promise<void> {
    const request = this.request(stands);
    if (!request) return;
    this.resting?.abort();
    this.readying?.abort();
    this.asking = new AbortController();
    const versions = stands.map(([, stand]) => stand.version);
    const places = stands.map(([, stand]) => stand.wanted?.places ?? null);
    const began = performance.now();
    const answer = await this.answer(request, this.asking);
    this.asking = null;
    if (answer === "again") {
      this.timer = setTimeout(() => this.go(), AGAIN_MS);
      return;
    }
    if (answer !== null) {
      // a ground that moves is shaped for each set: smaller ones take as long
      if (this.moving && !request.preview) this.took(performance.now() - began);
      stands.forEach(([, stand], k) => {
        stand.shown = versions[k] ?? stand.shown;
        stand.readied = places[k] ?? null;
      });
    }
    // asked before the last is drawn: the server works meanwhile
    this.go();
    if (answer) this.draw(answer);
  }

  private async rest(): Promise<void> {
    const [next] = this.due((stand) => stand.rested !== stand.version);
    if (next && !this.asking) await this.inFull(next, Math.min(1, next[1].wanted?.density ?? 1));
  }

  private async refine(): Promise<void> {
    const [next] = this.due((stand) => stand.refined !== stand.version);
    if (next && !this.asking && !this.moving) await this.inFull(next, next[1].wanted?.density ?? 1);
  }

  private async inFull(next: [StandName, Stand], scale: number): Promise<void> {
    const request = this.request([next], scale);
    if (!request) return;
    const [name, stand] = next;
    const { version } = stand;
    this.resting?.abort();
    const mine = new AbortController();
    this.resting = mine;
    const answer = await this.answer(request, mine);
    if (mine.signal.aborted) return;
    if (answer === "again") {
      this.timer = setTimeout(() => this.go(), AGAIN_MS);
      return;
    }
    if (answer !== null && stand.version === version) {
      // in full is more than small: it is not to be drawn over
      stand.shown = stand.rested = version;
      if (scale === stand.wanted?.density) stand.refined = version;
      // asked before this one is drawn: the server works meanwhile
      const goesOn = this.restsOn();
      if (goesOn) void this.rest();
      this.draw(answer);
      this.say(name);
      if (goesOn) return;
    }
    this.go();
  }

  /** Whether the next picture at rest is all that is left to be asked. */
  private restsOn(): boolean {
    if (this.moving || this.asking || this.keeping) return false;
    const coarse = this.due((stand) => stand.shown !== stand.version);
    return (this.settling || coarse.length === 0) && this.due((stand) => stand.rested !== stand.version).length > 0;
  }

  /** What moving needs, then what the screen would show better. */
  private async makeReady(): Promise<void> {
    if (this.moving || this.readying) return;
    const cold = this.due((stand) => !stand.readied || !same(stand.readied, stand.wanted?.places ?? []));
    const request = this.request(cold);
    if (!request) return this.refine();
    const mine = new AbortController();
    this.readying = mine;
    for (const [, stand] of cold) stand.readied = stand.wanted?.places ?? null;
    await this.answer({ ...request, making_ready: true }, mine);
    this.readying = null;
    if (mine.signal.aborted) for (const [, stand] of cold) stand.readied = null;
    else if (this.due((stand) => stand.refined !== stand.version).length > 0) this.go();
  }

  /** The answer; null when the server stopped it or it cannot be given, "again" when it may be asked once more. */
  private async answer(request: FrameAsked, stop: AbortController): Promise<Frame | "again" | null> {
    try {
      const found = await frame(request, stop.signal);
      this.sink.trouble(null);
      return found;
    } catch (error) {
      if (stop.signal.aborted) return null;
      // another question of this window took its place
      if (error instanceof ServerError && error.status === 410) return "again";
      this.sink.trouble(error instanceof Error ? error.message : String(error));
      if (error instanceof ServerError && error.status === 0) return "again";
      // what was refused is not asked again until something changes
      for (const view of request.views) this.refused(view.stand);
      return null;
    }
  }

  private refused(stand: StandName): void {
    const now = this.stands.get(stand);
    if (!now) return;
    now.shown = now.rested = now.refined = now.version;
    now.readied = now.wanted?.places ?? null;
  }

  private draw(answer: Frame): void {
    for (const one of answer.pictures) this.sink.picture(one.stand, one, answer.serverMs);
  }

  /** How long a set took: where sets take far too long they are made smaller at once. */
  private took(ms: number): void {
    this.times.push(ms);
    if (this.times.length === SEEN_SLOW && middleOf(this.times) > TOO_SLOW_MS) this.rescale(-1);
  }

  /** Finer or coarser while moving next time, as long as the sets of this time took. */
  private settleScale(): void {
    if (this.times.length === 0) return;
    const middle = middleOf(this.times);
    this.rescale(middle < QUICK_MS ? 1 : middle > SLOW_MS ? -1 : 0);
  }

  private rescale(by: number): void {
    this.times = [];
    const next = Math.min(SCALES.length - 1, Math.max(0, this.scale + by));
    if (next === this.scale) return;
    this.scale = next;
    for (const stand of this.stands.values()) stand.readied = null;
  }
}
