/** The hand in a picture: strokes of the brush, what it points at, and what a click asks or adds. */

import { useRef, useState } from "react";
import * as api from "../../api/client";
import type { DrawnStroke, PictureAsked, Projected, StandName } from "../../api/types";
import { pixelsOf } from "../../parts/screen";
import { useSite } from "../../state/site";
import { useTools, type Tool } from "../../state/tools";
import { measured } from "./mode-legend";
import { dropThing } from "../things/set/set-things";
import { thingPainted } from "../things/set/thing-marks";
import { clickThing, useHand } from "../things/use-hand";
import { withPath } from "./tool-bar";
import { strokeBegins, strokeEnds } from "./use-picture";

const MOST_SPOTS = 1200;
const LEAST_STEP_PX = 2;
const RING_MS = 60;

type Size = { width: number; height: number } | null;

export function spotOf(event: React.PointerEvent | React.DragEvent): [number, number] {
  const box = event.currentTarget.getBoundingClientRect();
  const clamp = (v: number) => Math.min(1, Math.max(0, v));
  // a hundredth of a pixel is fine enough, and short to say
  const plain = (v: number) => Number(clamp(v).toFixed(5));
  return [plain((event.clientX - box.left) / box.width), plain((event.clientY - box.top) / box.height)];
}

/** A stroke in a picture: shown on the ground in all three while it is drawn, one revision when it ends. */
export function useBrushHand(stand: StandName, size: Size) {
  const drawing = useRef<DrawnStroke | null>(null);
  const last = useRef<[number, number] | null>(null);
  const show = (drawn: DrawnStroke | null) => {
    drawing.current = drawn;
    useTools.setState({ drawn });
  };
  const pressure = (event: React.PointerEvent) => (event.pointerType === "pen" ? Number(event.pressure.toFixed(3)) : 1);

  return {
    begin: (event: React.PointerEvent) => {
      const { mask, brush } = useTools.getState();
      const { shown } = useSite.getState();
      if (!mask || !size || !shown) return;
      const [across, down] = spotOf(event);
      strokeBegins();
      const { width, height } = pixelsOf(size);
      const from = event.shiftKey && last.current ? [[...last.current, 1] as [number, number, number]] : [];
      show({
        ...brush,
        mask,
        stand,
        looked_from: shown.stands[stand],
        peg: shown.peg,
        width_px: width,
        height_px: height,
        spots: [...from, [across, down, pressure(event)]],
      });
    },
    /** Whether the move was the brush's. */
    move: (event: React.PointerEvent): boolean => {
      const drawn = drawing.current;
      if (!drawn || !size) return false;
      const [across, down] = spotOf(event);
      const before = drawn.spots.at(-1);
      if (event.shiftKey && drawn.spots[0]) {
        show({ ...drawn, spots: [drawn.spots[0], [across, down, pressure(event)]] });
        return true;
      }
      const far =
        !before || Math.hypot((across - before[0]) * size.width, (down - before[1]) * size.height) >= LEAST_STEP_PX;
      if (far && drawn.spots.length < MOST_SPOTS)
        show({ ...drawn, spots: [...drawn.spots, [across, down, pressure(event)]] });
      return true;
    },
    end: (): boolean => {
      const drawn = drawing.current;
      drawing.current = null;
      if (!drawn) return false;
      const end = drawn.spots.at(-1);
      last.current = end ? [end[0], end[1]] : null;
      strokeEnds();
      useSite.getState().through(
        "a stroke of the brush",
        async (state) => {
          const kept = await api.paint(state.id, state.revision, drawn);
          if (kept.revision === state.revision) {
            const thing = thingPainted(state.recipe, drawn.mask);
            useSite
              .getState()
              .say(`The stroke did not meet ${thing ? thing.name : "the ground"}: nothing was painted.`);
          }
          return kept;
        },
        () => {
          if (useTools.getState().drawn === drawn) useTools.setState({ drawn: null });
        },
      );
      return true;
    },
    drop: () => {
      if (drawing.current) show(null);
    },
  };
}

/** What a pointer over a picture points at: the chart's measures there, and the brush's ring on the ground. */
export function usePointing(request: () => PictureAsked | null, on: boolean) {
  const [ring, setRing] = useState<Projected | null>(null);
  const busy = useRef(false);
  const next = useRef<[number, number] | null>(null);
  const over = useRef(false);

  async function follow() {
    if (busy.current) return;
    busy.current = true;
    while (next.current) {
      const at = next.current;
      next.current = null;
      const asked = request();
      if (!asked) break;
      const { tool, brush, across, up, drawn, mask } = useTools.getState();
      const found = await api
        .ring(
          asked,
          at[0],
          at[1],
          tool === "paint" ? brush.size_m : null,
          drawn ? [] : [across, up],
          !drawn && measured(useSite.getState().mode),
          tool === "paint" ? mask : null,
        )
        .catch(() => null);
      if (!over.current) break;
      setRing(found?.ring ?? null);
      if (drawn) {
        // the pictures of a stroke come first: its ring follows at a beat
        await new Promise((done) => window.setTimeout(done, RING_MS));
        continue;
      }
      useTools.setState({ pointed: found?.spot ?? null, pointedFit: found?.fit ?? null });
    }
    busy.current = false;
  }
  return {
    ring,
    move: (event: React.PointerEvent) => {
      // while a picture is turned nothing is pointed at
      if (!on || (event.buttons !== 0 && useTools.getState().tool !== "paint")) return;
      over.current = true;
      next.current = spotOf(event);
      void follow();
    },
    leave: () => {
      over.current = false;
      next.current = null;
      setRing(null);
      useTools.setState({ pointed: null, pointedFit: null });
    },
    click: async (event: React.PointerEvent, tool: Tool, path: string | null) => {
      if (tool === "turn" || tool === "paint" || tool === "fit") return;
      const asked = request();
      if (!asked) return;
      const [across, down] = spotOf(event);
      const spot = await api.spot(asked, across, down).catch(() => null);
      if (tool === "pick") {
        await clickThing(asked, [across, down], spot);
        return;
      }
      if (!spot) return;
      if (tool === "set") {
        dropThing(spot);
        return;
      }
      if (tool === "lasso") {
        const corner = { east_m: spot.eastM, north_m: spot.northM };
        useHand.setState((s) => ({ lasso: [...s.lasso, corner].slice(-400) }));
        return;
      }
      if (tool === "probe") useTools.setState({ probed: { east: spot.eastM, north: spot.northM } });
      else if (path !== null) {
        const found = useSite.getState().shown?.marks.paths.find((one) => one.id === path);
        if (!found) return;
        const made = { east_m: Number(spot.eastM.toFixed(2)), north_m: Number(spot.northM.toFixed(2)) };
        useSite.getState().keep(`${found.name}: a point more`, withPath(path, { points: [...found.points, made] }));
      }
    },
  };
}

export function BrushRing({ ring, size }: { ring: Projected | null; size: { width: number; height: number } }) {
  if (!ring) return null;
  const points = ring.flatMap((one) => (one ? [`${one[0] * size.width} ${one[1] * size.height}`] : []));
  if (points.length < 3) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden="true" data-ring>
      <path d={`M${points.join("L")}z`} fill="none" stroke="#f6f5f3" strokeWidth="3" />
      <path d={`M${points.join("L")}z`} fill="none" stroke="#1c1d1e" strokeWidth="1.2" />
    </svg>
  );
}
