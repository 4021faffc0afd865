import { useRef } from "react";
import { useSite } from "../../state/site";
import { inStep, useGroundRoom } from "../../state/steps";
import type { Place } from "./place";
import type { Step } from "./step-kinds";

type BrushStep = Extract<Step, { kind: "brush" }>;
type Stroke = BrushStep["strokes"][number];
const MOST_POINTS = 600;

/** One stroke of the brush: shown while it is drawn, one undo step when it ends. */
export function useStroke(step: BrushStep | null) {
  const drawn = useRef<Stroke | null>(null);
  const { preview, keep, drop } = useSite.getState();

  const base = useRef<Stroke[]>([]);
  const change = (stroke: Stroke) =>
    inStep(step?.id ?? "", (one) => (one.kind === "brush" ? { ...one, strokes: [...base.current, stroke] } : one));

  return {
    begin: (place: Place, pressure: number) => {
      if (!step) return;
      base.current = step.strokes;
      const { tool, size_m, amount_m, strength, soft } = useGroundRoom.getState().brush;
      drawn.current = {
        tool,
        size_m,
        amount_m,
        strength,
        soft,
        points: [{ east_m: place.east, north_m: place.north, pressure }],
      };
      preview(change(drawn.current));
    },
    move: (place: Place, pressure: number) => {
      const stroke = drawn.current;
      if (!step || !stroke || stroke.points.length >= MOST_POINTS) return;
      const last = stroke.points.at(-1);
      if (last && Math.hypot(last.east_m - place.east, last.north_m - place.north) < stroke.size_m / 8) return;
      drawn.current = { ...stroke, points: [...stroke.points, { east_m: place.east, north_m: place.north, pressure }] };
      preview(change(drawn.current));
    },
    end: () => {
      if (step && drawn.current) keep(`${step.name}: ${drawn.current.tool}`, change(drawn.current));
      drawn.current = null;
    },
    drop: () => {
      if (drawn.current) drop();
      drawn.current = null;
    },
  };
}
