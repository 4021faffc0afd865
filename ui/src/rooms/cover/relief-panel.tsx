/** The relief of the selected layer, and the figures of the relief that all layers make together about the peg. */

import { numberOf, percentOf } from "../../state/numbers";
import { useEffect } from "react";
import * as api from "../../api/client";
import type { Layer } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { useLatest } from "../../parts/use-latest";
import { useWhileStill } from "../../state/still";
import { useReady } from "../../state/ground";
import { useSite, useStillSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { percent } from "./column";
import { useFit } from "./use-fit";
import { useTracks } from "./use-tracks";
import { movesGround, useWearKey } from "./wear/wear-key";

/** Keeps the figures of the relief about the peg in step with the cover as shown; one for the room. */
export function useReliefWatch() {
  const ground = useStillSite((s) => s.shown?.ground);
  const layers = useStillSite((s) => s.shown?.layers);
  const marks = useStillSite((s) => s.shown?.marks);
  const water = useStillSite((s) => s.shown?.water);
  const peg = useStillSite((s) => s.shown?.peg);
  const limit = useTools((s) => s.reliefLimit);
  const wears = useWearKey(movesGround);
  const ready = useReady();
  const key = useWhileStill(ready && ground ? JSON.stringify([ground, layers, wears, marks, water, peg, limit]) : null);
  const { value } = useLatest(key, () => {
    const recipe = useSite.getState().shown;
    if (!recipe) throw new Error("the site was closed");
    return api.relief(recipe, useTools.getState().reliefLimit);
  });
  useEffect(() => useTools.setState({ relief: value }), [value]);
}

export function millimetres(m: number): string {
  const mm = m * 1000;
  return `${shown(mm, Math.abs(mm) < 10 ? 1 : 0)} mm`;
}

/** Feet of somebody on the plain ground: in the relief, or above it. */
export function feetText(standM: number): string {
  if (Math.abs(standM) < 0.0005) return "feet level";
  return standM > 0 ? `feet ${millimetres(standM)} deep` : `feet ${millimetres(-standM)} above`;
}

export function ReliefPanel({ layer }: { layer: Layer }) {
  const track = useTracks<"fit">(layer, "fit");
  const fit = useFit(layer);
  const facts = useTools((s) => s.relief);
  const limit = useTools((s) => s.reliefLimit);
  const { relief_mid, meets, tile_m, tile_down_m } = layer.fit;
  const relief = numberOf("Fit", "relief_m");
  const usualMid = { levelled: 50, "on top": 0, "cut in": 100 }[meets];
  return (
    <>
      {track({ field: "relief_m", ...relief, most: Math.min(tile_m, tile_down_m ?? tile_m, relief.most) })}
      {track({ field: "relief_curve", ...numberOf("Fit", "relief_curve") })}
      <Segments
        label="How it meets what lies below"
        value={meets}
        choices={[
          { value: "levelled", label: "Levelled", hint: "Its own relief takes the place of that below" },
          { value: "on top", label: "On top", hint: "It lies on the relief below and follows it" },
          { value: "cut in", label: "Cut in", hint: "It is cut into the relief below" },
        ]}
        onChoose={(next) => fit.keep(`relief ${next}`, { meets: next })}
      />
      <label
        className="mt-1 flex items-center gap-1.5 text-xs"
        title="The texture goes across the steep sides of its relief, not drawn out down them"
      >
        <input
          type="checkbox"
          className="accent-ink"
          checked={layer.fit.own_sides}
          onChange={(event) =>
            fit.keep(event.target.checked ? "sides with texture of their own" : "sides as from above", {
              own_sides: event.target.checked,
            })
          }
        />
        Sides textured across
      </label>
      <label className="mt-1 flex items-center gap-1.5 text-xs">
        <input
          type="checkbox"
          aria-label="Level by itself"
          className="accent-ink"
          checked={relief_mid === null}
          onChange={(event) =>
            fit.keep(event.target.checked ? "level by itself" : "level set by hand", {
              relief_mid: event.target.checked ? null : usualMid / 100,
            })
          }
        />
        {
          {
            levelled: "its mean lies level with the ground",
            "on top": "its lowest lies on what is below",
            "cut in": "its highest lies level with what is below",
          }[meets]
        }
      </label>
      {relief_mid !== null && (
        <Track
          {...percentOf("Fit", "relief_mid")}
          value={Math.round(relief_mid * 100)}
          usual={usualMid}
          onMove={(v) => fit.show({ relief_mid: v / 100 })}
          onKeep={(v) => fit.keep("level of its relief", { relief_mid: v / 100 })}
          onDrop={fit.drop}
        />
      )}
      <h3 className="heading mt-2">All layers, {facts ? shown(facts.aboutM, 0) : 6} m about the peg</h3>
      {!facts && <p className="text-quiet">measuring…</p>}
      {facts && (
        <dl className="figures grid grid-cols-[1fr_auto] gap-x-2 text-xs" data-relief>
          <dt>lowest to highest</dt>
          <dd className="text-right font-medium">
            {millimetres(facts.lowestM)} to {millimetres(facts.highestM)}
          </dd>
          <dt>
            higher than{" "}
            <Num
              {...numberOf("ViewNumbers", "relief_limit_m")}
              value={limit}
              onMove={(v) => useTools.setState({ reliefLimit: v })}
              onKeep={(v) => useTools.setState({ reliefLimit: v })}
              onDrop={() => undefined}
            />
          </dt>
          <dd className="text-right font-medium">{percent(facts.shareAbove)}</dd>
          <dt title="Of somebody who stands on the ground without relief, as collision without displacement has it">
            on the plain ground
          </dt>
          <dd className={`text-right font-medium ${facts.standM > 0.03 ? "text-warn" : ""}`}>
            {feetText(facts.standM)}
          </dd>
          {facts.shareHeldBack > 0 && (
            <>
              <dt title="Steeper than 75°: a height field cannot hold the whole relief there">
                too steep for its relief
              </dt>
              <dd className="text-right font-medium text-warn">{percent(facts.shareHeldBack)} of the site</dd>
            </>
          )}
        </dl>
      )}
    </>
  );
}
