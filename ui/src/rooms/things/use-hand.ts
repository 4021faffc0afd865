/** What the hand holds in the Things room: a thing that was picked, corners of a lasso. None of it is kept. */

import { create } from "zustand";
import * as api from "../../api/things";
import type { PictureAsked } from "../../api/types";
import type { Strew, Thing } from "../../generated/recipe";
import { inStrew, useSite } from "../../state/site";
import { useTools } from "../../state/tools";

export interface PickedThing {
  strew: string;
  number: number;
  eastM: number;
  northM: number;
  sizeM: number;
  thing: string;
}

interface Hand {
  /** What a click in a picture sets. */
  inHand: { thing: Thing; begins: Strew } | null;
  picked: PickedThing | null;
  /** Whether a click says where the picked thing goes. */
  carrying: boolean;
  /** Whether the last click met nothing: told beside the pictures. */
  missed: boolean;
  lasso: { east_m: number; north_m: number }[];
}

export const useHand = create<Hand>(() => ({ inHand: null, picked: null, carrying: false, missed: false, lasso: [] }));

/** Numbers below 0 are those of things that a hand added: the first is -1. */
export const addedNumber = (number: number) => -1 - number;

interface Change {
  times?: number;
  turn_deg?: number;
  gone?: boolean;
  at?: { east_m: number; north_m: number };
}

/** A strew with one of its things changed by hand. */
export function withByHand(strew: Strew, picked: PickedThing, change: Change): Strew {
  if (picked.number < 0) {
    const number = addedNumber(picked.number);
    return {
      ...strew,
      added: strew.added.flatMap((one) => {
        if (one.number !== number) return [one];
        if (change.gone) return [];
        return [
          {
            ...one,
            ...(change.at ?? {}),
            size_m: change.times ? Number((picked.sizeM * change.times).toFixed(4)) : one.size_m,
            turn_deg: change.turn_deg ?? one.turn_deg,
          },
        ];
      }),
    };
  }
  const before = strew.by_hand.find((one) => one.number === picked.number) ?? {
    number: picked.number,
    gone: false,
    east_m: null,
    north_m: null,
    times: 1,
    turn_deg: 0,
  };
  // what is sized or turned stays where it was seen, whatever the rule says later
  const next = {
    ...before,
    east_m: before.east_m ?? picked.eastM,
    north_m: before.north_m ?? picked.northM,
    ...(change.at ?? {}),
    times: change.times ?? before.times,
    turn_deg: change.turn_deg ?? before.turn_deg,
    gone: change.gone ?? before.gone,
  };
  return { ...strew, by_hand: [...strew.by_hand.filter((one) => one.number !== picked.number), next] };
}

/** A click that picks a thing, or says where the picked one goes. */
export async function clickThing(
  request: PictureAsked,
  spot: [number, number],
  place: { eastM: number; northM: number } | null,
) {
  const { picked, carrying } = useHand.getState();
  const { keep, select, shown, say } = useSite.getState();
  if (carrying && picked && place) {
    const strew = shown?.strews.find((one) => one.id === picked.strew);
    const at = { east_m: Number(place.eastM.toFixed(3)), north_m: Number(place.northM.toFixed(3)) };
    keep(
      `${strew?.name ?? "a strew"}: moved one`,
      inStrew(picked.strew, (one) => withByHand(one, picked, { at })),
    );
    useHand.setState({ carrying: false, picked: { ...picked, eastM: at.east_m, northM: at.north_m } });
    return;
  }
  const found = await api.pickThing(request, spot[0], spot[1]).catch((error: unknown) => {
    say(error instanceof Error ? error.message : String(error));
    return null;
  });
  if (!found) return;
  const missed = found.strew === null && found.set === null;
  if (found.set !== null) {
    useHand.setState({ picked: null, carrying: false, missed });
    useTools.setState({ tool: "turn" });
    select(found.set);
    return;
  }
  if (found.strew === null) {
    useHand.setState({ picked: null, carrying: false, missed });
    return;
  }
  const times = shown?.strews
    .find((one) => one.id === found.strew)
    ?.by_hand.find((one) => one.number === found.number)?.times;
  useHand.setState({
    picked: { ...found, strew: found.strew, sizeM: found.sizeM / (times ?? 1) },
    carrying: false,
    missed,
  });
  select(found.strew);
}
