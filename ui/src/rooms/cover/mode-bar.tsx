/** What the three pictures show: the lit ground, one map of it, or where the selected layer lies. */

import type { Mode } from "../../api/types";
import { useSite } from "../../state/site";

export const MODES: readonly { mode: Mode; label: string; hint: string }[] = [
  { mode: "lit", label: "Lit", hint: "The ground in sun and sky" },
  { mode: "colour", label: "Colour", hint: "Base colour alone, unlit" },
  { mode: "roughness", label: "Rough", hint: "Roughness alone: black is a mirror, white fully rough" },
  { mode: "normal", label: "Normal", hint: "Normals alone: red east, green north, blue up" },
  { mode: "height", label: "Height", hint: "Relief of the cover alone: black low, white high" },
  { mode: "occlusion", label: "Occl.", hint: "Ambient occlusion alone: white is open" },
  { mode: "presence", label: "Mask", hint: "Share of the selected layer alone: black none, white all" },
  { mode: "coverage", label: "Coverage", hint: "The selected layer hatched over the lit ground" },
  { mode: "stretch", label: "Stretch", hint: "How far the projection pulls textures apart, with the value under the pointer" },
  { mode: "density", label: "Density", hint: "Texture pixels for a metre of ground, with the value under the pointer" },
  { mode: "grid", label: "Grid", hint: "Lines every 1 m near, 10 m and 100 m far" },
];

export function ModeBar() {
  const mode = useSite((s) => s.mode);
  const look = useSite((s) => s.look);
  const before = useSite((s) => s.showBefore && s.before !== null);
  return (
    <div className="flex items-start gap-2">
      <div role="radiogroup" aria-label="Looking mode" className="figures flex bg-raised/95 text-xs font-medium">
        {MODES.map((one) => (
          <button
            key={one.mode}
            type="button"
            role="radio"
            aria-checked={mode === one.mode}
            title={`${one.hint} (M for the next)`}
            className={`border-r border-rule px-[6px] py-[3px] last:border-0 ${
              mode === one.mode ? "shadow-[inset_0_-2px_var(--color-accent)]" : ""
            }`}
            onClick={() => look(one.mode)}
          >
            {one.label}
          </button>
        ))}
      </div>
      {before && <span className="figures bg-ink px-2 py-[3px] text-xs text-raised">before the last edit</span>}
    </div>
  );
}
