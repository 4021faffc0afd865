/** The numbered handle by which a row of a list is selected, dragged, or moved by Alt with the arrows. */

import { useRef, type ReactNode } from "react";

interface DragHandleProps {
  label: string;
  hint: string;
  pressed: boolean;
  className: string;
  children: ReactNode;
  onSelect: () => void;
  /** Up is -1. */
  onShift: (way: -1 | 1) => void;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

const FAR_ENOUGH = 5;

export function DragHandle({
  label,
  hint,
  pressed,
  className,
  children,
  onSelect,
  onShift,
  onDrag,
  onDrop,
}: DragHandleProps) {
  const drag = useRef<{ y: number; moved: boolean } | null>(null);
  return (
    <button
      type="button"
      className={`figures shrink-0 cursor-grab font-semibold ${className}`}
      aria-label={label}
      aria-pressed={pressed}
      title={hint}
      onClick={onSelect}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
        event.preventDefault();
        onShift(event.key === "ArrowUp" ? -1 : 1);
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { y: event.clientY, moved: false };
      }}
      onPointerMove={(event) => {
        const held = drag.current;
        if (!held || (!held.moved && Math.abs(event.clientY - held.y) < FAR_ENOUGH)) return;
        held.moved = true;
        onDrag(event.clientY);
      }}
      onPointerUp={() => {
        if (drag.current?.moved) onDrop(true);
        drag.current = null;
      }}
      onPointerCancel={() => {
        drag.current = null;
        onDrop(false);
      }}
    >
      {children}
    </button>
  );
}

/** How many rows of a list lie above a height on the page, counted by their middles; a dragged one is none. */
export function rowsAbove(list: HTMLElement | null, clientY: number, dragged = -1): number {
  return [...(list?.children ?? [])].filter((row, k) => {
    if (k === dragged) return false;
    const box = row.getBoundingClientRect();
    return clientY > box.top + box.height / 2;
  }).length;
}

/** The list with one entry elsewhere. */
export function reordered<T>(all: readonly T[], from: number, to: number): T[] {
  const next = [...all];
  const [one] = next.splice(from, 1);
  if (one !== undefined) next.splice(Math.min(next.length, Math.max(0, to)), 0, one);
  return next;
}
