/** What the three pictures show: the lit ground, one map of it, or where the selected layer lies. */

import type { Mode } from "../../api/types";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";

export const MODES: readonly { mode: Mode; label: string; hint: string }[] = [
  { mode: "lit", label: "Lit", hint: "The ground in sun and sky" },
  { mode: "colour", label: "Colour", hint: "Base colour alone, unlit" },
  { mode: "roughness", label: "Rough", hint: "Roughness alone: black is a mirror, white fully rough" },
  { mode: "gloss", label: "Gloss", hint: "Roughness the other way round: white is a mirror; it is stored as roughness" },
  { mode: "metallic", label: "Metal", hint: "Metallic alone: white is metal" },
  { mode: "normal", label: "Normal", hint: "Normals alone: red east, green north, blue up" },
  { mode: "height", label: "Height", hint: "Relief of the cover alone: black low, white high" },
  { mode: "occlusion", label: "Occl.", hint: "Ambient occlusion alone: white is open" },
  { mode: "presence", label: "Mask", hint: "Share of the selected layer alone: black none, white all" },
  { mode: "coverage", label: "Coverage", hint: "The selected layer hatched over the lit ground" },
  { mode: "stretch", label: "Stretch", hint: "How far the projection pulls textures apart, with the value under the pointer" },
  { mode: "density", label: "Density", hint: "Texture pixels for a metre of ground, with the value under the pointer" },
  { mode: "grid", label: "Grid", hint: "Lines every 1 m near, 10 m and 100 m far" },
  { mode: "overlay", label: "Overlay", hint: "The selected wear's overlay alone on the surface, unlit, before it is mixed in" },
  { mode: "wear", label: "Mask", hint: "Where the selected wear is let in, alone: rule, relief, layers" },
];

/** The modes that are offered: gloss in place of roughness for those who think that way, wear's own with a wear. */
export function useModes() {
  const gloss = useTools((s) => s.gloss);
  const wear = useSite((s) => s.shown?.wears.some((one) => one.id === s.selected) ?? false);
  return MODES.filter(({ mode }) => mode !== (gloss ? "roughness" : "gloss") && (wear ? mode !== "presence" && mode !== "coverage" : mode !== "overlay" && mode !== "wear"));
}

export function ModeBar() {
  const mode = useSite((s) => s.mode);
  const look = useSite((s) => s.look);
  const held = useSite((s) =>
    s.showBefore && s.before !== null ? "before the last edit" : s.showCompared && s.compared ? `as in ${s.compared.name}` : s.without ? "without the wear" : null);
  const modes = useModes();
  return (
    <div className="flex items-start gap-2">
      <div role="radiogroup" aria-label="Looking mode" className="figures flex bg-raised/95 text-xs font-medium">
        {modes.map((one) => (
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
      {held && <span className="figures bg-ink px-2 py-[3px] text-xs text-raised">{held}</span>}
    </div>
  );
}

/** Roughness told as gloss, for those who think that way; it is stored as roughness. */
export function GlossSwitch() {
  const gloss = useTools((s) => s.gloss);
  return (
    <button type="button" className="text-xs font-normal tracking-normal normal-case underline" aria-pressed={gloss} title="Tell roughness as gloss, here and in the pictures; it is stored as roughness"
      onClick={() => {
        const { mode, look } = useSite.getState();
        useTools.setState({ gloss: !gloss });
        if (mode === "roughness" || mode === "gloss") look(gloss ? "roughness" : "gloss");
      }}>
      {gloss ? "as roughness" : "as gloss"}
    </button>
  );
}
