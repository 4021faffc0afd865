/** How a clause's soft ends rise: eased, straight, or along points of its own. */

import { useRef } from "react";
import { Segments } from "../../parts/segments";
import { useSite } from "../../state/site";
import type { CurvePoint } from "../../generated/recipe";

interface CurveProps {
  curve: CurvePoint[];
  onMove: (curve: CurvePoint[]) => void;
  onKeep: (curve: CurvePoint[]) => void;
}

const SIDE = 84;
const MOST = 8;
const STRAIGHT: CurvePoint[] = [{ inside: 0, share: 0 }, { inside: 1, share: 1 }];
const OWN: CurvePoint[] = [{ inside: 0, share: 0 }, { inside: 0.35, share: 0.7 }, { inside: 1, share: 1 }];

function kindOf(curve: CurvePoint[]): "eased" | "straight" | "own" {
  if (curve.length === 0) return "eased";
  return JSON.stringify(curve) === JSON.stringify(STRAIGHT) ? "straight" : "own";
}

export function ClauseCurve({ curve, onMove, onKeep }: CurveProps) {
  const kind = kindOf(curve);
  return (
    <div className="grid grid-cols-[auto_1fr] items-start gap-2">
      <span className="pt-0.5">Soft ends</span>
      <Segments label="Soft ends rise" value={kind}
        choices={[
          { value: "eased", label: "Eased", hint: "They ease in and out" },
          { value: "straight", label: "Straight", hint: "A straight ramp: values as they are" },
          { value: "own", label: "Curve", hint: "Along points that you drag" },
        ]}
        onChoose={(next) => onKeep(next === "eased" ? [] : next === "straight" ? STRAIGHT : OWN)} />
      {kind === "own" && <Points curve={curve} onMove={onMove} onKeep={onKeep} />}
    </div>
  );
}

function Points({ curve, onMove, onKeep }: CurveProps) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<number | null>(null);
  const x = (v: number) => 6 + v * SIDE;
  const y = (v: number) => 6 + (1 - v) * SIDE;
  const clamp = (v: number) => Math.min(1, Math.max(0, v));
  function at(event: { clientX: number; clientY: number }): CurvePoint {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { inside: 0, share: 0 };
    return { inside: clamp((event.clientX - box.left - 6) / SIDE), share: clamp(1 - (event.clientY - box.top - 6) / SIDE) };
  }
  function moved(k: number, to: CurvePoint): CurvePoint[] {
    const low = k === 0 ? 0 : (curve[k - 1]?.inside ?? 0) + 0.02;
    const high = k === curve.length - 1 ? 1 : (curve[k + 1]?.inside ?? 1) - 0.02;
    return curve.with(k, { inside: Number(Math.min(high, Math.max(low, to.inside)).toFixed(3)), share: Number(clamp(to.share).toFixed(3)) });
  }
  return (
    <div className="col-span-2 flex items-center gap-3">
      <svg ref={svg} width={SIDE + 12} height={SIDE + 12} role="img" aria-label="Curve of the soft ends" className="touch-none"
        onPointerMove={(event) => {
          if (held.current !== null) onMove(moved(held.current, at(event)));
        }}
        onPointerUp={(event) => {
          if (held.current !== null) onKeep(moved(held.current, at(event)));
          held.current = null;
        }}
        onPointerCancel={() => {
          held.current = null;
          useSite.getState().drop();
        }}
        onDoubleClick={(event) => {
          const point = at(event);
          if (curve.length >= MOST || curve.some((one) => Math.abs(one.inside - point.inside) < 0.03)) return;
          onKeep([...curve, point].sort((a, b) => a.inside - b.inside));
        }}>
        <rect x="6" y="6" width={SIDE} height={SIDE} fill="#f6f5f3" stroke="#1c1d1e" />
        <path d={`M${curve.map((one) => `${x(one.inside)} ${y(one.share)}`).join("L")}`} fill="none" stroke="#1c1d1e" strokeWidth="1.5" />
        {curve.map((one, k) => (
          <circle key={k} cx={x(one.inside)} cy={y(one.share)} r="5" tabIndex={0} role="slider" aria-label={`Point ${k + 1} of the curve`}
            aria-valuenow={one.share} aria-valuemin={0} aria-valuemax={1} className="cursor-grab fill-accent"
            onPointerDown={(event) => {
              event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
              held.current = k;
            }}
            onKeyDown={(event) => {
              const by = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
              if (by !== undefined) {
                event.preventDefault();
                onKeep(moved(k, { ...one, share: one.share + by }));
              } else if ((event.key === "Delete" || event.key === "Backspace") && curve.length > 2) onKeep(curve.toSpliced(k, 1));
            }} />
        ))}
      </svg>
      <p className="text-xs text-quiet">From the soft end's foot, left, to the limit, right: how much is let in. Double-click adds a point.</p>
    </div>
  );
}
