/** The cut along the line drawn on the map. */

import * as api from "../../api/client";
import type { Cut } from "../../api/types";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { useSize } from "../../parts/use-size";
import { useGroundRoom, type Line } from "../../state/steps";
import { useWhileStill } from "../../state/still";
import { useStillAsk } from "./use-ask";

const HEIGHT = 82;

export function CutStrip() {
  const { box, size } = useSize();
  const width = size?.width ?? 1040;
  const asked = useStillAsk(null, null);
  const drawn = useGroundRoom((s) => s.line);
  const ground = asked?.ask.ground;
  const line: Line | null =
    drawn ?? (ground ? { start: [0, ground.depth_m / 2], end: [ground.width_m, ground.depth_m / 2] } : null);
  const key = asked && line ? `${asked.key} ${JSON.stringify(line)}` : null;
  const { value: cut } = useLatest<Cut>(useWhileStill(key), () => {
    if (!asked || !line) throw new Error("no line");
    return api.groundCut(asked.ask.ground, asked.ask.preview, line.start, line.end);
  });
  if (!cut) return <div ref={box} className="border-y border-ink bg-raised" />;
  const length = cut.distanceM.at(-1) ?? 1;
  const low = Math.min(...cut.elevationM);
  const high = Math.max(...cut.elevationM);
  const perMetre = width / Math.max(length, 1e-6);
  const tall = Math.min((HEIGHT - 22) / Math.max(1e-6, high - low), perMetre * 20);
  const y = (m: number) => 6 + (high - m) * tall;
  const points = cut.elevationM.map((m, i) => `${((cut.distanceM[i] ?? 0) * perMetre).toFixed(1)} ${y(m).toFixed(1)}`);
  const times = tall / perMetre;
  return (
    <div ref={box} className="relative overflow-hidden border-y border-ink bg-raised">
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Transect of ${shown(length, 0)} m, ${shown(low, 1)} to ${shown(high, 1)} m`}
      >
        <path d={`M${points.join("L")}L${width} ${HEIGHT}L0 ${HEIGHT}z`} fill="#dcdad4" />
        <path d={`M${points.join("L")}`} fill="none" stroke="#1c1d1e" strokeWidth="1.4" />
      </svg>
      <span className="figures absolute bottom-1 left-2 bg-raised/85 px-1 text-[11px] text-quiet">
        Transect A–B, drag a line on the map · {shown(low, 1)}–{shown(high, 1)} m · {shown(times, times < 10 ? 1 : 0)}×
        height
      </span>
      <span className="figures absolute right-2 bottom-1 bg-raised/85 px-1 text-[11px] text-quiet">
        {length >= 1000 ? `${shown(length / 1000, 2)} km` : `${shown(length, 0)} m`}
      </span>
    </div>
  );
}
