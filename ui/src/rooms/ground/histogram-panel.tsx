/** How much of the ground has each value of what is shown; elevation while plain relief is shown. */

import { GROUND_MEASURES } from "../../state/measures";
import * as api from "../../api/client";
import type { Histogram } from "../../api/types";
import { useLatest } from "../../parts/use-latest";
import { useGroundRoom } from "../../state/steps";
import { useWhileStill } from "../../state/still";
import { useStillAsk } from "./use-ask";
import { valueText } from "./values";

const WIDE = 236;
const TALL = 138;

export function HistogramPanel() {
  const chosen = useGroundRoom((s) => s.measure);
  const measure = chosen === null || chosen === "image" ? "elevation" : chosen;
  const radiusM = useGroundRoom((s) => s.radiusM);
  const asked = useStillAsk(measure, radiusM);
  const kinds = GROUND_MEASURES;
  const kind = kinds.find((one) => one.name === measure);
  const { value: found } = useLatest<Histogram>(useWhileStill(asked?.key ?? null), () => {
    if (!asked) throw new Error("nothing to count");
    return api.groundHistogram(asked.ask);
  });
  return (
    <section aria-label="Histogram" className="overflow-hidden border-r border-rule px-3.5 py-2.5">
      <h2 className="heading mb-1">{kind ? `${kind.title}, ${kind.unit}` : "Histogram"}</h2>
      {found && kind && <Bars found={found} unit={kind.unit} />}
    </section>
  );
}

function Bars({ found, unit }: { found: Histogram; unit: string }) {
  const total = found.counts.reduce((sum, n) => sum + n, 0) || 1;
  // a few bins that hold nearly all (bare ground, say) must not flatten the rest
  const sorted = [...found.counts].sort((a, b) => b - a);
  const most = Math.min(sorted[0] ?? 1, Math.max(1, (sorted[2] ?? 1) * 1.6));
  const wide = WIDE / found.counts.length;
  const first = (found.counts[0] ?? 0) / total;
  const last = (found.counts.at(-1) ?? 0) / total;
  return (
    <>
      <svg
        width={WIDE}
        height={TALL}
        role="img"
        aria-label={`From ${valueText(found.low, unit)} to ${valueText(found.high, unit)}, mean ${valueText(found.mean, unit)}`}
      >
        {found.counts.map((n, k) => {
          const tall = Math.min(1, n / most) * (TALL - 4);
          return (
            <rect key={k} x={k * wide} y={TALL - tall} width={Math.max(0.8, wide - 0.6)} height={tall} fill="#5d5f61" />
          );
        })}
        <path d={`M0 ${TALL - 0.5}H${WIDE}`} stroke="#1c1d1e" />
      </svg>
      <div className="figures flex justify-between text-xs">
        <span>{valueText(found.shownLow, unit)}</span>
        <span>{found.scale === "logarithmic" ? "logarithmic" : ""}</span>
        <span>{valueText(found.shownHigh, unit)}</span>
      </div>
      <p className="figures mt-1 text-xs text-quiet">
        {valueText(found.low, unit)} to {valueText(found.high, unit)}, mean {valueText(found.mean, unit)}
        <br />
        first bar {(first * 100).toFixed(1)}%, last bar {(last * 100).toFixed(1)}% of the ground
      </p>
    </>
  );
}
