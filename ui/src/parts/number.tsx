/** A number with its unit that is dragged sideways, stepped by keys, or typed. */

import { useEffect, useRef, useState } from "react";
import { layOut } from "../judging/strip";
import { useHeld } from "./use-held";
import { useRest } from "./use-rest";

/** Pixels within which a press is a click, however the hand shook: what it showed meanwhile is dropped. */
const SHAKE_PX = 3;

export interface NumberProps {
  label: string;
  value: number;
  unit: string;
  least: number;
  most: number;
  step: number;
  digits?: number;
  /** What a drag of one pixel changes; a step when left out. */
  perPixel?: number;
  onMove: (value: number) => void;
  onKeep: (value: number) => void;
  onDrop: () => void;
  strong?: boolean;
  prefix?: string;
}

export function shown(value: number, digits: number): string {
  const text = value.toFixed(digits);
  return (Object.is(Number(text), -0) ? (0).toFixed(digits) : text).replace("-", "−");
}

/** A number with its unit behind it. */
export function withUnit(value: number, digits: number, unit: string): string {
  return `${shown(value, digits)}${unit === "°" || unit === "%" ? unit : unit ? ` ${unit}` : ""}`;
}

/** Two heights in metres, as finely as they lie apart. */
export function metresBetween(low: number, high: number): string {
  const digits = high - low > 40 ? 0 : high - low > 4 ? 1 : 2;
  return `${shown(low, digits)}–${shown(high, digits)} m`;
}

/** The number somebody typed, with or without its unit, comma or point; null when it does not fit. */
export function typedNumber(typed: string, least: number, most: number): number | null {
  const text = typed
    .trim()
    .replace(",", ".")
    .replace("−", "-")
    .replace(/[^0-9.eE+-]+$/, "");
  const number = Number(text);
  return text === "" || !Number.isFinite(number) || number < least || number > most ? null : number;
}

/** The nearest multiple of a step inside the limits. */
export function onSteps(value: number, step: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, Number((Math.round(value / step) * step).toFixed(6))));
}

export function Num(props: NumberProps) {
  const { label, unit, least, most, step, digits = 0 } = props;
  const { now: value, hold, letGo } = useHeld(props.value);
  const drag = useRef<{ x: number; from: number; moved: boolean; last: number } | null>(null);
  const onMove = (next: number) => {
    hold(next);
    props.onMove(next);
  };
  const onKeep = (next: number) => {
    letGo();
    props.onKeep(next);
  };
  const onDrop = () => {
    // what has nothing of its own to drop is where it was as well
    const held = drag.current;
    if (held && held.last !== held.from) props.onMove(held.from);
    drag.current = null;
    letGo();
    props.onDrop();
  };
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const rest = useRest();

  useEffect(() => {
    if (typed !== null) input.current?.select();
    // only when typing begins
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [typed !== null]);

  const onGrid = (v: number) => onSteps(v, step, least, most);

  function takeTyped() {
    const number = typedNumber(typed ?? "", least, most);
    if (number === null) {
      setWrong(true);
      return;
    }
    setTyped(null);
    setWrong(false);
    if (number !== value) onKeep(number);
  }

  function stepBy(steps: number) {
    const next = onGrid(value + steps * step);
    onMove(next);
    rest.later(() => onKeep(next));
  }

  if (typed !== null) {
    return (
      <span className="relative inline-block">
        <input
          ref={input}
          aria-label={`${label}, ${unit}`}
          aria-invalid={wrong}
          className={`figures w-[5.2em] border bg-raised px-1 font-semibold ${wrong ? "border-accent" : "border-ink"}`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => (wrong ? undefined : takeTyped())}
          onKeyDown={(event) => {
            if (event.key === "Enter") takeTyped();
            if (event.key === "Escape") {
              setTyped(null);
              setWrong(false);
            }
            event.stopPropagation();
          }}
        />
        {wrong && (
          <span role="alert" className="plate absolute top-full left-0 z-30 px-2 py-1 text-xs whitespace-nowrap">
            expected {shown(least, digits)} to {shown(most, digits)} {unit}
          </span>
        )}
      </span>
    );
  }

  return (
    <span
      role="spinbutton"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuetext={`${shown(value, digits)} ${unit}`}
      title={`${label}: drag sideways, arrow keys, or Enter to type`}
      className={`figures cursor-ew-resize touch-none border-b-[1.5px] font-semibold whitespace-nowrap select-none ${
        props.strong ? "border-accent text-accent" : "border-ink"
      }`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        rest.now();
        drag.current = { x: event.clientX, from: value, moved: false, last: value };
      }}
      onPointerMove={(event) => {
        const held = drag.current;
        if (!held) return;
        const dx = event.clientX - held.x;
        held.moved ||= Math.abs(dx) >= SHAKE_PX;
        const next = onGrid(held.from + dx * (props.perPixel ?? step));
        if (next !== held.last) {
          held.last = next;
          onMove(next);
        }
      }}
      onPointerUp={() => {
        const held = drag.current;
        if (!held) return;
        if (!held.moved && held.last !== held.from) onDrop();
        drag.current = null;
        if (held.moved) onKeep(held.last);
        else setTyped(shown(held.from, digits));
      }}
      onPointerCancel={onDrop}
      onKeyDown={(event) => {
        if (layOut(event, { ...props, value, digits, decades: false, onKeep })) return;
        const jump = event.shiftKey ? 10 : 1;
        if (event.altKey || event.ctrlKey) return;
        if (event.key === "ArrowUp" || event.key === "ArrowRight") stepBy(jump);
        else if (event.key === "ArrowDown" || event.key === "ArrowLeft") stepBy(-jump);
        else if (event.key === "Enter") setTyped(shown(value, digits));
        else if (event.key === "Escape" && drag.current) onDrop();
        else return;
        event.preventDefault();
      }}
    >
      {props.prefix}
      {withUnit(value, digits, unit)}
    </span>
  );
}
