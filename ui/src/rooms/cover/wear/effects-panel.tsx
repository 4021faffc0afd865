/** What a wear does: to roughness, colour, relief, metallic, or down to the layer below; each with its strength. */

import { thingOf } from "../../things/set/set-things";
import { GuideLink } from "../../../guide/guide-link";
import type { ReactNode } from "react";
import { CATALOGUE } from "../../../generated/catalogue";
import { numberOf, type Spanned } from "../../../state/numbers";
import * as api from "../../../api/wear";
import type { Told } from "../../../api/wear";
import type { Blend, Colouring, Effects, ReliefEffect, Wear } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { Track } from "../../../parts/track";
import { useLatest } from "../../../parts/use-latest";
import { useReady } from "../../../state/ground";
import { inWear, useSite } from "../../../state/site";
import { useWhileStill } from "../../../state/still";
import { useTools } from "../../../state/tools";
import { GlossSwitch } from "../mode-bar";

const BEGUN: Effects = CATALOGUE.effects;

export function EffectsPanel({ wear }: { wear: Wear }) {
  const gloss = useTools((s) => s.gloss);
  const effects = wear.effects;
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<Effects>) =>
    inWear(wear.id, (one) => ({ ...one, effects: { ...one.effects, ...part } }));
  const show = (part: Partial<Effects>) => preview(change(part));
  const put = (what: string, part: Partial<Effects>) => keep(`${wear.name}: ${what}`, change(part));
  const whole = (strength: number) => inWear(wear.id, (one) => ({ ...one, strength }));
  return (
    <section aria-label="Effects" className="min-h-0 overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-0.5 flex justify-between">
        <span>
          Effects
          <GuideLink at="wear#effects" about="effects of wear" />
        </span>
        <GlossSwitch />
      </h2>
      <Readout wear={wear} />
      <Fine
        of={numberOf("WearBody", "strength")}
        value={wear.strength}
        onMove={(v) => preview(whole(v))}
        onKeep={(v) => keep(`${wear.name}: strength`, whole(v))}
        onDrop={drop}
      />
      <Effect
        name={gloss ? "Gloss" : "Roughness"}
        on={effects.roughness !== null}
        onSwitch={(on) => put(on ? "roughness" : "no roughness", { roughness: on ? BEGUN.roughness : null })}
      >
        {effects.roughness && (
          <BlendPart
            blend={effects.roughness}
            what={gloss ? "gloss" : "roughness"}
            gloss={gloss}
            show={(roughness) => show({ roughness })}
            put={(what, roughness) => put(what, { roughness })}
            drop={drop}
          />
        )}
      </Effect>
      <Effect
        name="Colour"
        on={effects.colour !== null}
        onSwitch={(on) => put(on ? "colour" : "no colour", { colour: on ? BEGUN.colour : null })}
      >
        {effects.colour && (
          <ColourPart
            colour={effects.colour}
            show={(colour) => show({ colour })}
            put={(what, colour) => put(what, { colour })}
            drop={drop}
          />
        )}
      </Effect>
      <Effect
        name="Relief"
        on={effects.relief !== null}
        onSwitch={(on) => put(on ? "relief" : "no relief", { relief: on ? BEGUN.relief : null })}
      >
        {effects.relief && (
          <ReliefPart
            relief={effects.relief}
            show={(relief) => show({ relief })}
            put={(what, relief) => put(what, { relief })}
            drop={drop}
          />
        )}
      </Effect>
      <Effect
        name="Metallic"
        on={effects.metallic !== null}
        onSwitch={(on) => put(on ? "metallic" : "no metallic", { metallic: on ? BEGUN.metallic : null })}
      >
        {effects.metallic && (
          <BlendPart
            blend={effects.metallic}
            what="metallic"
            gloss={false}
            show={(metallic) => show({ metallic })}
            put={(what, metallic) => put(what, { metallic })}
            drop={drop}
          />
        )}
      </Effect>
      <Effect
        name="Worn through"
        on={effects.worn_through !== null}
        hint="Removes the layers it lies over, to show what is below"
        onSwitch={(on) =>
          put(on ? "worn through" : "not worn through", { worn_through: on ? BEGUN.worn_through : null })
        }
      >
        {effects.worn_through !== null && (
          <Fine
            of={numberOf("Effects", "worn_through")}
            value={effects.worn_through}
            onMove={(worn_through) => show({ worn_through })}
            onKeep={(worn_through) => put("worn through", { worn_through })}
            onDrop={drop}
          />
        )}
      </Effect>
    </section>
  );
}

/** What it does in numbers, and why it does not go deeper. */
function Readout({ wear }: { wear: Wear }) {
  const recipe = useSite((s) => s.shown);
  const ready = useReady(recipe?.ground);
  const on = thingOf(recipe, wear.id);
  const over = on ? [on, recipe?.set_things] : [recipe?.layers, recipe?.wears];
  const judged = recipe && ready ? [recipe.ground, over, recipe.marks, recipe.water, wear.id] : null;
  const key = useWhileStill(judged && JSON.stringify(judged));
  const { value, current, trouble } = useLatest<{ of: string; told: Told }>(key, async () => {
    const now = useSite.getState().shown;
    const thing = thingOf(now, wear.id);
    const at = (thing?.cover ?? now)?.wears.findIndex((one) => one.id === wear.id) ?? -1;
    if (!now || at < 0) throw new Error("the wear is gone");
    return { of: wear.id, told: await api.told(now, at, thing?.id ?? null) };
  });
  const told = value?.of === wear.id ? value.told : null;
  return (
    <>
      <p
        className={`figures min-h-8 text-xs ${current ? "" : "text-quiet"}`}
        data-told
        title="The cover with it against the cover without it, where it changes it"
      >
        {trouble ?? (told ? told.sentence : "measuring what it does…")}
      </p>
      {told?.limited && <p className="text-xs text-warn">{told.limited}.</p>}
    </>
  );
}

function Effect({
  name,
  on,
  hint,
  onSwitch,
  children,
}: {
  name: string;
  on: boolean;
  hint?: string;
  onSwitch: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <div className="mt-1.5 border-t border-rule pt-1">
      <label className="flex items-center gap-1.5 font-medium" title={hint}>
        <input
          type="checkbox"
          aria-label={name}
          className="accent-ink"
          checked={on}
          onChange={(event) => onSwitch(event.target.checked)}
        />
        {name}
      </label>
      {children}
    </div>
  );
}

interface FineProps {
  of: Spanned;
  value: number;
  onMove: (v: number) => void;
  onKeep: (v: number) => void;
  onDrop: () => void;
}

/** A strength from 0 to 1 whose first tenth of the way is the first hundredth. */
function Fine({ of, ...props }: FineProps) {
  const more = "the first tenth of the way is the first hundredth; or type the number";
  return (
    <Track
      {...props}
      {...of}
      digits={props.value < 0.1 ? 4 : of.digits}
      fine
      hint={of.hint ? `${of.hint}; ${more}` : more.replace("the", "The")}
    />
  );
}

function Choice<T extends string>({
  value,
  choices,
  onChoose,
}: {
  value: T;
  choices: readonly { mode: T; hint: string }[];
  onChoose: (mode: T) => void;
}) {
  return (
    <label className="grid h-[25px] grid-cols-[76px_1fr] items-center gap-2">
      <span>Mode</span>
      <select
        aria-label="Mode"
        className="field min-w-0 py-0"
        title={choices.find((one) => one.mode === value)?.hint}
        value={value}
        onChange={(event) => {
          const found = choices.find(({ mode }) => mode === event.target.value);
          if (found) onChoose(found.mode);
        }}
      >
        {choices.map(({ mode, hint }) => (
          <option key={mode} value={mode} title={hint}>
            {mode}
          </option>
        ))}
      </select>
    </label>
  );
}

interface PartProps<T> {
  show: (next: T) => void;
  put: (what: string, next: T) => void;
  drop: () => void;
}

function BlendPart({
  blend,
  what,
  gloss,
  show,
  put,
  drop,
}: PartProps<Blend> & { blend: Blend; what: string; gloss: boolean }) {
  const { towards } = blend;
  // gloss is only another way to read it: roughness is what is stored
  const read = (v: number) => Number((gloss ? 1 - v : v).toFixed(4));
  return (
    <>
      <Choice
        value={blend.mode}
        choices={CATALOGUE.blends}
        onChoose={(mode) => put(`${what}, ${mode}`, { ...blend, mode })}
      />
      <Fine
        of={numberOf("Blend", "strength")}
        value={blend.strength}
        onMove={(strength) => show({ ...blend, strength })}
        onKeep={(strength) => put(`strength of ${what}`, { ...blend, strength })}
        onDrop={drop}
      />
      <Segments
        label={`By what, ${what}`}
        value={towards === null ? "own" : "one"}
        choices={[
          { value: "own", label: "Its values", hint: "The overlay's own numbers are blended in" },
          { value: "one", label: "One value", hint: "One number is blended in where the overlay lies" },
        ]}
        onChoose={(way) =>
          put(`${what} by ${way === "own" ? "its values" : "one value"}`, {
            ...blend,
            towards: way === "own" ? null : numberOf("Blend", "towards").usual,
          })
        }
      />
      {towards !== null && (
        <Track
          {...numberOf("Blend", "towards")}
          value={read(towards)}
          hint={gloss ? "Gloss: 1 is a mirror; stored as roughness" : "Roughness: 0 is a mirror"}
          onMove={(v) => show({ ...blend, towards: read(v) })}
          onKeep={(v) => put(`${what} towards a value`, { ...blend, towards: read(v) })}
          onDrop={drop}
        />
      )}
    </>
  );
}

function ColourPart({ colour, show, put, drop }: PartProps<Colouring> & { colour: Colouring }) {
  return (
    <>
      <Choice
        value={colour.mode}
        choices={CATALOGUE.tintings}
        onChoose={(mode) => put(`colour, ${mode}`, { ...colour, mode })}
      />
      <label className="grid h-[25px] grid-cols-[76px_1fr] items-center gap-2">
        <span>Colour</span>
        <span className="flex items-center gap-2">
          <input
            type="color"
            aria-label="Colour of the wear"
            className="h-5 w-10 border border-ink bg-raised p-0"
            value={colour.colour}
            onInput={(event) => show({ ...colour, colour: event.currentTarget.value })}
            onBlur={(event) => put("colour", { ...colour, colour: event.target.value })}
          />
          <span className="figures text-xs text-quiet">{colour.colour}</span>
        </span>
      </label>
      <Fine
        of={numberOf("Colouring", "strength")}
        value={colour.strength}
        onMove={(strength) => show({ ...colour, strength })}
        onKeep={(strength) => put("strength of colour", { ...colour, strength })}
        onDrop={drop}
      />
    </>
  );
}

function ReliefPart({ relief, show, put, drop }: PartProps<ReliefEffect> & { relief: ReliefEffect }) {
  const of = numberOf("ReliefEffect", "depth_mm");
  return (
    <>
      <Segments
        label="Way of the relief"
        value={relief.way}
        choices={[
          { value: "carve", label: "Carve", hint: "Cuts into the surface" },
          { value: "raise", label: "Raise", hint: "Stands on it" },
        ]}
        onChoose={(way) => put(way, { ...relief, way })}
      />
      <Track
        {...of}
        label={relief.way === "carve" ? of.label : "Height"}
        value={relief.depth_mm}
        digits={relief.depth_mm < 0.1 ? 3 : of.digits}
        fine
        onMove={(depth_mm) => show({ ...relief, depth_mm })}
        onKeep={(depth_mm) => put(`${relief.way} ${depth_mm} mm`, { ...relief, depth_mm })}
        onDrop={drop}
      />
    </>
  );
}
