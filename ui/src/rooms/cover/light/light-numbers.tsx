/** Rows of numbers of a light's parts: each shows its effect while it moves, and is one change when it rests. */

import { useId, useRef } from "react";
import type { Recipe } from "../../../generated/recipe";
import { Num } from "../../../parts/number";
import { numberOf, type NumbersField } from "../../../state/numbers";
import { useSite } from "../../../state/site";

type LightPart = "Light" | "Mist" | "Water" | "ImageLight" | "Stand";

interface LightNumberProps {
  /** Part of the catalogue, and the field of it. */
  part: LightPart;
  field: NumbersField<LightPart>;
  value: number;
  change: (value: number) => (recipe: Recipe) => Recipe;
}

export function LightNumber({ part, field, value, change }: LightNumberProps) {
  const { label, unit, least, most, step, digits, hint, decades, perPixel } = numberOf(part, field);
  const { preview, keep, drop } = useSite.getState();
  // what spans decades is dragged by a share of itself
  const pixel = decades ? Math.max(step, value * 0.012) : perPixel;
  return (
    <>
      <span title={hint}>{label}</span>
      <span className="justify-self-end">
        <Num
          label={label}
          value={value}
          unit={unit}
          least={least}
          most={most}
          step={step}
          digits={digits}
          {...(pixel ? { perPixel: pixel } : {})}
          onMove={(next) => preview(change(next))}
          onKeep={(next) => keep(`set ${label.toLowerCase()}`, change(next))}
          onDrop={drop}
        />
      </span>
    </>
  );
}

export const ROWS = "grid grid-cols-[1fr_auto] items-center gap-y-2 pt-1 pb-2";

interface ColourRowProps {
  label: string;
  hint: string;
  value: string;
  change: (value: string) => (recipe: Recipe) => Recipe;
}

/** A colour: the system's own chooser, shown while it is open, kept when it is left. */
export function ColourRow({ label, hint, value, change }: ColourRowProps) {
  const { preview, keep } = useSite.getState();
  const chosen = useRef<string | null>(null);
  const id = useId();
  return (
    <>
      <label htmlFor={id} title={hint}>
        {label}
      </label>
      <input
        id={id}
        type="color"
        className="h-5 w-10 justify-self-end border border-ink bg-raised"
        value={value}
        onChange={(event) => {
          chosen.current = event.target.value;
          preview(change(event.target.value));
        }}
        onBlur={() => {
          const colour = chosen.current;
          chosen.current = null;
          if (colour !== null) keep(`set ${label.toLowerCase()}`, change(colour));
        }}
      />
    </>
  );
}
