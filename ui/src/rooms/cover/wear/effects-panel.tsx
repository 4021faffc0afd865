/** What a wear does: to roughness, colour, relief, metallic, or down to the layer below; each with its strength. */

import type { ReactNode } from "react";
import * as api from "../../../api/wear";
import type { Told } from "../../../api/wear";
import type { Blend, Colouring, Effects, Relief, Wear } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { Track } from "../../../parts/track";
import { useLatest } from "../../../parts/use-latest";
import { useReady } from "../../../state/ground";
import { inWear, useSite } from "../../../state/site";
import { useWhileStill } from "../../../state/still";
import { useTools } from "../../../state/tools";
import { GlossSwitch } from "../mode-bar";

const MODES: Record<Blend["mode"], string> = {
  screen: "Screens: 1 − (1 − a)(1 − b)", multiply: "Multiplies", overlay: "Overlays: half of the range is neutral", add: "Adds, up to 1",
  subtract: "Takes away, down to 0", lighten: "The larger of both", darken: "The smaller of both", replace: "Puts it in its place",
};
const TINTINGS: Record<Colouring["mode"], string> = {
  tint: "Takes its hue, keeps the ground's lightness", multiply: "Darkens by it", screen: "Lightens by it", overlay: "More contrast by it; mid grey is neutral", replace: "Covers with it",
};

export function EffectsPanel({ wear }: { wear: Wear }) {
  const gloss = useTools((s) => s.gloss);
  const effects = wear.effects;
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<Effects>) => inWear(wear.id, (one) => ({ ...one, effects: { ...one.effects, ...part } }));
  const show = (part: Partial<Effects>) => preview(change(part));
  const put = (what: string, part: Partial<Effects>) => keep(`${wear.name}: ${what}`, change(part));
  const whole = (strength: number) => inWear(wear.id, (one) => ({ ...one, strength }));
  return (
    <section aria-label="Effects" className="min-h-0 overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-0.5 flex justify-between"><span>Effects</span><GlossSwitch /></h2>
      <Readout wear={wear} />
      <Fine label="All of it" value={wear.strength} usual={1} hint="Strength of all its effects; the first tenth of the way is the first hundredth"
        onMove={(v) => preview(whole(v))} onKeep={(v) => keep(`${wear.name}: strength`, whole(v))} onDrop={drop} />
      <Effect name={gloss ? "Gloss" : "Roughness"} on={effects.roughness !== null}
        onSwitch={(on) => put(on ? "roughness" : "no roughness", { roughness: on ? { mode: "screen", strength: 0.15, towards: null } : null })}>
        {effects.roughness && <BlendPart blend={effects.roughness} what={gloss ? "gloss" : "roughness"} gloss={gloss} show={(roughness) => show({ roughness })} put={(what, roughness) => put(what, { roughness })} drop={drop} />}
      </Effect>
      <Effect name="Colour" on={effects.colour !== null}
        onSwitch={(on) => put(on ? "colour" : "no colour", { colour: on ? { mode: "multiply", strength: 0.25, colour: "#8a8178" } : null })}>
        {effects.colour && <ColourPart colour={effects.colour} show={(colour) => show({ colour })} put={(what, colour) => put(what, { colour })} drop={drop} />}
      </Effect>
      <Effect name="Relief" on={effects.relief !== null}
        onSwitch={(on) => put(on ? "relief" : "no relief", { relief: on ? { way: "carve", depth_mm: 0.2 } : null })}>
        {effects.relief && <ReliefPart relief={effects.relief} show={(relief) => show({ relief })} put={(what, relief) => put(what, { relief })} drop={drop} />}
      </Effect>
      <Effect name="Metallic" on={effects.metallic !== null}
        onSwitch={(on) => put(on ? "metallic" : "no metallic", { metallic: on ? { mode: "replace", strength: 0.3, towards: 1 } : null })}>
        {effects.metallic && <BlendPart blend={effects.metallic} what="metallic" gloss={false} show={(metallic) => show({ metallic })} put={(what, metallic) => put(what, { metallic })} drop={drop} />}
      </Effect>
      <Effect name="Worn through" on={effects.worn_through !== null} hint="Removes the layers it lies over, to show what is below"
        onSwitch={(on) => put(on ? "worn through" : "not worn through", { worn_through: on ? 0.3 : null })}>
        {effects.worn_through !== null && (
          <Fine label="Removed" value={effects.worn_through} usual={0.3} onMove={(worn_through) => show({ worn_through })} onKeep={(worn_through) => put("worn through", { worn_through })} onDrop={drop} />
        )}
      </Effect>
    </section>
  );
}

/** What it does in numbers, and why it does not go deeper. */
function Readout({ wear }: { wear: Wear }) {
  const recipe = useSite((s) => s.shown);
  const ready = useReady(recipe?.ground);
  const judged = recipe && ready ? [recipe.ground, recipe.layers, recipe.wears, recipe.marks, wear.id] : null;
  const key = useWhileStill(judged && JSON.stringify(judged));
  const { value, current, trouble } = useLatest<{ of: string; told: Told }>(key, async () => {
    const now = useSite.getState().shown;
    const at = now?.wears.findIndex((one) => one.id === wear.id) ?? -1;
    if (!now || at < 0) throw new Error("the wear is gone");
    return { of: wear.id, told: await api.told(now, at) };
  });
  const told = value?.of === wear.id ? value.told : null;
  return (
    <>
      <p className={`figures min-h-8 text-xs ${current ? "" : "text-quiet"}`} data-told title="The cover with it against the cover without it, on the ground that it changes">
        {trouble ?? (told ? told.sentence : "measuring what it does…")}
      </p>
      {told?.limited && <p className="text-xs text-warn">{told.limited}.</p>}
    </>
  );
}

function Effect({ name, on, hint, onSwitch, children }: { name: string; on: boolean; hint?: string; onSwitch: (on: boolean) => void; children: ReactNode }) {
  return (
    <div className="mt-1.5 border-t border-rule pt-1">
      <label className="flex items-center gap-1.5 font-medium" title={hint}>
        <input type="checkbox" aria-label={name} className="accent-ink" checked={on} onChange={(event) => onSwitch(event.target.checked)} />
        {name}
      </label>
      {children}
    </div>
  );
}

interface FineProps {
  label: string;
  value: number;
  usual: number;
  hint?: string;
  onMove: (v: number) => void;
  onKeep: (v: number) => void;
  onDrop: () => void;
}

/** A strength from 0 to 1 whose first tenth of the way is the first hundredth. */
function Fine({ hint, ...props }: FineProps) {
  return <Track {...props} unit="" least={0} most={1} step={0.0001} digits={props.value < 0.1 ? 4 : 3} perPixel={0.001} fine hint={hint ?? "The first tenth of the way is the first hundredth; or type the number"} />;
}

function Choice<T extends string>({ label, value, choices, onChoose }: { label: string; value: T; choices: Record<T, string>; onChoose: (value: T) => void }) {
  return (
    <label className="grid h-[25px] grid-cols-[76px_1fr] items-center gap-2">
      <span>{label}</span>
      <select aria-label={label} className="field min-w-0 py-0" title={choices[value]} value={value}
        onChange={(event) => {
          const found = (Object.keys(choices) as T[]).find((one) => one === event.target.value);
          if (found) onChoose(found);
        }}>
        {(Object.keys(choices) as T[]).map((one) => <option key={one} value={one} title={choices[one]}>{one}</option>)}
      </select>
    </label>
  );
}

interface PartProps<T> {
  show: (next: T) => void;
  put: (what: string, next: T) => void;
  drop: () => void;
}

function BlendPart({ blend, what, gloss, show, put, drop }: PartProps<Blend> & { blend: Blend; what: string; gloss: boolean }) {
  const { towards } = blend;
  // gloss is only another way to read it: roughness is what is stored
  const read = (v: number) => Number((gloss ? 1 - v : v).toFixed(4));
  return (
    <>
      <Choice label="Mode" value={blend.mode} choices={MODES} onChoose={(mode) => put(`${what}, ${mode}`, { ...blend, mode })} />
      <Fine label="Strength" value={blend.strength} usual={0.15} onMove={(strength) => show({ ...blend, strength })} onKeep={(strength) => put(`strength of ${what}`, { ...blend, strength })} onDrop={drop} />
      <Segments label={`By what, ${what}`} value={towards === null ? "own" : "one"}
        choices={[{ value: "own", label: "Its values", hint: "The overlay's own numbers are blended in" }, { value: "one", label: "One value", hint: "One number is blended in where the overlay lies" }]}
        onChoose={(way) => put(`${what} by ${way === "own" ? "its values" : "one value"}`, { ...blend, towards: way === "own" ? null : 0.4 })} />
      {towards !== null && (
        <Track label="Towards" value={read(towards)} unit="" least={0} most={1} step={0.01} usual={0.4} digits={2} hint={gloss ? "Gloss: 1 is a mirror; stored as roughness" : "Roughness: 0 is a mirror"}
          onMove={(v) => show({ ...blend, towards: read(v) })} onKeep={(v) => put(`${what} towards a value`, { ...blend, towards: read(v) })} onDrop={drop} />
      )}
    </>
  );
}

function ColourPart({ colour, show, put, drop }: PartProps<Colouring> & { colour: Colouring }) {
  return (
    <>
      <Choice label="Mode" value={colour.mode} choices={TINTINGS} onChoose={(mode) => put(`colour, ${mode}`, { ...colour, mode })} />
      <label className="grid h-[25px] grid-cols-[76px_1fr] items-center gap-2">
        <span>Colour</span>
        <span className="flex items-center gap-2">
          <input type="color" aria-label="Colour of the wear" className="h-5 w-10 border border-ink bg-raised p-0" value={colour.colour}
            onInput={(event) => show({ ...colour, colour: event.currentTarget.value })} onBlur={(event) => put("colour", { ...colour, colour: event.target.value })} />
          <span className="figures text-xs text-quiet">{colour.colour}</span>
        </span>
      </label>
      <Fine label="Strength" value={colour.strength} usual={0.25} onMove={(strength) => show({ ...colour, strength })} onKeep={(strength) => put("strength of colour", { ...colour, strength })} onDrop={drop} />
    </>
  );
}

function ReliefPart({ relief, show, put, drop }: PartProps<Relief> & { relief: Relief }) {
  return (
    <>
      <Segments label="Way of the relief" value={relief.way}
        choices={[{ value: "carve", label: "Carve", hint: "Cuts into the surface" }, { value: "raise", label: "Raise", hint: "Stands on it" }]}
        onChoose={(way) => put(way, { ...relief, way })} />
      <Track label={relief.way === "carve" ? "Depth" : "Height"} value={relief.depth_mm} unit="mm" least={0} most={30} step={0.001} usual={0.2} digits={relief.depth_mm < 0.1 ? 3 : 2} perPixel={0.02} fine
        hint="Along the normal; no more than the relief of what it lies over" onMove={(depth_mm) => show({ ...relief, depth_mm })} onKeep={(depth_mm) => put(`${relief.way} ${depth_mm} mm`, { ...relief, depth_mm })} onDrop={drop} />
    </>
  );
}
