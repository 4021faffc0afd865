/** The brush: what it does, how large, how strong. Strokes are made on the map. */

import { numberOf } from "../../state/numbers";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { useSite } from "../../state/site";
import { inStep, useGroundRoom, type Brush } from "../../state/steps";
import type { Step } from "./step-kinds";

const TOOLS = [
  { value: "raise", label: "Raise" },
  { value: "lower", label: "Lower" },
  { value: "smooth", label: "Smooth" },
  { value: "flatten", label: "Flatten", hint: "To the height first touched" },
] as const;

export function BrushPanel({ step }: { step: Extract<Step, { kind: "brush" }> }) {
  const brush = useGroundRoom((s) => s.brush);
  const { keep } = useSite.getState();
  const set = (change: Partial<Brush>) => useGroundRoom.setState((s) => ({ brush: { ...s.brush, ...change } }));
  const track = (field: Exclude<keyof Brush, "tool">) => (
    <Track
      {...numberOf("Stroke", field)}
      value={brush[field]}
      onMove={(value) => set({ [field]: value })}
      onKeep={(value) => set({ [field]: value })}
      onDrop={() => undefined}
    />
  );
  return (
    <>
      <div className="my-1.5">
        <Segments label="Brush" value={brush.tool} choices={TOOLS} onChoose={(tool) => set({ tool })} />
      </div>
      <div className="grid grid-cols-2 gap-x-6">
        {track("size_m")}
        {track("strength")}
        {(brush.tool === "raise" || brush.tool === "lower") && track("amount_m")}
        {track("soft")}
      </div>
      <p className="mt-1 flex items-center gap-3 text-quiet">
        Draw on the map. {step.strokes.length} {step.strokes.length === 1 ? "stroke" : "strokes"} so far; undo takes
        them back one by one.
        {step.strokes.length > 0 && (
          <button
            type="button"
            className="key"
            onClick={() => keep(`${step.name}: no strokes`, inStep(step.id, { strokes: [] }))}
          >
            Take all out
          </button>
        )}
      </p>
    </>
  );
}
