/** The rooms of a site, in the order of the work. */

export const ROOM_NAMES = ["ground", "stock", "cover", "things", "hand-off"] as const;
export type Room = (typeof ROOM_NAMES)[number];
