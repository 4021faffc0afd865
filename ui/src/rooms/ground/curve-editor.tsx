/** The curve by which heights are mapped: points to drag, from the lowest at the left to the highest. */

import { CATALOGUE } from "../../generated/catalogue";
import { CurvePlot, type PlotPoint } from "../../parts/curve-plot";
import { shown } from "../../parts/number";
import { useRange } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep } from "../../state/steps";
import type { Step } from "./step-kinds";

type Remap = Extract<Step, { kind: "remap" }>;

const asPoints = (curve: Remap["curve"]): PlotPoint[] => curve.map((one) => ({ x: one.before, y: one.after }));
const asCurve = (points: PlotPoint[]): Remap["curve"] =>
  points.map((one) => ({ before: Number(one.x.toFixed(3)), after: Number(one.y.toFixed(3)) }));

/** The points with one elsewhere, kept rising; the first and the last stay at their ends. */
function kept(points: PlotPoint[], k: number, to: PlotPoint): PlotPoint[] {
  const low = points[k - 1];
  const high = points[k + 1];
  const x =
    k === 0 ? 0 : k === points.length - 1 ? 1 : Math.min((high?.x ?? 1) - 0.02, Math.max((low?.x ?? 0) + 0.02, to.x));
  return points.with(k, { x, y: Math.min(high?.y ?? 1, Math.max(low?.y ?? 0, to.y)) });
}

export function CurveEditor({ step }: { step: Remap }) {
  const range = useRange();
  const { preview, keep, drop } = useSite.getState();
  const metres = (v: number) => range.lowest_m + v * (range.highest_m - range.lowest_m);
  const points = asPoints(step.curve);
  const middle = points[Math.floor(points.length / 2)];
  const rising = (all: PlotPoint[]) => all.every((one, k) => k === 0 || one.y >= (all[k - 1]?.y ?? 0));
  return (
    <div className="mt-1.5 flex gap-4">
      <CurvePlot
        label="Curve of heights"
        side={128}
        points={points}
        most={CATALOGUE.most.heightPoints}
        diagonal
        textOf={(one) => `${shown(metres(one.x), 1)} m becomes ${shown(metres(one.y), 1)} m`}
        moved={(k, to) => kept(points, k, to)}
        mayTakeOut={(k) => k > 0 && k < points.length - 1}
        onMove={(next) => preview(inStep(step.id, { curve: asCurve(next) }))}
        onKeep={(next, what) => {
          if (rising(next)) keep(`${step.name}: ${what}`, inStep(step.id, { curve: asCurve(next) }));
        }}
        onDrop={drop}
      />
      <p className="max-w-[34ch] self-center text-quiet">
        Left to right: heights as they are. Bottom to top: what they become. Now{" "}
        {middle ? `${shown(metres(middle.x), 0)} m becomes ${shown(metres(middle.y), 0)} m` : ""}. Double-click adds a
        point, Delete takes the focused one out.
      </p>
    </div>
  );
}
