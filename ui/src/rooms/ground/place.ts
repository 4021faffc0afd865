/** A place on the relief map. */
export interface Place {
  east: number;
  north: number;
}
