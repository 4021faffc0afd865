/** A compass with an arc on it: which ways a clause lets ground face. Drag either end, or the arc as a whole. */

import { useRef } from "react";
import type { OnMeasure } from "../../generated/recipe";
import { compass } from "./clauses";

const SIDE = 124;
const MIDDLE = SIDE / 2;
const RIM = 44;

type Grip = "lower" | "upper" | "both";

function at(bearing: number, radius: number): [number, number] {
  const turn = (bearing * Math.PI) / 180;
  return [MIDDLE + radius * Math.sin(turn), MIDDLE - radius * Math.cos(turn)];
}

/** A sector of the compass, clockwise from one bearing to another. */
function sector(from: number, to: number, radius: number): string {
  const wide = (((to - from) % 360) + 360) % 360 || (to === from ? 0 : 359.99);
  const [x0, y0] = at(from, radius);
  const [x1, y1] = at(from + wide, radius);
  return `M${MIDDLE} ${MIDDLE}L${x0} ${y0}A${radius} ${radius} 0 ${wide > 180 ? 1 : 0} 1 ${x1} ${y1}z`;
}

const round = (bearing: number) => ((Math.round(bearing) % 360) + 360) % 360;

interface DialProps {
  clause: OnMeasure;
  onMove: (clause: OnMeasure) => void;
  onKeep: (clause: OnMeasure) => void;
  onDrop: () => void;
}

export function CompassDial({ clause, onMove, onKeep, onDrop }: DialProps) {
  const held = useRef<{ grip: Grip; from: number; start: OnMeasure; last: OnMeasure } | null>(null);
  const lower = clause.lower ?? 0;
  const upper = clause.upper ?? 359;

  function bearingOf(event: React.PointerEvent): number {
    const box = (event.currentTarget.closest("svg") ?? event.currentTarget).getBoundingClientRect();
    const turn = Math.atan2(event.clientX - box.left - MIDDLE, -(event.clientY - box.top - MIDDLE));
    return (turn * 180) / Math.PI;
  }
  function grab(grip: Grip, event: React.PointerEvent<SVGElement>) {
    event.stopPropagation();
    event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
    held.current = { grip, from: bearingOf(event), start: clause, last: clause };
  }
  function turned(start: OnMeasure, grip: Grip, by: number): OnMeasure {
    const from = start.lower ?? 0;
    const to = start.upper ?? 359;
    return {
      ...start,
      lower: grip === "upper" ? from : round(from + by),
      upper: grip === "lower" ? to : round(to + by),
    };
  }
  const keys = (grip: Grip) => (event: React.KeyboardEvent) => {
    const by = { ArrowRight: 5, ArrowUp: 5, ArrowLeft: -5, ArrowDown: -5 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onKeep(turned(clause, grip, by));
  };
  const handle = (grip: "lower" | "upper", bearing: number, label: string) => {
    const [x, y] = at(bearing, RIM);
    return (
      <circle
        cx={x}
        cy={y}
        r="5.5"
        tabIndex={0}
        role="slider"
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={360}
        aria-valuenow={bearing}
        aria-valuetext={`${compass(bearing)}, ${bearing}°`}
        className="cursor-grab fill-accent stroke-raised"
        onPointerDown={(event) => grab(grip, event)}
        onKeyDown={keys(grip)}
      />
    );
  };
  return (
    <div className="flex items-center gap-3">
      <svg
        width={SIDE}
        height={SIDE}
        className="figures touch-none select-none"
        fontSize="11"
        role="group"
        aria-label="Compass: which ways the ground may face"
        onPointerMove={(event) => {
          const grip = held.current;
          if (!grip) return;
          grip.last = turned(grip.start, grip.grip, bearingOf(event) - grip.from);
          onMove(grip.last);
        }}
        onPointerUp={() => {
          const grip = held.current;
          held.current = null;
          if (grip && grip.last !== grip.start) onKeep(grip.last);
        }}
        onPointerCancel={() => {
          held.current = null;
          onDrop();
        }}
      >
        <circle cx={MIDDLE} cy={MIDDLE} r={RIM} fill="#ecebe8" stroke="#1c1d1e" />
        <path d={sector(lower - clause.soft_lower, upper + clause.soft_upper, RIM)} fill="#bf3b1c" fillOpacity="0.14" />
        <path
          d={sector(lower, upper, RIM)}
          fill="#bf3b1c"
          fillOpacity="0.3"
          stroke="#bf3b1c"
          className="cursor-grab"
          onPointerDown={(event) => grab("both", event)}
        >
          <title>Drag to turn the whole arc</title>
        </path>
        {["N", "E", "S", "W"].map((letter, k) => {
          const [x, y] = at(k * 90, RIM + 10);
          return (
            <text key={letter} x={x} y={y + 4} textAnchor="middle" fill="#5d5f61">
              {letter}
            </text>
          );
        })}
        {handle("lower", lower, "Facing from")}
        {handle("upper", upper, "Facing to")}
      </svg>
      <p className="max-w-[22ch] text-quiet">
        From {compass(lower)} clockwise to {compass(upper)}. Level ground faces nowhere.
      </p>
    </div>
  );
}
