/** A labelled scale to slide along, with its number beside it. Double-click the label for the default. */

import { Slider } from "radix-ui";
import { useRef } from "react";
import { layOut, layOutNumber, useStrip } from "../judging/strip";
import { Num, type NumberProps } from "./number";
import { useHeld } from "./use-held";
import { useRest } from "./use-rest";

export interface TrackProps extends NumberProps {
  usual: number;
  /** Slides finely near the low end: for sizes that span decades. */
  decades?: boolean;
  /** The first tenth of the way is the first hundredth of the range. */
  fine?: boolean;
  hint?: string;
}

const STEPS = 1000;

export function Track(props: TrackProps) {
  const { label, least, most, usual, decades, fine, hint } = props;
  const { now: value, hold, letGo } = useHeld(props.value);
  const onKeep = (next: number) => {
    letGo();
    props.onKeep(next);
  };
  const pictures = useStrip((s) => s.here);
  const rest = useRest();
  const keyed = useRef(false);
  const unkept = useRef(false);
  const floor = Math.max(least, most / 100_000, 1e-6);
  const toPlace = (v: number) =>
    fine
      ? Math.sqrt((v - least) / (most - least)) * STEPS
      : decades
        ? (Math.log(Math.max(v, floor) / floor) / Math.log(most / floor)) * STEPS
        : ((v - least) / (most - least)) * STEPS;
  const fromPlace = (p: number) => {
    const raw = fine
      ? least + (most - least) * (p / STEPS) ** 2
      : decades
        ? floor * (most / floor) ** (p / STEPS)
        : least + (p / STEPS) * (most - least);
    return Number(Math.min(most, Math.max(least, Math.round(raw / props.step) * props.step)).toFixed(6));
  };
  return (
    <div className="group/row grid h-[27px] grid-cols-[76px_1fr_auto] items-center gap-2">
      <span className="relative flex">
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left"
          title={`${hint ?? label}. Double-click for the usual ${usual} ${props.unit}`}
          onDoubleClick={() => onKeep(usual)}
        >
          {label}
        </button>
        {pictures && (
          <button
            type="button"
            className="absolute right-0 hidden h-6 bg-raised px-[3px] group-focus-within/row:block group-hover/row:block"
            aria-label={`${label}: five values side by side`}
            title="Five values side by side (S); of a second number beside it, a sheet of both"
            onClick={() => layOutNumber({ ...props, value, decades: decades ?? false, onKeep })}
          >
            <svg aria-hidden viewBox="0 0 19 10" className="h-2.5 w-[19px] fill-ink">
              {[0, 4, 8, 12, 16].map((x) => (
                <rect key={x} x={x} width={3} height={10} />
              ))}
            </svg>
          </button>
        )}
      </span>
      <Slider.Root
        className="relative flex h-5 touch-none items-center"
        min={0}
        max={STEPS}
        step={1}
        value={[toPlace(value)]}
        onKeyDownCapture={(event) => {
          keyed.current = true;
          if (layOut(event, { ...props, value, decades: decades ?? false, onKeep })) event.stopPropagation();
        }}
        onPointerDownCapture={() => {
          keyed.current = false;
          rest.now();
        }}
        onValueChange={([p]) => {
          unkept.current = !keyed.current;
          const next = fromPlace(p ?? 0);
          hold(next);
          props.onMove(next);
        }}
        onLostPointerCapture={() => {
          // back where it began, or taken away by the system: nothing was committed, nothing is left to keep
          if (unkept.current) {
            letGo();
            props.onDrop();
          }
          unkept.current = false;
        }}
        onValueCommit={([p]) => {
          const kept = fromPlace(p ?? 0);
          unkept.current = false;
          // keys commit at every press, before the change: a run of them is one edit, kept when they rest
          if (keyed.current) rest.later(() => onKeep(kept));
          else onKeep(kept);
        }}
      >
        <Slider.Track className="relative h-[13px] w-full border-b border-ink">
          <span className="ticks absolute inset-x-0 bottom-0 h-1" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={label}
          className="block h-[17px] w-[9px] bg-ink [clip-path:polygon(0_0,100%_0,60%_30%,60%_100%,40%_100%,40%_30%)] focus-visible:bg-accent"
        />
      </Slider.Root>
      <span className="min-w-[58px] text-right">
        <Num {...props} value={value} />
      </span>
    </div>
  );
}
