/** The sky seen from below: drag the sun to its bearing and height in one gesture, or step it with the arrows. */

import { useRef } from "react";
import { useRest } from "./use-rest";

interface SunDialProps {
  /** What is turned: a sun has a height as well. */
  what?: "Sun" | "Panorama";
  bearingDeg: number;
  heightDeg: number;
  onMove: (bearingDeg: number, heightDeg: number) => void;
  onKeep: () => void;
  onDrop: () => void;
}

const RADIUS = 24;
const CENTRE = 29;
const LOWEST = 2;

export function SunDial({ what = "Sun", bearingDeg, heightDeg, onMove, onKeep, onDrop }: SunDialProps) {
  const held = useRef(false);
  const rest = useRest();
  const bearing = (bearingDeg * Math.PI) / 180;
  // a sun that has set stays on the rim
  const away = RADIUS * Math.min(1, 1 - heightDeg / 90);
  const x = CENTRE + Math.sin(bearing) * away;
  const y = CENTRE - Math.cos(bearing) * away;

  function moveTo(event: React.PointerEvent<SVGSVGElement>) {
    const frame = event.currentTarget.getBoundingClientRect();
    const dx = event.clientX - frame.left - CENTRE;
    const dy = event.clientY - frame.top - CENTRE;
    const degrees = (Math.atan2(dx, -dy) * 180) / Math.PI;
    onMove(
      Math.round((degrees + 360) % 360),
      Math.round(Math.min(90, Math.max(LOWEST, 90 * (1 - Math.hypot(dx, dy) / RADIUS)))),
    );
  }

  return (
    <svg
      width="58"
      height="58"
      role="application"
      tabIndex={0}
      aria-label={
        what === "Sun"
          ? `Sun at bearing ${bearingDeg}°, ${heightDeg}° high. Arrow keys move it.`
          : `Panorama turned to ${bearingDeg}°. Arrow keys turn it.`
      }
      className="touch-none"
      onDoubleClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
        moveTo(event);
      }}
      onPointerMove={(event) => held.current && moveTo(event)}
      onPointerUp={() => {
        held.current = false;
        onKeep();
      }}
      onPointerCancel={() => {
        held.current = false;
        onDrop();
      }}
      onKeyDown={(event) => {
        const ways: Record<string, [number, number]> = {
          ArrowLeft: [-5, 0],
          ArrowRight: [5, 0],
          ArrowUp: [0, 2],
          ArrowDown: [0, -2],
        };
        const way = ways[event.key];
        if (!way) return;
        event.preventDefault();
        onMove((bearingDeg + way[0] + 360) % 360, Math.min(90, Math.max(LOWEST, heightDeg + way[1])));
        rest.later(onKeep);
      }}
    >
      <title>
        {what === "Sun"
          ? "Sky dial: drag the sun. North is up, the middle is overhead."
          : "Sky dial: drag to turn the panorama; the mark is its middle."}
      </title>
      <circle cx={CENTRE} cy={CENTRE} r="27" fill="#f6f5f3" fillOpacity="0.94" stroke="#1c1d1e" />
      <circle cx={CENTRE} cy={CENTRE} r={RADIUS / 2} fill="none" stroke="#c9c7c2" />
      <path d="M29 2v5M29 51v5M2 29h5M51 29h5" stroke="#1c1d1e" />
      <text x="29" y="15" textAnchor="middle" fontSize="8" fill="#5d5f61" className="figures">
        N
      </text>
      {what === "Sun" ? (
        <circle cx={x} cy={y} r="5" fill="#1c1d1e" stroke="#f6f5f3" />
      ) : (
        <path d={`M${CENTRE} ${CENTRE}L${x} ${y}`} stroke="#1c1d1e" strokeWidth="4" />
      )}
    </svg>
  );
}
