/** A path in a picture: its line and points as they lie on the ground, to be dragged. */

import { useRef } from "react";
import * as api from "../../api/client";
import type { PictureAsked } from "../../api/types";
import type { Projected } from "../../api/types";
import { DragPoint } from "../../parts/drag-point";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { withPath } from "./tool-bar";

interface MarksProps {
  request: () => PictureAsked | null;
  /** Says everything that where things lie in the picture depends on. */
  viewKey: string;
  size: { width: number; height: number };
}

const MOST = 400;

export function PathMarks({ request, viewKey, size }: MarksProps) {
  const id = useTools((s) => s.path);
  const path = useSite((s) => s.shown?.marks.paths.find((one) => one.id === id));
  const dragging = useRef<number | null>(null);
  const asking = useRef(false);
  const { preview, keep, drop, underWay } = useSite.getState();
  const points = path?.points ?? [];
  const { value: lines } = useLatest<{ lines: Projected[]; curves: Projected[] }>(
    path ? `${viewKey} ${JSON.stringify(points)}` : null,
    () => {
      const asked = request();
      if (!asked) throw new Error("no picture yet");
      return api.projected(asked, [points.map((point): [number, number] => [point.east_m, point.north_m])]);
    },
  );
  if (!path) return null;
  const placed = lines?.lines[0] ?? [];
  const x = (at: number) => (placed[at]?.[0] ?? -9) * size.width;
  const y = (at: number) => (placed[at]?.[1] ?? -9) * size.height;
  const spotOf = (event: { clientX: number; clientY: number }, box: DOMRect | undefined) =>
    box
      ? {
          across: Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)),
          down: Math.min(1, Math.max(0, (event.clientY - box.top) / box.height)),
        }
      : null;

  async function under(event: { clientX: number; clientY: number }, box: DOMRect | undefined) {
    const asked = request();
    const at = spotOf(event, box);
    if (!asked || !at) return null;
    const found = await api.spot(asked, at.across, at.down).catch(() => null);
    return found ? { east_m: Number(found.eastM.toFixed(2)), north_m: Number(found.northM.toFixed(2)) } : null;
  }
  const label = `${path.name}: a point moved`;
  // a piece that goes behind the eye or far beyond the picture is left out
  const near = (one: [number, number] | null | undefined) =>
    one && Math.abs(one[0] - 0.5) < 3 && Math.abs(one[1] - 0.5) < 3;
  const curve = (lines?.curves[0] ?? [])
    .map((one, k, all) =>
      near(one) && one ? `${near(all[k - 1]) ? "L" : "M"}${one[0] * size.width} ${one[1] * size.height}` : "",
    )
    .join("");
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-label={`Points of ${path.name}`}>
      {curve !== "" && (
        <>
          <path d={curve} fill="none" stroke="#f6f5f3" strokeWidth="3.5" />
          <path d={curve} fill="none" stroke="#bf3b1c" strokeWidth="1.5" />
          <path
            d={curve}
            fill="none"
            stroke="transparent"
            strokeWidth="12"
            className="pointer-events-auto cursor-copy"
            onPointerDown={(event) => event.stopPropagation()}
            onDoubleClick={(event) => {
              event.stopPropagation();
              const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
              const away = points
                .slice(1)
                .map((_, k) =>
                  Math.hypot(
                    (x(k) + x(k + 1)) / 2 - (event.clientX - (box?.left ?? 0)),
                    (y(k) + y(k + 1)) / 2 - (event.clientY - (box?.top ?? 0)),
                  ),
                );
              const leg = away.indexOf(Math.min(...away));
              underWay(
                under(event, box).then((made) => {
                  if (made && points.length < MOST)
                    keep(
                      `${path.name}: a point more`,
                      withPath(path.id, { points: points.toSpliced(leg + 1, 0, made) }),
                    );
                }),
              );
            }}
          />
        </>
      )}
      {points.map(
        (point, at) =>
          placed[at] && (
            <DragPoint
              key={at}
              x={x(at)}
              y={y(at)}
              radius={5.5}
              title={`Point ${at + 1}: drag it`}
              label={`Point ${at + 1} of ${path.name}. Arrow keys move it, Delete takes it out.`}
              onDrag={(event) => {
                if (dragging.current === at && asking.current) return;
                dragging.current = at;
                asking.current = true;
                void under(event, event.currentTarget.ownerSVGElement?.getBoundingClientRect()).then((to) => {
                  asking.current = false;
                  // an answer that comes after letting go must not set things moving again
                  if (to && dragging.current === at) preview(withPath(path.id, { points: points.with(at, to) }));
                });
              }}
              onSettle={(event) => {
                dragging.current = null;
                underWay(
                  under(event, event.currentTarget.ownerSVGElement?.getBoundingClientRect()).then((to) => {
                    if (to) keep(label, withPath(path.id, { points: points.with(at, to) }));
                    else drop();
                  }),
                );
              }}
              onCancel={() => {
                dragging.current = null;
                drop();
              }}
              onStep={(east, north) => {
                const step = Math.max(path.width_m / 2, 0.1);
                keep(
                  label,
                  withPath(path.id, {
                    points: points.with(at, {
                      east_m: point.east_m + east * step,
                      north_m: point.north_m + north * step,
                    }),
                  }),
                );
              }}
              onRemove={() => {
                if (points.length > 2)
                  keep(`${path.name}: a point less`, withPath(path.id, { points: points.toSpliced(at, 1) }));
              }}
            />
          ),
      )}
    </svg>
  );
}
