/** A cut of a few paces through the peg: the plain ground, the relief on it by layer, and where a boot stands. */

import { numberOf } from "../../state/numbers";
import { useState } from "react";
import * as api from "../../api/client";
import { hatchOf } from "../../parts/hatch";
import { Num, shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { useSize } from "../../parts/use-size";
import { useReady } from "../../state/ground";
import { useSite } from "../../state/site";
import { runsOf } from "./cut-runs";
import { millimetres } from "./relief-panel";
import { movesGround, useWearKey } from "./wear/wear-key";

const HEIGHT = 76;
const CUT = numberOf("ViewNumbers", "cut_m");
const SOLE_M = 0.28;

export function BootStrip({ bearing, controls }: { bearing: number; controls: React.ReactNode }) {
  const { box, size } = useSize();
  const width = size?.width ?? 1052;
  const [length, setLength] = useState(CUT.usual);
  const recipe = useSite((s) => s.shown);
  const wears = useWearKey(movesGround);
  const ready = useReady();
  const key =
    recipe && ready
      ? JSON.stringify([recipe.ground, recipe.layers, wears, recipe.marks, recipe.water, recipe.peg, bearing, length])
      : null;
  const { value: cut } = useLatest(key, () => {
    const now = useSite.getState().shown;
    if (!now) throw new Error("the site was closed");
    return api.bootCut(now, bearing, length);
  });
  if (!cut || !recipe) return <div ref={box} className="border-y border-ink bg-raised" />;

  // the ground's own fall is taken out: what is drawn is relief about it, so that 20 mm fill the strip
  const first = cut.groundM[0] ?? 0;
  const last = cut.groundM.at(-1) ?? first;
  const reach = cut.distanceM.at(-1) ?? 1;
  const level = (d: number) => first + ((last - first) * d) / reach;
  const rise = cut.surfaceM.map((z, i) => z - level(cut.distanceM[i] ?? 0));
  const plain = cut.groundM.map((z, i) => z - level(cut.distanceM[i] ?? 0));
  const stand = cut.standM - level(cut.pegAtM);
  const low = Math.min(...rise, ...plain, stand);
  const high = Math.max(...rise, ...plain, stand, low + 0.004);
  const perMetre = width / reach;
  const tall = Math.min((HEIGHT - 34) / (high - low), perMetre * 12);
  const x = (i: number) => ((cut.distanceM[i] ?? 0) * perMetre).toFixed(1);
  const y = (h: number) => 8 + (high - h) * tall;
  const line = (heights: readonly number[], from: number, to: number, down = 0) =>
    heights.slice(from, to + 1).map((h, i) => `${x(from + i)} ${(y(h) + down).toFixed(1)}`);
  const end = rise.length - 1;
  const peg = cut.pegAtM * perMetre;
  const sole = (SOLE_M / 2) * perMetre;
  const relief = rise.map((h, i) => h - (plain[i] ?? 0));
  const [lowest, highest] = [Math.min(...relief), Math.max(...relief)];
  const deep = stand - (plain[Math.round(end / 2)] ?? 0);

  return (
    <div ref={box} className="relative overflow-hidden border-y border-ink bg-raised">
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Cut of ${shown(reach, 1)} m through the peg, relief ${millimetres(lowest)} to ${millimetres(highest)}, stands ${millimetres(deep)} above the plain ground`}
      >
        <path d={`M${line(rise, 0, end).join("L")}L${width} ${HEIGHT}L0 ${HEIGHT}z`} fill="#e3e1dc" />
        {runsOf(cut.layer).map((run) => {
          const to = Math.min(run.to + 1, end);
          return (
            <path
              key={run.from}
              d={`M${line(rise, run.from, to).join("L")}L${line(rise, run.from, to, 14).reverse().join("L")}z`}
              fill={run.layer < 0 ? "none" : `url(#${hatchOf(run.layer)})`}
            >
              <title>{recipe.layers[run.layer]?.name ?? "bare"}</title>
            </path>
          );
        })}
        <path d={`M${line(plain, 0, end).join("L")}`} fill="none" stroke="#5d5f61" strokeDasharray="5 3" />
        <path d={`M${line(rise, 0, end).join("L")}`} fill="none" stroke="#1c1d1e" strokeWidth="1.4" />
        <path d={`M0 ${y(stand).toFixed(1)}H${width}`} stroke="#bf3b1c" strokeWidth="0.6" strokeDasharray="2 4" />
        <path
          d={`M${(peg - sole).toFixed(1)} ${y(stand).toFixed(1)}h${(2 * sole).toFixed(1)}`}
          stroke="#bf3b1c"
          strokeWidth="3"
          data-sole
        />
      </svg>
      <span className="figures absolute bottom-1 left-2 flex items-center gap-1 bg-raised/85 px-1 text-[11px] text-quiet">
        Cut of
        <Num {...CUT} value={length} onMove={setLength} onKeep={setLength} onDrop={() => undefined} />
        at the peg · {controls} · {shown(tall / perMetre, 1)}× height, the ground's fall taken out
      </span>
      <span className="figures absolute right-2 bottom-1 bg-raised/85 px-1 text-[11px] text-quiet">
        relief {millimetres(lowest)} to {millimetres(highest)} ·{" "}
        <span className="text-accent">a boot stands {millimetres(deep)} up</span> · dashes: plain ground
      </span>
    </div>
  );
}
