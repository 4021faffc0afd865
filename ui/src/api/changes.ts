/** What differs between two recipes, told as places and what is put there; parts that are the same are the same objects. */

export interface Put {
  at: (string | number)[];
  put: unknown;
}

const isRecord = (of: unknown): of is Record<string, unknown> =>
  typeof of === "object" && of !== null && !Array.isArray(of);

/** The places that differ; null where they cannot be told apart by places. */
export function changesOf(before: unknown, after: unknown, at: (string | number)[] = []): Put[] {
  if (before === after) return [];
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return after.flatMap((one, k) => changesOf(before[k], one, [...at, k]));
  if (isRecord(before) && isRecord(after)) {
    const names = Object.keys(after);
    if (names.length === Object.keys(before).length && names.every((name) => name in before))
      return names.flatMap((name) => changesOf(before[name], after[name], [...at, name]));
  }
  return [{ at, put: after }];
}

/** A value that came anew, made of the objects of an older one wherever they say the same. */
export function reused<T>(before: unknown, after: T): T {
  if (before === after || typeof after !== "object" || after === null) return after;
  if (Array.isArray(after)) {
    if (!Array.isArray(before)) return after;
    const made: unknown[] = after.map((one: unknown, k): unknown => reused(before[k], one));
    return (made.length === before.length && made.every((one, k) => one === before[k]) ? before : made) as T;
  }
  if (!isRecord(before)) return after;
  const names = Object.keys(after);
  const made = Object.fromEntries(
    names.map((name) => [name, reused(before[name], (after as Record<string, unknown>)[name])]),
  );
  const same = names.length === Object.keys(before).length && names.every((name) => made[name] === before[name]);
  return (same ? before : made) as T;
}
