/** The hand on a texture: dragged, it lies where the hand goes; with Shift it turns about where it was taken. */

import { useState } from "react";
import * as api from "../../api/client";
import type { PictureAsked } from "../../api/types";
import type { Spot } from "../../api/types";
import type { Lie } from "../../generated/recipe";
import { useSite } from "../../state/site";
import { spotOf } from "./hand";
import { lyingOf, type Lying } from "./lie";

const DEGREES_A_PIXEL = 0.4;

const rounded = (m: number) => Number(m.toFixed(4));

/** The fit moved so that what lay at one place lies at another. */
export function carried(fit: Lie, from: Spot, to: Spot): Partial<Lie> {
  const steep = fit.projection === "triplanar" || fit.projection === "side";
  return {
    offset_east_m: rounded(fit.offset_east_m + to.eastM - from.eastM),
    offset_north_m: rounded(fit.offset_north_m + to.northM - from.northM),
    offset_up_m: steep ? rounded(fit.offset_up_m + to.elevationM - from.elevationM) : fit.offset_up_m,
  };
}

/** The fit turned about a place: what lies there stays there. */
export function turnedAbout(fit: Lie, at: Spot, byDeg: number): Partial<Lie> {
  const turn = ((((fit.turn_deg + byDeg + 180) % 360) + 360) % 360) - 180;
  const angle = ((turn - fit.turn_deg) * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [east, north] = [at.eastM - fit.offset_east_m, at.northM - fit.offset_north_m];
  return {
    turn_deg: Number(turn.toFixed(1)),
    offset_east_m: rounded(at.eastM - (c * east - s * north)),
    offset_north_m: rounded(at.northM - (s * east + c * north)),
  };
}

interface Held {
  of: Lying;
  /** Where the pointer took hold and where it is now, in pixels across the page. */
  x: number;
  toX: number;
  turning: boolean;
  /** The place taken hold of; not known before the server answers. */
  from: Spot | null;
  moved: boolean;
  /** The pointer is up, and what it still asked for is waited for. */
  released: boolean;
}

/** The place of the ground at a spot of a picture, 0..1 from its left and top. */
type Ask = (across: number, down: number) => Promise<Spot | null>;

/** One hand over one picture. The server may answer later than the hand moves: nothing of a drag is lost by it. */
export class FitHand {
  private held: Held | null = null;
  private next: [number, number] | null = null;
  private following: Promise<void> | null = null;

  begin(of: Lying, x: number, turning: boolean, spot: [number, number], ask: Ask) {
    this.finish();
    this.held = { of, x, toX: x, turning, from: null, moved: false, released: false };
    this.next = spot;
    this.following ??= this.follow(ask);
  }

  /** Whether the hand holds something. */
  get holds(): boolean {
    return this.held !== null && !this.held.released;
  }

  move(x: number, spot: [number, number], ask: Ask) {
    const now = this.held;
    if (!now) return;
    if (now.turning) {
      now.toX = x;
      this.turn(now);
      return;
    }
    this.next = spot;
    this.following ??= this.follow(ask);
  }

  end() {
    if (!this.held) return;
    this.held.released = true;
    if (this.following) useSite.getState().underWay(this.following);
    else this.finish();
  }

  drop() {
    this.held = null;
    this.next = null;
  }

  private finish() {
    const now = this.held;
    this.drop();
    if (now?.moved) useSite.getState().keep(`${now.of.name}: ${now.turning ? "turned" : "moved"} on the ground`);
  }

  private show(now: Held, part: Partial<Lie>) {
    now.moved = true;
    useSite.getState().preview(now.of.change(part));
  }

  private turn(now: Held) {
    if (!now.from || (!now.moved && now.toX === now.x)) return;
    this.show(now, turnedAbout(now.of.lie, now.from, (now.x - now.toX) * DEGREES_A_PIXEL));
  }

  /** One place is asked for at a time; what lies between is skipped. */
  private async follow(ask: Ask) {
    while (this.next && this.held) {
      const taken = this.held;
      const [across, down] = this.next;
      this.next = null;
      const spot = await ask(across, down).catch(() => null);
      if (!spot || this.held !== taken) continue;
      if (taken.from) this.show(taken, carried(taken.of.lie, taken.from, spot));
      else taken.from = spot;
      // the hand may have turned before it was known about what
      if (taken.turning) this.turn(taken);
    }
    this.following = null;
    if (this.held?.released) this.finish();
  }
}

export function useFitHand(request: () => PictureAsked | null) {
  const [hand] = useState(() => new FitHand());
  const ask: Ask = async (across, down) => {
    const asked = request();
    return asked && api.spot(asked, across, down);
  };
  return {
    /** Whether there is something to take hold of. */
    begin: (event: React.PointerEvent): boolean => {
      const { shown, selected } = useSite.getState();
      const of = lyingOf(shown, selected);
      if (!of || !request()) return false;
      hand.begin(of, event.clientX, event.shiftKey, spotOf(event), ask);
      return true;
    },
    move: (event: React.PointerEvent): boolean => {
      if (hand.holds) hand.move(event.clientX, spotOf(event), ask);
      return hand.holds;
    },
    end: (): boolean => {
      const held = hand.holds;
      hand.end();
      return held;
    },
    drop: () => hand.drop(),
  };
}
