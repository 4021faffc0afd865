/** What the colours of a measured looking mode mean, with the value under the pointer. */

import { useEffect, useState } from "react";
import * as api from "../../api/client";
import type { Legend, Mode } from "../../api/types";
import { shown } from "../../parts/number";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";

type Legends = Partial<Record<Mode, Legend>>;

let asked: Promise<Legends> | null = null;

function useLegends(): Legends {
  const [legends, setLegends] = useState<Legends>({});
  useEffect(() => {
    let gone = false;
    asked ??= api.legends();
    asked.then(
      (found) => !gone && setLegends(found),
      () => (asked = null),
    );
    return () => {
      gone = true;
    };
  }, []);
  return legends;
}

export const measured = (mode: Mode) => mode === "stretch" || mode === "density";

/** What is written at the ramp's ends and between: even ones by tenths, others by powers of eight. */
function ticksOf(legend: Legend): { at: number; text: string }[] {
  const values = legend.scale === "logarithmic" ? [0.1, 1, 8, 64, 512, 4096] : [0, 0.25, 0.5, 0.75, 1, 1.5, 2, 2.5, 3];
  const place = (v: number) =>
    legend.scale === "logarithmic"
      ? Math.log(v / legend.low) / Math.log(legend.high / legend.low)
      : (v - legend.low) / (legend.high - legend.low);
  return values.filter((v) => v >= legend.low && v <= legend.high).map((v) => ({ at: place(v), text: String(v) }));
}

export function ModeLegend() {
  const mode = useSite((s) => s.mode);
  const near = useSite((s) => s.nearMmPerPixel);
  const fit = useTools((s) => s.pointedFit);
  const legend = useLegends()[mode];
  if (!legend) return null;
  const value = fit ? (mode === "stretch" ? fit.stretch : fit.density) : null;
  return (
    <div role="group" aria-label="Legend" className="figures w-[286px] bg-raised/95 px-2 py-1 text-xs">
      <img src={`/api/legends/${mode}.png`} alt="" className="h-[9px] w-full" />
      <div className="relative h-[15px]">
        {ticksOf(legend).map(({ at, text }) => (
          <span
            key={text}
            className="absolute -translate-x-1/2 first:translate-x-0 last:-translate-x-full"
            style={{ left: `${at * 100}%` }}
          >
            {text}
          </span>
        ))}
      </div>
      <p>
        {legend.unit}: {legend.title}
      </p>
      <p className="font-semibold" data-value>
        {value === null
          ? "point at the ground for its value"
          : `here ${shown(value, mode === "stretch" ? 2 : 0)} ${legend.unit}`}
        {mode === "density" && near > 0 ? ` · Near shows ${shown(1000 / near, 0)} px/m` : ""}
      </p>
    </div>
  );
}
