/** The brush: what it does, how large, how strong. Strokes are made on the map. */

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
  const track = (field: Exclude<keyof Brush, "tool">, rest: Omit<Parameters<typeof Track>[0], "value" | "onMove" | "onKeep" | "onDrop">) => (
    <Track {...rest} value={brush[field]} onMove={(value) => set({ [field]: value })} onKeep={(value) => set({ [field]: value })} onDrop={() => undefined} />
  );
  return (
    <>
      <div className="my-1.5">
        <Segments label="Brush" value={brush.tool} choices={TOOLS} onChoose={(tool) => set({ tool })} />
      </div>
      <div className="grid grid-cols-2 gap-x-6">
        {track("size_m", { label: "Size", unit: "m", least: 0.5, most: 2000, step: 0.5, digits: 1, decades: true, usual: 40, hint: "Across" })}
        {track("strength", { label: "Strength", unit: "", least: 0.01, most: 1, step: 0.01, digits: 2, usual: 0.5 })}
        {(brush.tool === "raise" || brush.tool === "lower") &&
          track("amount_m", { label: "Amount", unit: "m", least: 0.05, most: 200, step: 0.05, digits: 2, decades: true, usual: 2, hint: "Highest that a stroke of full strength reaches" })}
        {track("soft", { label: "Soft edge", unit: "", least: 0, most: 1, step: 0.01, digits: 2, usual: 0.7 })}
      </div>
      <p className="mt-1 flex items-center gap-3 text-quiet">
        Draw on the map. {step.strokes.length} {step.strokes.length === 1 ? "stroke" : "strokes"} so far; undo takes them back one by one.
        {step.strokes.length > 0 && (
          <button type="button" className="key" onClick={() => keep(`${step.name}: no strokes`, inStep(step.id, { strokes: [] }))}>
            Take all out
          </button>
        )}
      </p>
    </>
  );
}
