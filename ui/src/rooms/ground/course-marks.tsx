/** A course on the map: its line and its points, to be dragged. */

import { numberOf } from "../../state/numbers";
import { DragPoint } from "../../parts/drag-point";
import { Num } from "../../parts/number";
import { useSite } from "../../state/site";
import { inStep } from "../../state/steps";
import type { Place } from "./place";
import type { Step } from "./step-kinds";

type Course = Extract<Step, { kind: "course" }>;
type Point = Course["points"][number];

interface MarksProps {
  step: Course;
  x: (east: number) => number;
  y: (north: number) => number;
  placeOf: (event: { clientX: number; clientY: number }) => Place;
}

export function CourseMarks({ step, x, y, placeOf }: MarksProps) {
  const { preview, keep, drop } = useSite.getState();
  const points = step.points;
  const withPoint = (at: number, change: Partial<Point>) =>
    inStep(step.id, { points: points.map((point, k) => (k === at ? { ...point, ...change } : point)) });
  const path = `M${points.map((point) => `${x(point.east_m)} ${y(point.north_m)}`).join("L")}`;

  function addAt(place: Place) {
    // after the point whose leg passes nearest
    const away = points.slice(1).map((point, k) => {
      const before = points[k] ?? point;
      return Math.hypot(
        (before.east_m + point.east_m) / 2 - place.east,
        (before.north_m + point.north_m) / 2 - place.north,
      );
    });
    const at = away.indexOf(Math.min(...away));
    const [a, b] = [points[at], points[at + 1]];
    if (!a || !b || points.length >= 64) return;
    const made = {
      east_m: place.east,
      north_m: place.north,
      level_m: (a.level_m + b.level_m) / 2,
      half_width_m: (a.half_width_m + b.half_width_m) / 2,
    };
    keep(`${step.name}: a point more`, inStep(step.id, { points: points.toSpliced(at + 1, 0, made) }));
  }

  return (
    <g>
      <path d={path} fill="none" stroke="#f6f5f3" strokeWidth="5" />
      <path d={path} fill="none" stroke="#bf3b1c" strokeWidth="1.8" />
      <path
        d={path}
        fill="none"
        stroke="transparent"
        strokeWidth="14"
        className="cursor-copy"
        onPointerDown={(event) => event.stopPropagation()}
        onDoubleClick={(event) => addAt(placeOf(event))}
      />
      {points.map((point, at) => (
        <DragPoint
          key={at}
          x={x(point.east_m)}
          y={y(point.north_m)}
          radius={6}
          title={`Point ${at + 1}: drag it`}
          label={`Point ${at + 1} of ${step.name}. Arrow keys move it, Delete takes it out.`}
          onDrag={(event) => {
            const place = placeOf(event);
            preview(withPoint(at, { east_m: place.east, north_m: place.north }));
          }}
          onSettle={(event) => {
            event.stopPropagation();
            keep(`${step.name}: moved a point`);
          }}
          onCancel={drop}
          onStep={(east, north) =>
            keep(
              `${step.name}: moved a point`,
              withPoint(at, { east_m: point.east_m + east * 5, north_m: point.north_m + north * 5 }),
            )
          }
          onRemove={() => {
            if (points.length > 2)
              keep(`${step.name}: a point less`, inStep(step.id, { points: points.toSpliced(at, 1) }));
          }}
        />
      ))}
    </g>
  );
}

/** The points of a course as numbers. */
export function CourseTable({ step }: { step: Course }) {
  const { preview, keep, drop } = useSite.getState();
  const number = (at: number, field: "level_m" | "half_width_m", label: string) => {
    const change = (value: number) =>
      inStep(step.id, { points: step.points.map((point, k) => (k === at ? { ...point, [field]: value } : point)) });
    return (
      <Num
        {...numberOf("CoursePoint", field)}
        label={`Point ${at + 1}, ${label}`}
        value={step.points[at]?.[field] ?? 0}
        onMove={(value) => preview(change(value))}
        onKeep={(value) => keep(`${step.name}: ${label}`, change(value))}
        onDrop={drop}
      />
    );
  };
  return (
    <div className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
      {step.points.map((_, at) => (
        <span key={at} className="whitespace-nowrap">
          <b className="figures">{at + 1}</b> <span className="text-quiet">level</span> {number(at, "level_m", "level")}{" "}
          <span className="text-quiet">half width</span> {number(at, "half_width_m", "half width")}
        </span>
      ))}
    </div>
  );
}
