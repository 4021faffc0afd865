/** Where the guide is open, and on which side of the page. */

import { create } from "zustand";
import type { Room } from "../rooms";
import type { GuidePlace } from "./pages";

interface GuideState {
  open: boolean;
  place: GuidePlace;
  side: "left" | "right";
  show: (place: GuidePlace) => void;
  close: () => void;
  turnSide: () => void;
}

export const useGuide = create<GuideState>()((set) => ({
  open: false,
  place: "first-steps",
  side: "right",
  show: (place) => set({ open: true, place }),
  close: () => set({ open: false }),
  turnSide: () => set((now) => ({ side: now.side === "right" ? "left" : "right" })),
}));

const OF_ROOM: Record<Room | "sites", GuidePlace> = {
  sites: "first-steps",
  ground: "ground",
  stock: "stock",
  cover: "cover",
  things: "things",
  "hand-off": "hand-off",
};

/** What is told of where the focus is: the nearest panel that names its place, else the room. */
export function placeHere(room: Room | "sites"): GuidePlace {
  const near = document.activeElement?.closest<HTMLElement>("[data-guide]");
  return near?.dataset.guide ?? OF_ROOM[room];
}
