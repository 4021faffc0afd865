import { useMemo } from "react";
import type { StrewFacts } from "../../generated/answers";
import * as api from "../../api/things";
import { useLatest } from "../../parts/use-latest";
import { useReady, useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { useWhileStill } from "../../state/still";

export interface StrewsKnown {
  of: ReadonlyMap<string, StrewFacts>;
  all: api.FieldFacts | null;
  trouble: string | null;
  current: boolean;
}

/** How many things each strew comes to; the older figures stay until the newer are there. */
export function useStrewFacts(): StrewsKnown {
  const ground = useSite((s) => s.shown?.ground);
  const strews = useSite((s) => s.shown?.strews);
  const setThings = useSite((s) => s.shown?.set_things);
  const things = useSite((s) => s.shown?.things);
  const layers = useSite((s) => s.shown?.layers);
  const marks = useSite((s) => s.shown?.marks);
  const water = useSite((s) => s.shown?.water);
  const ready = useReady();
  const none = !strews?.length && !setThings?.length;
  // what of those set by hand figures depend on
  const standing = setThings?.flatMap((one) => (one.on ? [one.thing] : [])).join() ?? "";
  const key = useMemo(
    () =>
      ready && ground && !none
        ? JSON.stringify([
            ground,
            strews,
            standing,
            things,
            layers?.map((one) => [one.id, one.rule, one.opacity]),
            marks,
            water,
          ])
        : null,
    [ready, ground, none, strews, standing, things, layers, marks, water],
  );
  const asked = useWhileStill(key);
  const { value, current, trouble } = useLatest<api.FieldFacts>(asked, () => {
    const recipe = useSite.getState().shown;
    if (!recipe) throw new Error("the site was closed");
    return api.strewFacts(recipe, !useShaping.getState().ready);
  });
  return useMemo(
    () => ({
      of: new Map((none ? [] : (value?.strews ?? [])).map((one) => [one.id, one])),
      all: none ? null : value,
      trouble,
      current: none || (current && asked === key),
    }),
    [value, trouble, none, current, asked, key],
  );
}
