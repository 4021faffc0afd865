/** Tracks for the numbers of a strew's parts: each shows its effect while it moves, and is one change when it rests. */

import type { Strew } from "../../generated/recipe";
import { Num } from "../../parts/number";
import { Track } from "../../parts/track";
import { numberOf, type NumbersField } from "../../state/numbers";
import { inStrew, useSite } from "../../state/site";

const PARTS = { size: "Size", stands: "Standing", clusters: "Clusters", looks: "Looks" } as const;
export type StrewPart = keyof typeof PARTS;

/** The strew with one number of a part changed; where two are an order, the other gives way. */
export function withNumber(strew: Strew, part: StrewPart, field: string, value: number): Strew {
  const next = { ...strew[part], [field]: value } as Record<string, number>;
  const pairs = [
    ["from_m", "to_m"],
    ["sunk_from", "sunk_to"],
  ] as const;
  for (const [low, high] of pairs) {
    if (next[low] === undefined || next[high] === undefined || next[low] <= next[high]) continue;
    if (field === low) next[high] = value;
    else next[low] = value;
  }
  return { ...strew, [part]: next };
}

interface PartTrackProps {
  strew: Strew;
  part: StrewPart;
  field: NumbersField<(typeof PARTS)[StrewPart]>;
  /** In place of the name that the number has by itself. */
  label?: string;
}

export function PartTrack({ strew, part, field, label }: PartTrackProps) {
  const { preview, keep, drop } = useSite.getState();
  const of = numberOf(PARTS[part], field);
  const named = label ?? of.label;
  const value = (strew[part] as unknown as Record<string, number>)[field] ?? 0;
  const change = (v: number) => inStrew(strew.id, (one) => withNumber(one, part, field, v));
  return (
    <Track
      {...of}
      label={named}
      value={value}
      onMove={(v) => preview(change(v))}
      onKeep={(v) => keep(`${strew.name}: ${named.replace("…", "").toLowerCase()}`, change(v))}
      onDrop={drop}
    />
  );
}

/** A number of the strew itself, within a sentence. */
export function StrewNum({ strew, field }: { strew: Strew; field: "per_100_m2" | "apart_m" }) {
  const { preview, keep, drop } = useSite.getState();
  const of = numberOf("Strew", field);
  const value = strew[field];
  const fine = field === "per_100_m2" && value >= 10;
  const change = (v: number) => inStrew(strew.id, (one) => ({ ...one, [field]: v }));
  return (
    <Num
      {...of}
      label={`${strew.name}, ${of.label.toLowerCase()}`}
      strong
      value={value}
      step={fine ? 0.5 : of.step}
      digits={fine ? 1 : of.digits}
      perPixel={field === "per_100_m2" ? Math.max(0.01, value / 90) : 0.02}
      onMove={(v) => preview(change(v))}
      onKeep={(v) => keep(`${strew.name}: ${of.label.toLowerCase()}`, change(v))}
      onDrop={drop}
    />
  );
}
