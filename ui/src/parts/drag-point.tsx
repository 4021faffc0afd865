/** A point drawn on a map or picture: dragged, moved by arrow keys, taken out by Delete or a double-click. */

import { ARROWS } from "./arrows";
import { useRef } from "react";

interface DragPointProps {
  x: number;
  y: number;
  radius: number;
  label: string;
  title: string;
  /** Where the pointer is now, while it drags; the picture's frame goes with it. */
  onDrag: (event: React.PointerEvent<SVGCircleElement>) => void;
  /** It was let go after it had moved. */
  onSettle: (event: React.PointerEvent<SVGCircleElement>) => void;
  onCancel: () => void;
  /** East and north, a step each. */
  onStep: (east: number, north: number) => void;
  onRemove: () => void;
}

export function DragPoint({
  x,
  y,
  radius,
  label,
  title,
  onDrag,
  onSettle,
  onCancel,
  onStep,
  onRemove,
}: DragPointProps) {
  const held = useRef<{ moved: boolean } | null>(null);
  return (
    <circle
      cx={x}
      cy={y}
      r={radius}
      tabIndex={0}
      role="button"
      aria-label={label}
      className="pointer-events-auto cursor-grab fill-raised stroke-accent stroke-2"
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = { moved: false };
      }}
      onPointerMove={(event) => {
        if (!held.current) return;
        event.stopPropagation();
        held.current.moved = true;
        onDrag(event);
      }}
      onPointerUp={(event) => {
        const moved = held.current?.moved;
        held.current = null;
        if (moved) onSettle(event);
      }}
      onPointerCancel={() => {
        held.current = null;
        onCancel();
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onRemove();
      }}
      onKeyDown={(event) => {
        const way = ARROWS[event.key];
        if (way) {
          event.preventDefault();
          event.stopPropagation();
          onStep(...way);
        } else if (event.key === "Delete" || event.key === "Backspace") onRemove();
      }}
    >
      <title>{title}</title>
    </circle>
  );
}
