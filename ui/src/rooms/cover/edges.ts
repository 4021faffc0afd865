/** Values on a scale whose bins are told by their edges: even, or in equal ratios where they span decades. */

/** Where a value lies along the edges, 0..1; beyond them at the ends. */
export function placeOn(edges: readonly number[], value: number): number {
  const bins = edges.length - 1;
  for (let k = 0; k < bins; k++) {
    const a = edges[k] ?? 0;
    const b = edges[k + 1] ?? a;
    if (value < b || k === bins - 1)
      return Math.min(1, Math.max(0, (k + (b > a ? Math.min(1, (value - a) / (b - a)) : 0)) / bins));
  }
  return 0;
}

/** The value that lies at a place along the edges. */
export function valueOn(edges: readonly number[], place: number): number {
  const at = Math.min(1, Math.max(0, place)) * (edges.length - 1);
  const k = Math.min(edges.length - 2, Math.floor(at));
  const a = edges[k] ?? 0;
  return a + ((edges[k + 1] ?? a) - a) * (at - k);
}
