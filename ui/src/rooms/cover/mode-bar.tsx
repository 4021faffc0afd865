/** What the three pictures show: the lit ground, one map of it, or where the selected layer lies. */

import { CATALOGUE } from "../../generated/catalogue";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import type { ModeKind } from "../../generated/answers";

export const MODES = CATALOGUE.modes;

/** The modes that are offered: gloss in place of roughness for those who think that way, wear's own with a wear, emission where some is. */
export function useModes() {
  const gloss = useTools((s) => s.gloss);
  const emits = useTools((s) => s.emits);
  const wear = useSite((s) => s.shown?.wears.some((one) => one.id === s.selected) ?? false);
  return MODES.filter(
    ({ mode, about }) =>
      about !== "strew" &&
      mode !== (gloss ? "roughness" : "gloss") &&
      about !== (wear ? "layer" : "wear") &&
      (emits || mode !== "emission"),
  );
}

export function ModeBar({ only }: { only?: readonly ModeKind[] }) {
  const mode = useSite((s) => s.mode);
  const look = useSite((s) => s.look);
  const held = useSite((s) =>
    s.showBefore && s.before !== null
      ? "before the last edit"
      : s.showCompared && s.compared
        ? `as in ${s.compared.name}`
        : s.showOther && s.otherLight
          ? `in ${s.otherLight.name}`
          : s.without
            ? "without the wear"
            : null,
  );
  const all = useModes();
  const modes = only ?? all;
  return (
    <div className="flex items-start gap-2">
      <div role="radiogroup" aria-label="Looking mode" className="figures flex flex-wrap text-xs font-medium">
        {modes.map((one) => (
          <button
            key={one.mode}
            type="button"
            role="radio"
            aria-checked={mode === one.mode}
            title={`${one.hint} (M for the next)`}
            className={`border-r border-rule bg-raised/95 ${modes.length > 12 ? "px-[3px]" : "px-[6px]"} py-[3px] last:border-0 ${
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
    <button
      type="button"
      className="text-xs font-normal tracking-normal normal-case underline"
      aria-pressed={gloss}
      title="Tell roughness as gloss, here and in the pictures; it is stored as roughness"
      onClick={() => {
        const { mode, look } = useSite.getState();
        useTools.setState({ gloss: !gloss });
        if (mode === "roughness" || mode === "gloss") look(gloss ? "roughness" : "gloss");
      }}
    >
      {gloss ? "as roughness" : "as gloss"}
    </button>
  );
}
