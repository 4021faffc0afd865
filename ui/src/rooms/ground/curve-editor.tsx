/** The curve by which heights are mapped: points to drag, from the lowest at the left to the highest. */

import { useRef } from "react";
import { shown } from "../../parts/number";
import { useRange } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep } from "../../state/steps";
import type { Step } from "./step-kinds";

type Remap = Extract<Step, { kind: "remap" }>;
const SIDE = 128;

export function CurveEditor({ step }: { step: Remap }) {
  const range = useRange();
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<number | null>(null);
  const { preview, keep, drop } = useSite.getState();
  const x = (v: number) => 6 + v * SIDE;
  const y = (v: number) => 6 + (1 - v) * SIDE;
  const metres = (v: number) => range.lowest_m + v * (range.highest_m - range.lowest_m);

  function at(event: { clientX: number; clientY: number }) {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { before: 0, after: 0 };
    const clamp = (v: number) => Math.min(1, Math.max(0, v));
    return { before: clamp((event.clientX - box.left - 6) / SIDE), after: clamp(1 - (event.clientY - box.top - 6) / SIDE) };
  }
  /** The curve with one point elsewhere, kept rising. */
  function moved(k: number, to: { before: number; after: number }) {
    const curve = step.curve;
    const low = curve[k - 1];
    const high = curve[k + 1];
    const before = k === 0 ? 0 : k === curve.length - 1 ? 1 : Math.min((high?.before ?? 1) - 0.02, Math.max((low?.before ?? 0) + 0.02, to.before));
    const after = Math.min(high?.after ?? 1, Math.max(low?.after ?? 0, to.after));
    return inStep(step.id, { curve: curve.with(k, { before: Number(before.toFixed(3)), after: Number(after.toFixed(3)) }) });
  }
  const middle = step.curve[Math.floor(step.curve.length / 2)];

  return (
    <div className="mt-1.5 flex gap-4">
      <svg ref={svg} width={SIDE + 12} height={SIDE + 12} role="img" aria-label="Curve of heights" className="touch-none"
        onPointerMove={(event) => {
          if (held.current !== null) preview(moved(held.current, at(event)));
        }}
        onPointerUp={(event) => {
          if (held.current !== null) keep(`${step.name}: curve`, moved(held.current, at(event)));
          held.current = null;
        }}
        onPointerCancel={() => {
          held.current = null;
          drop();
        }}
        onDoubleClick={(event) => {
          const point = at(event);
          if (step.curve.length >= 12 || step.curve.some((one) => Math.abs(one.before - point.before) < 0.03)) return;
          const curve = [...step.curve, point].sort((a, b) => a.before - b.before);
          const rising = curve.every((one, k) => k === 0 || one.after >= (curve[k - 1]?.after ?? 0));
          if (rising) keep(`${step.name}: a point more`, inStep(step.id, { curve }));
        }}>
        <rect x="6" y="6" width={SIDE} height={SIDE} fill="#f6f5f3" stroke="#1c1d1e" />
        <path d={`M${x(0)} ${y(0)}L${x(1)} ${y(1)}`} stroke="#c9c7c2" strokeDasharray="3 3" />
        <path d={`M${step.curve.map((one) => `${x(one.before)} ${y(one.after)}`).join("L")}`} fill="none" stroke="#1c1d1e" strokeWidth="1.5" />
        {step.curve.map((one, k) => (
          <circle key={k} cx={x(one.before)} cy={y(one.after)} r="5" tabIndex={0} role="slider" aria-label={`Point ${k + 1} of the curve`}
            aria-valuenow={one.after} aria-valuemin={0} aria-valuemax={1} aria-valuetext={`${shown(metres(one.before), 1)} m becomes ${shown(metres(one.after), 1)} m`}
            className="cursor-grab fill-accent"
            onPointerDown={(event) => {
              event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
              held.current = k;
            }}
            onKeyDown={(event) => {
              const by = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
              if (by !== undefined) {
                event.preventDefault();
                keep(`${step.name}: curve`, moved(k, { before: one.before, after: one.after + by }));
              } else if ((event.key === "Delete" || event.key === "Backspace") && k > 0 && k < step.curve.length - 1) {
                keep(`${step.name}: a point less`, inStep(step.id, { curve: step.curve.toSpliced(k, 1) }));
              }
            }} />
        ))}
      </svg>
      <p className="max-w-[34ch] self-center text-quiet">
        Left to right: heights as they are. Bottom to top: what they become. Now {middle ? `${shown(metres(middle.before), 0)} m becomes ${shown(metres(middle.after), 0)} m` : ""}. Double-click adds a point, Delete takes the focused one out.
      </p>
    </div>
  );
}
