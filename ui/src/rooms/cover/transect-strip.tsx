/** The cut along a line through the peg, hatched by the layer on top. */

import { numberOf } from "../../state/numbers";
import { memo, useEffect, useState } from "react";
import { useSize } from "../../parts/use-size";
import * as api from "../../api/client";
import type { Transect } from "../../api/types";
import { hatchOf } from "../../parts/hatch";
import { runsOf } from "./cut-runs";
import { metresBetween, Num, shown } from "../../parts/number";
import { useReady } from "../../state/ground";
import { useSite, useStillSite } from "../../state/site";
import { BootStrip } from "./boot-strip";
import { useStill } from "../../state/still";
import { useWearKey, wearsThrough } from "./wear/wear-key";

/** Less rise than this is none: it would be drawn a million times higher. */
const LEVEL_M = 0.001;
const HEIGHT = 76;
const FILL = 13;
const BEARING = numberOf("ViewNumbers", "cut_deg");

function useTransect(bearingDeg: number): Transect | null {
  const ground = useStillSite((s) => s.shown?.ground);
  const layers = useStillSite((s) => s.shown?.layers);
  const wears = useWearKey(wearsThrough);
  const marks = useStillSite((s) => s.shown?.marks);
  const peg = useStillSite((s) => s.shown?.peg);
  const water = useStillSite((s) => s.shown?.water);
  const ready = useReady();
  const still = useStill();
  const [cut, setCut] = useState<Transect | null>(null);
  useEffect(() => {
    if (!ready || !still) return;
    const stop = new AbortController();
    const timer = window.setTimeout(() => {
      const recipe = useSite.getState().shown;
      if (recipe) api.transect(recipe, bearingDeg, stop.signal).then(setCut, () => undefined);
    }, 50);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [ground, layers, wears, marks, peg, water, bearingDeg, ready, still]);
  return cut;
}

/** The whole site, or a few paces of it where the layers' relief shows. */
export function TransectStrip() {
  const [close, setClose] = useState(false);
  const [bearing, setBearing] = useState(BEARING.usual);
  const controls = (
    <>
      <button
        type="button"
        className="underline"
        onClick={() => setClose(!close)}
        title={
          close ? "Show the cut through the whole site" : "Show a few paces at the peg, with the relief of the layers"
        }
      >
        {close ? "whole site" : "at a boot's scale"}
      </button>
      · bearing
      <Num {...BEARING} value={bearing} onMove={setBearing} onKeep={setBearing} onDrop={() => undefined} />
    </>
  );
  return close ? (
    <BootStrip bearing={bearing} controls={controls} />
  ) : (
    <SiteStrip bearing={bearing} controls={controls} />
  );
}

interface StripProps {
  bearing: number;
  controls: React.ReactNode;
}

function SiteStrip({ bearing, controls }: StripProps) {
  const { box, size } = useSize();
  const width = size?.width ?? 1052;
  const cut = useTransect(bearing);
  const names = useStillSite((s) => JSON.stringify(s.shown?.layers.map((one) => one.name) ?? []));
  const waterM = useSite((s) => (s.shown?.water.on ? s.shown.water.level_m : null));
  return (
    <div ref={box} className="relative overflow-hidden border-y border-ink bg-raised">
      {cut && <Drawn cut={cut} width={width} names={names} waterM={waterM} />}
      {cut && <Told cut={cut} width={width} controls={controls} />}
    </div>
  );
}

/** How a cut is drawn in a strip: pixels for a metre along it, metres up, and how much that is raised. */
function measured(cut: Transect, width: number) {
  const length = cut.distanceM.at(-1) ?? 1;
  const low = Math.min(...cut.elevationM);
  const high = Math.max(...cut.elevationM);
  const perMetre = width / length;
  const exaggeration = Math.max(1, Math.floor((HEIGHT - FILL - 12) / Math.max(1e-6, (high - low) * perMetre)));
  const tall = Math.min((HEIGHT - FILL - 10) / Math.max(1e-6, high - low), perMetre * exaggeration);
  return { length, low, high, perMetre, tall };
}

function Told({ cut, width, controls }: { cut: Transect; width: number; controls: React.ReactNode }) {
  const { length, low, high, perMetre, tall } = measured(cut, width);
  const times = tall / perMetre;
  return (
    <>
      <span className="figures absolute bottom-1 left-2 flex items-center gap-1 bg-raised/85 px-1 text-[11px] text-quiet">
        Transect through the peg · {controls}· {metresBetween(low, high)}
        {high - low < LEVEL_M ? " · level" : Math.abs(times - 1) > 0.05 ? ` · ${shown(times, 1)}× height` : ""}
      </span>
      <span className="figures absolute right-2 bottom-1 bg-raised/85 px-1 text-[11px] text-quiet">
        {length >= 1000 ? `${shown(length / 1000, 2)} km` : `${shown(length, 0)} m`}
      </span>
    </>
  );
}

interface DrawnProps {
  cut: Transect;
  width: number;
  names: string;
  /** Elevation up to which water stands. */
  waterM: number | null;
}

/** The cut itself, drawn anew only when it, the water or the names of its layers change. */
const Drawn = memo(function Drawn({ cut, width, names, waterM }: DrawnProps) {
  const layers = JSON.parse(names) as string[];
  const { low, high, perMetre, tall } = measured(cut, width);
  const x = (i: number) => (cut.distanceM[i] ?? 0) * perMetre;
  const y = (i: number) => 8 + (high - (cut.elevationM[i] ?? 0)) * tall;
  const path = (from: number, to: number, shift: number) => {
    const points: string[] = [];
    for (let i = from; i <= to; i++) points.push(`${x(i).toFixed(1)} ${(y(i) + shift).toFixed(1)}`);
    return points;
  };
  const all = path(0, cut.distanceM.length - 1, 0);
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={`Transect through the peg, ${metresBetween(low, high)}`}>
      {waterM !== null && waterM > low && (
        // the ground is drawn over what lies below it: water is left where the ground is lower
        <rect x="0" y={8 + (high - waterM) * tall} width={width} height={HEIGHT} fill="#8fa9b0">
          <title>water</title>
        </rect>
      )}
      <path d={`M${all.join("L")}L${width} ${HEIGHT}L0 ${HEIGHT}z`} fill="#e3e1dc" />
      {runsOf(cut.layer).map((run) => {
        const to = Math.min(run.to + 1, cut.distanceM.length - 1);
        const top = path(run.from, to, 0);
        const bottom = path(run.from, to, FILL).reverse();
        return (
          <path
            key={run.from}
            d={`M${top.join("L")}L${bottom.join("L")}z`}
            fill={run.layer < 0 ? "none" : `url(#${hatchOf(run.layer)})`}
          >
            <title>{layers[run.layer] ?? "bare"}</title>
          </path>
        );
      })}
      <path d={`M${all.join("L")}`} fill="none" stroke="#1c1d1e" strokeWidth="1.4" />
      <path d={`M${(cut.pegAtM * perMetre).toFixed(1)} 2v${HEIGHT - 4}`} stroke="#bf3b1c" />
    </svg>
  );
});
