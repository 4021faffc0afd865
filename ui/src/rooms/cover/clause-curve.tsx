/** How a clause's soft ends rise: eased, straight, or along points of its own. */

import { CATALOGUE } from "../../generated/catalogue";
import { CurvePlot, type PlotPoint } from "../../parts/curve-plot";
import { Segments } from "../../parts/segments";
import { useSite } from "../../state/site";
import type { CurvePoint } from "../../generated/recipe";

interface CurveProps {
  curve: CurvePoint[];
  onMove: (curve: CurvePoint[]) => void;
  onKeep: (curve: CurvePoint[]) => void;
}

const STRAIGHT: CurvePoint[] = [
  { inside: 0, share: 0 },
  { inside: 1, share: 1 },
];
const OWN: CurvePoint[] = [
  { inside: 0, share: 0 },
  { inside: 0.35, share: 0.7 },
  { inside: 1, share: 1 },
];

function kindOf(curve: CurvePoint[]): "eased" | "straight" | "own" {
  if (curve.length === 0) return "eased";
  return JSON.stringify(curve) === JSON.stringify(STRAIGHT) ? "straight" : "own";
}

export function ClauseCurve({ curve, onMove, onKeep }: CurveProps) {
  const kind = kindOf(curve);
  return (
    <div className="grid grid-cols-[auto_1fr] items-start gap-2">
      <span className="pt-0.5">Soft ends</span>
      <Segments
        label="Soft ends rise"
        value={kind}
        choices={[
          { value: "eased", label: "Eased", hint: "They ease in and out" },
          { value: "straight", label: "Straight", hint: "A straight ramp: values as they are" },
          { value: "own", label: "Curve", hint: "Along points that you drag" },
        ]}
        onChoose={(next) => onKeep(next === "eased" ? [] : next === "straight" ? STRAIGHT : OWN)}
      />
      {kind === "own" && <Points curve={curve} onMove={onMove} onKeep={onKeep} />}
    </div>
  );
}

function Points({ curve, onMove, onKeep }: CurveProps) {
  const points = curve.map((one) => ({ x: one.inside, y: one.share }));
  const asCurve = (all: PlotPoint[]): CurvePoint[] =>
    all.map((one) => ({ inside: Number(one.x.toFixed(3)), share: Number(one.y.toFixed(3)) }));
  function moved(k: number, to: PlotPoint): PlotPoint[] {
    const low = k === 0 ? 0 : (points[k - 1]?.x ?? 0) + 0.02;
    const high = k === points.length - 1 ? 1 : (points[k + 1]?.x ?? 1) - 0.02;
    return points.with(k, { x: Math.min(high, Math.max(low, to.x)), y: Math.min(1, Math.max(0, to.y)) });
  }
  return (
    <div className="col-span-2 flex items-center gap-3">
      <CurvePlot
        label="Curve of the soft ends"
        side={84}
        points={points}
        most={CATALOGUE.most.softPoints}
        moved={moved}
        mayTakeOut={() => points.length > 2}
        onMove={(next) => onMove(asCurve(next))}
        onKeep={(next) => onKeep(asCurve(next))}
        onDrop={useSite.getState().drop}
      />
      <p className="text-xs text-quiet">
        From the soft end's foot, left, to the limit, right: how much is let in. Double-click adds a point.
      </p>
    </div>
  );
}
