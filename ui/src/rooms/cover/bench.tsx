/** The strip of controls for the selected layer: where it lies, how it fits, how it looks. */

import { GuideLink } from "../../guide/guide-link";
import { numberOf, percentOf, type NumbersField } from "../../state/numbers";
import { memo } from "react";
import { create } from "zustand";
import type { Edge, Layer, Look } from "../../generated/recipe";
import { Folds } from "../../parts/folds";
import { shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { inLayer, useSite } from "../../state/site";
import { FitPanel } from "./fit-panel";
import { useTools } from "../../state/tools";
import { GlossSwitch } from "./mode-bar";
import { RuleSentence } from "./rule-sentence";
import { SetChoice } from "./set-choice";
import { useTracks } from "./use-tracks";
import { WearBench } from "./wear/wear-bench";
import { WhereChart } from "./where-chart";
import { useFacts } from "./use-facts";

export function Bench() {
  const facts = useFacts();
  const layer = useSite((s) => s.shown?.layers.find((one) => one.id === s.selected));
  const index = useSite((s) => s.shown?.layers.findIndex((one) => one.id === s.selected) ?? -1);
  const wear = useSite((s) => s.shown?.wears.find((one) => one.id === s.selected));
  if (wear) return <WearBench key={wear.id} wear={wear} />;
  if (!layer) {
    return (
      <section className="h-[282px] px-4 py-3 text-quiet">
        Select a layer or a wear in the column, or lay one: its rule, fit and look are set here.
      </section>
    );
  }
  return (
    <div className="grid h-[282px] grid-cols-[minmax(0,1fr)_256px_240px]">
      <section
        aria-label="Where"
        className="grid min-w-0 grid-cols-[minmax(0,1fr)_230px] gap-4 overflow-hidden border-r border-rule px-3.5 py-2.5"
      >
        <div key={layer.id} className="min-w-0 overflow-y-auto">
          <h2 className="heading mb-1">
            Where · layer {index + 1}
            <GuideLink at="cover#where" about="where a layer lies" />
          </h2>
          <RuleSentence
            layer={layer}
            opacity={layer.opacity}
            first={index === 0}
            share={facts?.of.get(layer.id)?.share ?? null}
          />
        </div>
        <WhereChart layer={layer} />
      </section>
      <FitPart layer={layer} index={index} facts={facts?.of.get(layer.id) ?? null} />
      <LookPanel layer={layer} emits={facts?.of.get(layer.id)?.emits ?? false} />
    </div>
  );
}

/** Roughness, or the same numbers told as gloss; roughness is what is stored. */
function RoughnessPart({ layer }: { layer: Layer }) {
  const gloss = useTools((s) => s.gloss);
  const look = useTracks<"look">(layer, "look");
  const { preview, keep, drop } = useSite.getState();
  if (!gloss) {
    return (
      <>
        {look({ field: "roughness_shift", ...numberOf("Look", "roughness_shift") })}
        {look({ field: "roughness_lowest", ...numberOf("Look", "roughness_lowest") })}
        {look({ field: "roughness_highest", ...numberOf("Look", "roughness_highest") })}
      </>
    );
  }
  type Field = "roughness_shift" | "roughness_lowest" | "roughness_highest";
  const track = (field: Field, label: string, usual: number, hint: string) => {
    const turned = (v: number) => Number((field === "roughness_shift" ? -v : 1 - v).toFixed(4));
    const change = (v: number) => inLayer(layer.id, (one) => ({ ...one, look: { ...one.look, [field]: turned(v) } }));
    return (
      <Track
        key={field}
        {...numberOf("Look", field)}
        label={label}
        value={turned(layer.look[field])}
        usual={usual}
        hint={`${hint}; stored as roughness`}
        onMove={(v) => preview(change(v))}
        onKeep={(v) => keep(`${layer.name}: ${label.toLowerCase()}`, change(v))}
        onDrop={drop}
      />
    );
  };
  return (
    <>
      {track("roughness_shift", "Gloss", 0, "Added to the set's gloss")}
      {track("roughness_highest", "Gloss from", 0, "What gloss 0 becomes")}
      {track("roughness_lowest", "Gloss to", 1, "What gloss 1 becomes")}
    </>
  );
}

const COLOUR = ["hue_deg", "saturation", "brightness", "colour_lowest", "colour_highest"] as const;
const SURFACE = ["roughness_shift", "roughness_lowest", "roughness_highest", "normal_strength", "occlusion"] as const;
const VARIED = ["variation", "variation_colour", "variation_offset", "variation_size_m"] as const;

/** So that the longest group leaves room for all headings. */
const CLOSE = "*:h-[25px]";

/** What of a layer's look is not as the set has it, in few words. */
export function toldOf(look: Look, fields: readonly NumbersField<"Look">[]): string {
  const changed = fields.flatMap((field) => {
    const { label, unit, digits, usual } = numberOf("Look", field);
    const value = look[field];
    return typeof value === "boolean" || value === usual
      ? []
      : [
          `${label.replace("…", "").toLowerCase()} ${shown(value, digits)}${unit === "°" || unit === "" ? unit : ` ${unit}`}`,
        ];
  });
  return changed.join(", ") || "as usual";
}

/** Which group of the look is open: stays while other layers are selected. */
const useOpen = create<{ open: string }>(() => ({ open: "colour" }));

/** Whether two states of a layer say the same of all but where it lies: a limit that is dragged draws no other panel anew. */
function alikeButForRule(before: Layer, after: Layer): boolean {
  return (Object.keys(after) as (keyof Layer)[]).every((name) => name === "rule" || before[name] === after[name]);
}

const FitPart = memo(
  FitPanel,
  (a, b) => a.index === b.index && a.facts === b.facts && alikeButForRule(a.layer, b.layer),
);

export const LookPanel = memo(LookPlain, (a, b) => a.emits === b.emits && alikeButForRule(a.layer, b.layer));

function LookPlain({ layer, emits }: { layer: Layer; emits: boolean }) {
  const look = useTracks<"look">(layer, "look");
  const open = useOpen((s) => s.open);
  const { preview, keep, drop } = useSite.getState();
  const opacity = (value: number) => inLayer(layer.id, (one) => ({ ...one, opacity: value / 100 }));
  const hasImage = useSite((s) => s.shown?.ground.picture !== null);
  const tracks = (fields: readonly NumbersField<"Look">[]) =>
    fields.map((field) => look({ field, ...numberOf("Look", field) }));
  const coloured = hasImage ? [...COLOUR, "ground_image" as const] : COLOUR;
  return (
    <section aria-label="Look" className="overflow-y-auto px-3.5 pt-2">
      <h2 className="heading mb-1 flex justify-between">
        <span>
          Look
          <GuideLink at="cover#look" about="looks" />
        </span>
        <GlossSwitch />
      </h2>
      <Track
        {...percentOf("Layer", "opacity")}
        value={Math.round(layer.opacity * 100)}
        onMove={(value) => preview(opacity(value))}
        onKeep={(value) => keep(`${layer.name}: opacity`, opacity(value))}
        onDrop={drop}
      />
      <Folds
        open={open}
        onOpen={(name) => useOpen.setState({ open: name })}
        folds={[
          {
            name: "edge",
            title: "Edge",
            told: toldOfEdge(layer.edge),
            inside: <EdgePart layer={layer} />,
          },
          {
            name: "colour",
            title: "Colour",
            told: toldOf(layer.look, coloured),
            inside: <div className={CLOSE}>{tracks(coloured)}</div>,
          },
          {
            name: "surface",
            title: "Surface",
            told: toldOf(layer.look, SURFACE),
            inside: (
              <div className={CLOSE}>
                <RoughnessPart layer={layer} />
                {tracks(["normal_strength", "occlusion"])}
              </div>
            ),
          },
          ...(emits
            ? [
                {
                  name: "emission",
                  title: "Emission",
                  told: layer.look.emits ? `${shown(layer.look.emission_ev, 1)} EV` : "off",
                  inside: <EmissionPart layer={layer} />,
                },
              ]
            : []),
          {
            name: "variation",
            title: "Variation",
            told: toldOf(layer.look, VARIED),
            inside: <div className={CLOSE}>{tracks(VARIED)}</div>,
          },
        ]}
      />
    </section>
  );
}

/** Whether what the set sends out is seen, and how bright; offered where the set has any. */
function EmissionPart({ layer }: { layer: Layer }) {
  const look = useTracks<"look">(layer, "look");
  const { keep } = useSite.getState();
  return (
    <div className={CLOSE}>
      <label className="flex items-center gap-1.5 text-xs">
        <input
          type="checkbox"
          className="accent-ink"
          checked={layer.look.emits}
          onChange={(event) =>
            keep(
              `${layer.name}: emission ${event.target.checked ? "on" : "off"}`,
              inLayer(layer.id, (one) => ({ ...one, look: { ...one.look, emits: event.target.checked } })),
            )
          }
        />
        Sends out light
      </label>
      {layer.look.emits && look({ field: "emission_ev", ...numberOf("Look", "emission_ev") })}
    </div>
  );
}

function toldOfEdge({ kind, width_m, fingers, strip_set }: Edge): string {
  const meets = kind === "fade" ? "a fade" : `by height, ${shown(width_m, 3)} m`;
  return `${meets}${fingers > 0 ? ", fingers" : ""}${strip_set === null ? "" : ", strip"}`;
}

function EdgePart({ layer }: { layer: Layer }) {
  const edge = useTracks<"edge">(layer, "edge");
  const { keep } = useSite.getState();
  const kind: Edge["kind"] = layer.edge.kind;
  return (
    <>
      <div className="my-0.5">
        <Segments
          label="Edge"
          value={kind}
          choices={[
            { value: "fade", label: "Fade", hint: "The layers fade into each other" },
            {
              value: "height",
              label: "Edge by height",
              hint: "The higher one wins: gravel fills the cracks of the rock first",
            },
          ]}
          onChoose={(next) =>
            keep(
              `${layer.name}: edge`,
              inLayer(layer.id, (one) => ({ ...one, edge: { ...one.edge, kind: next } })),
            )
          }
        />
      </div>
      {kind === "height" && edge({ field: "width_m", ...numberOf("Edge", "width_m") })}
      {edge({ field: "fingers", ...numberOf("Edge", "fingers") })}
      {layer.edge.fingers > 0 && edge({ field: "fingers_m", ...numberOf("Edge", "fingers_m") })}
      <SetChoice
        label="Strip of"
        own="nothing"
        value={layer.edge.strip_set}
        onChoose={(set, title, tileM) =>
          keep(
            `${layer.name}: a strip of ${title} along its edge`,
            inLayer(layer.id, (one) => ({
              ...one,
              edge: { ...one.edge, strip_set: set, strip_tile_m: tileM ?? one.edge.strip_tile_m },
            })),
          )
        }
      />
      {layer.edge.strip_set !== null && (
        <>
          {edge({ field: "strip", ...numberOf("Edge", "strip") })}
          {edge({ field: "strip_tile_m", ...numberOf("Edge", "strip_tile_m") })}
        </>
      )}
    </>
  );
}
