/** Something else beside the site as it is now: under a wiper, or as a map of how far apart both look. */

import { useRef } from "react";
import { create } from "zustand";
import { picturesBeside } from "../api/judging";
import type { StandName } from "../api/types";
import { shown as number } from "../parts/number";
import { finePixelsOf } from "../parts/screen";
import { useLatest } from "../parts/use-latest";
import { nameOfSeen } from "../state/part-names";
import { useSite } from "../state/site";
import { useWhileStill } from "../state/still";
import { InMemory } from "./in-memory";

export type Way = "flicker" | "wiper" | "difference";

/** How what is compared with is shown, and where the wiper stands, 0..1. */
export const useBeside = create<{ way: Way; at: number }>()(() => ({ way: "flicker", at: 0.5 }));

export const WAYS: readonly { value: Way; label: string; hint: string }[] = [
  { value: "flicker", label: "Hold C", hint: "It is shown while C is held" },
  { value: "wiper", label: "Wiper", hint: "It lies to the right of a line that is dragged" },
  { value: "difference", label: "Difference", hint: "How far apart both look: red where they differ (CIEDE2000)" },
];

interface SideBySideProps {
  stand: StandName;
  size: { width: number; height: number };
}

export function SideBySide({ stand, size }: SideBySideProps) {
  const compared = useSite((s) => s.compared);
  const recipe = useSite((s) => s.shown);
  const { way, at } = useBeside();
  const lit = useSite((s) => s.mode === "lit");
  const wanted = compared && recipe && way !== "flicker";
  const fine = finePixelsOf(size);
  const px = [fine.width, fine.height] as const;
  const depends = wanted && lit ? [compared.seen(recipe), ...(way === "difference" ? [recipe] : [])] : null;
  const key = useWhileStill(depends && [compared?.id, way, stand, ...px, ...depends.map(nameOfSeen)].join(" "));
  const { value, current, trouble } = useLatest(key, async () => {
    const now = useSite.getState();
    if (!now.shown || !now.compared) throw new Error("nothing is compared with");
    return picturesBeside(now.shown, now.compared.seen(now.shown), stand, px, way === "difference");
  });
  if (!wanted) return null;
  if (!lit)
    return (
      <p className="figures pointer-events-none absolute bottom-6 left-2 bg-raised/90 px-1.5 text-xs">
        compared with {compared.name} in Lit
      </p>
    );
  return (
    <div className="pointer-events-none absolute inset-0" data-beside={current ? "current" : "older"}>
      {value && (
        <InMemory
          picture={value.picture}
          alt={way === "wiper" ? `As in ${compared.name}` : `Difference from ${compared.name}`}
          clipped={way === "wiper" ? at : 0}
        />
      )}
      {way === "wiper" && <Wiper at={at} name={compared.name} />}
      <p className="figures absolute bottom-6 left-2 bg-raised/90 px-1.5 text-xs">
        {trouble ??
          (way === "wiper"
            ? `left now · right ${compared.name}`
            : value?.mean === undefined || value.mean === null
              ? "comparing…"
              : `difference ${number(value.mean, 2)} on the mean, seen on ${number((value.seen ?? 0) * 100, 1)}%`)}
      </p>
    </div>
  );
}

function Wiper({ at, name }: { at: number; name: string }) {
  const held = useRef(false);
  const put = (to: number) => useBeside.setState({ at: Math.min(1, Math.max(0, to)) });
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Wiper: to its right ${name}`}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * at)}
      className="pointer-events-auto absolute inset-y-0 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: `${100 * at}%` }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
      }}
      onPointerMove={(event) => {
        event.stopPropagation();
        const box = event.currentTarget.parentElement?.getBoundingClientRect();
        if (held.current && box) put((event.clientX - box.left) / box.width);
      }}
      onPointerUp={(event) => {
        event.stopPropagation();
        held.current = false;
      }}
      onPointerCancel={() => {
        held.current = false;
      }}
      onKeyDown={(event) => {
        const step = event.shiftKey ? 0.1 : 0.01;
        const by = event.key === "ArrowLeft" ? -step : event.key === "ArrowRight" ? step : 0;
        if (by === 0) return;
        event.preventDefault();
        event.stopPropagation();
        put(at + by);
      }}
    >
      <span className="absolute inset-y-0 left-1/2 w-[3px] -translate-x-1/2 border-x border-ink bg-raised" />
    </div>
  );
}
