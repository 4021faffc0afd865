/** Neighbouring samples of a cut that one layer lies on top of. */

export interface Run {
  layer: number;
  from: number;
  to: number;
}

export function runsOf(layer: readonly number[]): Run[] {
  const runs: Run[] = [];
  layer.forEach((one, i) => {
    const last = runs.at(-1);
    if (last?.layer === one) last.to = i;
    else runs.push({ layer: one, from: i, to: i });
  });
  return runs;
}
