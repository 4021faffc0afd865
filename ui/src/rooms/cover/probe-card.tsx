/** What lies at a place: its measures, the layers there, and clause by clause why or why not. */

import { useMeasures } from "../../state/measures";
import * as api from "../../api/client";
import type { Layer } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { percent } from "./column";
import { compass } from "./clauses";
import { millimetres } from "./relief-panel";
import { anything, useWearKey } from "./wear/wear-key";

function valueText(value: number, unit: string): string {
  const digits = Math.abs(value) >= 1000 ? 0 : Math.abs(value) >= 10 ? 1 : Math.abs(value) >= 0.1 ? 2 : 4;
  return `${shown(value, digits)}${unit === "°" ? "°" : ` ${unit}`}`;
}

const SEEN = 0.001;

/** The layers that lie there, from the top down, and after them those that do not. */
function fromTheTop(layers: readonly Layer[], shares: readonly number[]) {
  const all = layers.map((layer, k) => ({ layer, k })).reverse();
  const there = (k: number) => (shares[k] ?? 0) > SEEN;
  return [...all.filter(({ k }) => there(k)), ...all.filter(({ k }) => !there(k))];
}

export function ProbeCard() {
  const probed = useTools((s) => s.probed);
  return probed && <Probed probed={probed} />;
}

function Probed({ probed }: { probed: { east: number; north: number } }) {
  const recipe = useSite((s) => s.shown);
  const kinds = useMeasures();
  const wears = useWearKey(anything);
  const key = recipe && JSON.stringify([probed, recipe.ground, recipe.layers, wears, recipe.marks, recipe.water]);
  const { value: found, trouble } = useLatest(key, () => {
    const now = useSite.getState().shown;
    const place = useTools.getState().probed;
    if (!now || !place) throw new Error("nothing is probed any more");
    return api.probe(now, place.east, place.north);
  });
  if (!recipe) return null;
  return (
    <section
      aria-label="Probe"
      className="plate absolute top-12 right-4 bottom-10 z-20 w-[330px] overflow-y-auto p-3 select-text"
    >
      <div className="flex items-baseline justify-between gap-2">
        <h3 className="heading">
          At {shown(probed.east, 1)} m east, {shown(probed.north, 1)} m north
        </h3>
        <button type="button" className="underline" onClick={() => useTools.setState({ probed: null })}>
          close
        </button>
      </div>
      {trouble && <p className="text-warn">{trouble}</p>}
      {!found && !trouble && <p className="text-quiet">Measuring…</p>}
      {found && (
        <>
          <dl className="figures mt-1.5 grid grid-cols-[1fr_auto_1fr_auto] gap-x-2 text-xs">
            {kinds.map((kind) => {
              const value = found.spot.measures[kind.name];
              if (value === undefined) return null;
              const text =
                kind.name === "aspect"
                  ? value < 0
                    ? "level"
                    : `${compass(value)} ${shown(value, 0)}°`
                  : valueText(value, kind.unit);
              return (
                <div key={kind.name} className="contents">
                  <dt className="truncate text-quiet">{kind.title}</dt>
                  <dd className="text-right font-medium whitespace-nowrap">{text}</dd>
                </div>
              );
            })}
          </dl>
          <p className="figures mt-1 border-t border-rule pt-1 text-xs" data-fit>
            relief {millimetres(found.fit.reliefM)} · stretch {shown(found.fit.stretch, 2)} × ·{" "}
            {shown(found.fit.density, 0)} px/m
          </p>
          {found.wear.some((one) => one.letIn > SEEN) && (
            <div className="figures mt-2 border-t border-rule pt-1 text-xs" data-wear-here>
              {found.wear
                .toReversed()
                .filter((one) => one.letIn > SEEN)
                .map((one) => (
                  <p key={one.name} className="flex justify-between gap-2">
                    <span>
                      wear: {one.name}, let in {percent(one.letIn)}
                    </span>
                    <span>overlay {shown(one.overlay, 2)}</span>
                  </p>
                ))}
            </div>
          )}
          {fromTheTop(recipe.layers, found.shares).map(({ layer, k }) => {
            const account = found.account[k];
            const share = found.shares[k] ?? 0;
            if (!account) return null;
            return (
              <div key={layer.id} className="mt-2 border-t border-rule pt-1">
                <p className="flex justify-between gap-2">
                  <b className="font-semibold">{layer.name}</b>
                  <span className="figures font-semibold">{percent(share)}</span>
                </p>
                {k === 0 && <p className="text-xs text-quiet">lies under all others</p>}
                {!layer.on && <p className="text-xs text-quiet">it is hidden</p>}
                {account.clauses.map((clause, at) => (
                  <p
                    key={at}
                    className={`figures flex justify-between gap-2 text-xs ${clause.decides ? "font-semibold text-accent" : clause.letsIn < 0.5 ? "" : "text-quiet"}`}
                  >
                    <span>
                      {at === 0 && clause.join === "and" ? "" : `${clause.join} `}
                      {clause.words}
                      {clause.decides ? " — keeps it out" : ""}
                    </span>
                    <span>
                      {clause.join === "except"
                        ? `leaves ${percent(clause.letsIn)}`
                        : `lets in ${percent(clause.letsIn)}`}
                    </span>
                  </p>
                ))}
              </div>
            );
          })}
        </>
      )}
    </section>
  );
}
