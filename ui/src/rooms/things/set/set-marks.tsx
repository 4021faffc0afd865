/** Handles on the thing that is selected: its place, its turn and its size, to be dragged in any picture. */

import { ARROWS } from "../../../parts/arrows";
import { useRef } from "react";
import * as api from "../../../api/client";
import type { PictureAsked } from "../../../api/types";
import type { Projected } from "../../../api/types";
import type { SetThing } from "../../../generated/recipe";
import { useLatest } from "../../../parts/use-latest";
import { inSet, useSite } from "../../../state/site";

interface MarksProps {
  request: () => PictureAsked | null;
  viewKey: string;
  size: { width: number; height: number };
}

type Grip = "place" | "turn" | "size";
const ROUND = 36;

/** Places on the ground about a thing: a ring as wide as it is, the grip of its turn ahead, that of its size behind. */
function places(one: SetThing): [number, number][][] {
  const reach = 0.75 * one.size_m;
  const at = (turn: number, by = reach): [number, number] => [
    one.east_m + by * Math.cos((turn * Math.PI) / 180),
    one.north_m + by * Math.sin((turn * Math.PI) / 180),
  ];
  const ring = Array.from({ length: ROUND + 1 }, (_, k) => at((k * 360) / ROUND));
  return [
    [at(0, 0), at(0, 0)],
    ring,
    [at(one.turn_deg), at(one.turn_deg, reach * 1.35)],
    [at(one.turn_deg + 180), at(one.turn_deg + 180, reach * 1.01)],
  ];
}

const round = (v: number, by: number) => Number((Math.round(v / by) * by).toFixed(3));

/** The thing as it is with one of its grips dragged to a place. */
function dragged(one: SetThing, grip: Grip, to: { east: number; north: number }): SetThing {
  if (grip === "place") return { ...one, east_m: round(to.east, 0.001), north_m: round(to.north, 0.001) };
  const [east, north] = [to.east - one.east_m, to.north - one.north_m];
  if (grip === "turn") return { ...one, turn_deg: round((Math.atan2(north, east) * 180) / Math.PI, 0.5) };
  const size_m = Math.min(60, Math.max(0.02, Math.hypot(east, north) / 0.75));
  return { ...one, size_m: round(size_m, 0.01) };
}

export function SetMarks({ request, viewKey, size }: MarksProps) {
  const one = useSite((s) => s.shown?.set_things.find((other) => other.id === s.selected) ?? null);
  const held = useRef<{ grip: Grip; moved: boolean } | null>(null);
  const asking = useRef(false);
  const { preview, keep, drop, underWay } = useSite.getState();
  const { value } = useLatest<{ lines: Projected[]; curves: Projected[] }>(
    one ? `${viewKey} ${JSON.stringify([one.east_m, one.north_m, one.size_m, one.turn_deg])}` : null,
    () => {
      const asked = request();
      if (!asked || !one) throw new Error("no picture yet");
      return api.projected(asked, places(one));
    },
  );
  if (!one || !value) return null;
  const [middle, ring, ahead, behind] = value.lines;
  const xy = (spot: [number, number] | null | undefined) =>
    spot && Math.abs(spot[0] - 0.5) < 1.5 && Math.abs(spot[1] - 0.5) < 1.5
      ? ([spot[0] * size.width, spot[1] * size.height] as const)
      : null;

  async function under(event: React.PointerEvent<SVGElement>) {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    const asked = request();
    if (!box || !asked) return null;
    const part = (v: number) => Math.min(1, Math.max(0, v));
    const [across, down] = [part((event.clientX - box.left) / box.width), part((event.clientY - box.top) / box.height)];
    const found = await api.spot(asked, across, down).catch(() => null);
    return found ? { east: found.eastM, north: found.northM } : null;
  }
  const told: Record<Grip, string> = { place: "moved", turn: "turned", size: "sized" };
  const grip = (of: Grip, at: readonly [number, number] | null, label: string, shape: React.ReactNode) =>
    at && (
      <g
        transform={`translate(${at[0]} ${at[1]})`}
        role="button"
        tabIndex={0}
        aria-label={label}
        className="pointer-events-auto cursor-grab"
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { grip: of, moved: false };
        }}
        onPointerMove={(event) => {
          if (held.current?.grip !== of) return;
          event.stopPropagation();
          held.current.moved = true;
          if (asking.current) return;
          asking.current = true;
          void under(event).then((to) => {
            asking.current = false;
            // an answer that comes after letting go must not set things moving again
            if (to && held.current) preview(inSet(one.id, (now) => dragged(now, of, to)));
          });
        }}
        onPointerUp={(event) => {
          event.stopPropagation();
          const moved = held.current?.moved;
          held.current = null;
          if (!moved) return;
          underWay(
            under(event).then((to) => {
              if (to)
                keep(
                  `${one.name}: ${told[of]}`,
                  inSet(one.id, (now) => dragged(now, of, to)),
                );
              else drop();
            }),
          );
        }}
        onPointerCancel={() => {
          held.current = null;
          drop();
        }}
        onKeyDown={(event) => {
          const way = ARROWS[event.key];
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          const fine = event.shiftKey ? 0.1 : 1;
          const change = (now: SetThing): SetThing =>
            of === "place"
              ? {
                  ...now,
                  east_m: round(now.east_m + way[0] * fine * 0.1 * now.size_m, 0.001),
                  north_m: round(now.north_m + way[1] * fine * 0.1 * now.size_m, 0.001),
                }
              : of === "turn"
                ? { ...now, turn_deg: round(now.turn_deg - (way[0] - way[1]) * fine * 5, 0.5) }
                : { ...now, size_m: round(now.size_m * (1 + (way[0] + way[1]) * fine * 0.1), 0.01) };
          keep(`${one.name}: ${told[of]}`, inSet(one.id, change));
        }}
      >
        {shape}
        <title>{label}</title>
      </g>
    );
  const line = (ring ?? []).map(xy);
  const d = line.map((at, k) => (at ? `${line[k - 1] ? "L" : "M"}${at[0]} ${at[1]}` : "")).join("");
  const turnAt = xy(ahead?.[1]);
  const from = xy(ahead?.[0]);
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-label={`Grips of ${one.name}`} data-grips>
      <path d={d} fill="none" stroke="#f6f5f3" strokeWidth="3" />
      <path d={d} fill="none" stroke="#1c1d1e" strokeWidth="1.2" strokeDasharray="7 4" />
      {from && turnAt && (
        <path d={`M${from[0]} ${from[1]}L${turnAt[0]} ${turnAt[1]}`} stroke="#1c1d1e" strokeWidth="1.4" />
      )}
      {grip(
        "turn",
        turnAt,
        `Turn of ${one.name}: drag it round, or the arrow keys`,
        <circle r="6.5" className="fill-raised stroke-ink" strokeWidth="1.6" />,
      )}
      {grip(
        "size",
        xy(behind?.[0]),
        `Size of ${one.name}: drag it out or in, or the arrow keys`,
        <path d="M-6 -6h12v12h-12z" className="fill-raised stroke-ink" strokeWidth="1.6" />,
      )}
      {grip(
        "place",
        xy(middle?.[0]),
        `Place of ${one.name}: drag it over the ground, or the arrow keys`,
        <path d="M0 -9 9 0 0 9 -9 0z" className="fill-accent stroke-raised" strokeWidth="1.6" />,
      )}
    </svg>
  );
}
