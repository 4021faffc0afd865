/** The hand on a texture: dragged, it lies where the hand goes; with Shift it turns about where it was taken. */

import { useRef } from "react";
import * as api from "../../api/client";
import type { PictureRequest } from "../../api/client";
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
  const turn = (((fit.turn_deg + byDeg + 180) % 360) + 360) % 360 - 180;
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
  x: number;
  turning: boolean;
  from: Spot | null;
  moved: boolean;
}

export function useFitHand(request: () => PictureRequest | null) {
  const held = useRef<Held | null>(null);
  const next = useRef<[number, number] | null>(null);
  const busy = useRef(false);

  function show(part: Partial<Lie>) {
    const now = held.current;
    if (!now) return;
    now.moved = true;
    useSite.getState().preview(now.of.change(part));
  }

  /** One place is asked for at a time; what lies between is skipped. */
  async function follow(asked: PictureRequest) {
    if (busy.current) return;
    busy.current = true;
    while (next.current && held.current) {
      const [across, down] = next.current;
      next.current = null;
      const spot = await api.spot(asked, across, down).catch(() => null);
      const now = held.current as Held | null;
      if (!spot || !now) continue;
      if (!now.from) now.from = spot;
      else if (!now.turning) show(carried(now.of.lie, now.from, spot));
    }
    busy.current = false;
  }

  return {
    /** Whether there is something to take hold of. */
    begin: (event: React.PointerEvent): boolean => {
      const { shown, selected } = useSite.getState();
      const of = lyingOf(shown, selected);
      const asked = request();
      if (!of || !asked) return false;
      held.current = { of, x: event.clientX, turning: event.shiftKey, from: null, moved: false };
      next.current = spotOf(event);
      void follow(asked);
      return true;
    },
    move: (event: React.PointerEvent): boolean => {
      const now = held.current;
      if (!now) return false;
      if (now.turning) {
        if (now.from) show(turnedAbout(now.of.lie, now.from, (now.x - event.clientX) * DEGREES_A_PIXEL));
        return true;
      }
      next.current = spotOf(event);
      const asked = request();
      if (asked) void follow(asked);
      return true;
    },
    end: (): boolean => {
      const now = held.current;
      if (!now) return false;
      held.current = null;
      next.current = null;
      if (now.moved) useSite.getState().keep(`${now.of.name}: ${now.turning ? "turned" : "moved"} on the ground`);
      return true;
    },
    drop: () => {
      held.current = null;
      next.current = null;
    },
  };
}
