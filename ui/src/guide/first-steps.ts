/** The five moves of somebody's first site: each is marked when what is kept of a site shows that it was done. */

import { create } from "zustand";
import type { Recipe } from "../generated/recipe";
import { useSite } from "../state/site";

export type Move = "heights" | "layer" | "rule" | "fit" | "handed";

export const MOVES: readonly { move: Move; does: string; how: string }[] = [
  {
    move: "heights",
    does: "Bring in your heights",
    how: "Drop a height file in Sites, say how large it is, make the site.",
  },
  { move: "layer", does: "Lay a layer", how: "In Cover: Lay a layer, and choose a set." },
  { move: "rule", does: "Say where it lies", how: "Drag a number of its sentence, or add a clause." },
  {
    move: "fit",
    does: "Fit it to the ground",
    how: "Drag its tile size or its look until Near is right beside the figure.",
  },
  { move: "handed", does: "Hand it off", how: "In Hand-off: choose a sheet and write it." },
];

const KEPT_UNDER = "elvatch.first-steps";

function kept(): Move[] {
  const told = (window.localStorage.getItem(KEPT_UNDER) ?? "").split(" ");
  return MOVES.map((one) => one.move).filter((move) => told.includes(move));
}

interface FirstSteps {
  done: readonly Move[];
  mark: (moves: readonly Move[]) => void;
  forget: () => void;
}

export const useFirstSteps = create<FirstSteps>()((set, get) => ({
  done: [],
  mark: (moves) => {
    const now = get().done;
    if (moves.every((move) => now.includes(move))) return;
    const done = MOVES.map((one) => one.move).filter((move) => now.includes(move) || moves.includes(move));
    window.localStorage.setItem(KEPT_UNDER, done.join(" "));
    set({ done });
  },
  forget: () => {
    window.localStorage.removeItem(KEPT_UNDER);
    set({ done: [] });
  },
}));

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** Which moves lead from what was kept before to what is kept now. */
export function movesBetween(before: Recipe | null, now: Recipe): Move[] {
  const moves: Move[] = [];
  if (now.ground.source.kind === "file") moves.push("heights");
  if (before === null) return moves;
  const known = new Map(before.layers.map((layer) => [layer.id, layer]));
  for (const layer of now.layers) {
    const then = known.get(layer.id);
    if (!then) moves.push("layer");
    else {
      if (!same(then.rule, layer.rule)) moves.push("rule");
      if (!same(then.fit, layer.fit) || !same(then.look, layer.look)) moves.push("fit");
    }
  }
  return moves;
}

/** Watches what is kept of the open site. */
export function watchFirstSteps(): () => void {
  useFirstSteps.setState({ done: kept() });
  let last = useSite.getState().state;
  return useSite.subscribe(({ state }) => {
    if (state === last) return;
    const before = last?.id === state?.id ? (last?.recipe ?? null) : null;
    last = state;
    if (state) useFirstSteps.getState().mark(movesBetween(before, state.recipe));
  });
}
