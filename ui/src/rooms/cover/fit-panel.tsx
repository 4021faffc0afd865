/** How the selected layer lies: its size, its projection, what hides its repeats, its near detail and its relief. */

import { Tabs } from "radix-ui";
import { useEffect, useState } from "react";
import * as api from "../../api/client";
import * as stock from "../../api/stock";
import type { SetLine } from "../../api/stock";
import type { Fit, Layer, NearDetail, Repeats } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { useLatest } from "../../parts/use-latest";
import { inLayer, useSite } from "../../state/site";
import { useWhileStill } from "../../state/still";
import { useTools } from "../../state/tools";
import { newFit } from "./new-layer";
import { ReliefPanel } from "./relief-panel";
import { useTracks } from "./use-tracks";
import type { LayerFacts } from "./use-facts";

const TAB = "heading border-b-2 border-transparent pb-0.5 data-[state=active]:border-ink data-[state=inactive]:font-normal";

export function FitPanel({ layer, index, facts }: { layer: Layer; index: number; facts: LayerFacts | null }) {
  return (
    <Tabs.Root defaultValue="fit" className="flex min-h-0 flex-col border-r border-rule px-3.5 pt-2">
      <Tabs.List aria-label="Fit and relief" className="mb-1 flex gap-4">
        <Tabs.Trigger value="fit" className={TAB}>Fit</Tabs.Trigger>
        <Tabs.Trigger value="relief" className={TAB}>Relief</Tabs.Trigger>
      </Tabs.List>
      <Tabs.Content value="fit" className="min-h-0 flex-1 overflow-y-auto pb-2" tabIndex={-1}>
        <section aria-label="Fit">
          <SizePart layer={layer} facts={facts} />
          <ProjectionPart layer={layer} />
          <RepeatsPart layer={layer} index={index} />
          <PlacePart layer={layer} />
          <DetailPart layer={layer} />
        </section>
      </Tabs.Content>
      <Tabs.Content value="relief" className="min-h-0 flex-1 overflow-y-auto pb-2" tabIndex={-1}>
        <section aria-label="Relief"><ReliefPanel layer={layer} /></section>
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** A change of a layer's fit, kept under a name. */
export function useFit(layer: Layer) {
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<Fit>) => inLayer(layer.id, (one) => ({ ...one, fit: { ...one.fit, ...part } }));
  return {
    show: (part: Partial<Fit>) => preview(change(part)),
    keep: (what: string, part: Partial<Fit>) => keep(`${layer.name}: ${what}`, change(part)),
    drop,
  };
}

/** Texels a pixel of Near: fewer than the first look soft, more than the second are wasted. */
const TOO_COARSE = 0.6;
const TOO_FINE = 6;

function SizePart({ layer, facts }: { layer: Layer; facts: LayerFacts | null }) {
  const track = useTracks<"fit">(layer, "fit");
  const fit = useFit(layer);
  const mmPerPixel = useSite((s) => s.nearMmPerPixel);
  const { tile_m, tile_down_m, mirror } = layer.fit;
  const density = facts?.density ?? 0;
  const wanted = mmPerPixel > 0 ? 1000 / mmPerPixel : 0;
  const verdict = density < wanted * TOO_COARSE ? "too coarse for Near" : density > wanted * TOO_FINE ? "finer than Near shows" : "enough for Near";
  return (
    <>
      {track({ field: "tile_m", label: tile_down_m === null ? "Tile" : "Tile across", unit: "m", least: 0.05, most: 200, step: 0.05, usual: 2, digits: 2, decades: true, perPixel: 0.02, hint: "Metres per repeat, for all maps of the set" })}
      {tile_down_m !== null && track({ field: "tile_down_m", label: "Tile down", unit: "m", least: 0.05, most: 200, step: 0.05, usual: tile_m, digits: 2, decades: true, perPixel: 0.02, hint: "Metres per repeat down the texture" })}
      {track({ field: "turn_deg", label: "Turn", unit: "°", least: -180, most: 180, step: 1, usual: 0, hint: "Counter-clockwise, facing the ground" })}
      <p className="figures text-xs text-quiet" title="Pixels of the set for a metre of ground, and the size of set that would do where Near shows it nearest">
        {facts && wanted > 0 ? `${shown(density, 0)} px/m · ${verdict} · ${facts.enough} px would do` : "measuring…"}
      </p>
      <div className="mt-0.5 mb-1 flex flex-wrap gap-x-3 text-xs">
        <label className="flex items-center gap-1">
          <input type="checkbox" aria-label="Both ways alike" className="accent-ink" checked={tile_down_m === null}
            onChange={(event) => fit.keep(event.target.checked ? "one tile size" : "tile sizes apart", { tile_down_m: event.target.checked ? null : tile_m })} />
          both ways alike
        </label>
        <label className="flex items-center gap-1">
          <input type="checkbox" aria-label="Mirrored" className="accent-ink" checked={mirror} onChange={(event) => fit.keep("mirror", { mirror: event.target.checked })} />
          mirrored
        </label>
      </div>
    </>
  );
}

function ProjectionPart({ layer }: { layer: Layer }) {
  const track = useTracks<"fit">(layer, "fit");
  const fit = useFit(layer);
  const { projection, steep_set } = layer.fit;
  return (
    <div className="mt-1">
      <Segments label="Projection" value={projection}
        choices={[
          { value: "above", label: "Above", hint: "Straight down: for flat ground; it smears where the ground is steep" },
          { value: "triplanar", label: "Triplanar", hint: "On three planes, each where the ground faces it" },
          { value: "downhill", label: "Downhill", hint: "Down the texture is down the slope: for scree and runs" },
          { value: "side", label: "Side", hint: "From one side, for a wall" },
        ]}
        onChoose={(next) => fit.keep(`projected ${next}`, { projection: next })} />
      {projection === "triplanar" && (
        <>
          {track({ field: "plane_edge", label: "Plane edge", unit: "", least: 2, most: 64, step: 1, usual: 8, digits: 0, decades: true, hint: "How sharply planes meet: low blends over more ground" })}
          {track({ field: "steep_turn_east_deg", label: "Turn E, W", unit: "°", least: -180, most: 180, step: 1, usual: 0, hint: "More turn on planes that face east or west" })}
          {track({ field: "steep_turn_north_deg", label: "Turn N, S", unit: "°", least: -180, most: 180, step: 1, usual: 0, hint: "More turn on planes that face north or south" })}
          <SetChoice label="Steep planes" own="the same set" value={steep_set} onChoose={(set, title) => fit.keep(`steep planes of ${title}`, { steep_set: set })} />
        </>
      )}
      {projection === "side" && track({ field: "side_deg", label: "Faces", unit: "°", least: 0, most: 360, step: 1, usual: 180, hint: "Compass direction that the wall faces" })}
    </div>
  );
}

function RepeatsPart({ layer, index }: { layer: Layer; index: number }) {
  const fit = useFit(layer);
  const { repeats } = layer.fit;
  const part = (change: Partial<Repeats>) => ({ repeats: { ...repeats, ...change } });
  const { tile_m, tile_down_m } = layer.fit;
  const judged = [layer.id, layer.set, tile_m, tile_down_m, repeats, layer.look.variation_offset, layer.look.variation_size_m];
  const key = useWhileStill(index < 0 ? null : JSON.stringify(judged));
  const { value } = useLatest(key, async () => {
    const { shown: recipe, selected } = useSite.getState();
    const at = recipe?.layers.findIndex((one) => one.id === selected) ?? -1;
    if (!recipe || at < 0) throw new Error("the layer is gone");
    return { of: selected, found: await api.repetition(recipe, at) };
  });
  // what was measured of another layer says nothing of this one
  const found = value?.of === layer.id ? value.found : null;
  return (
    <div className="mt-2">
      <p className="flex justify-between text-xs"><span>Against repeats</span></p>
      <Segments label="Against repeats" value={repeats.kind}
        choices={[
          { value: "none", label: "Off", hint: "Tile by tile as it is" },
          { value: "shift", label: "Shift", hint: "Patches are shifted: directions stay, as bedded rock needs" },
          { value: "turn", label: "Turn", hint: "Patches are shifted and turned: for gravel, grass, mud" },
          { value: "second", label: "2nd scale", hint: "A larger copy is mixed in from afar" },
        ]}
        onChoose={(kind) => fit.keep(`against repeats: ${kind}`, part({ kind }))} />
      {repeats.kind !== "none" && (
        <Track label="Strength" value={Math.round(repeats.strength * 100)} unit="%" least={0} most={100} step={1} usual={100} hint="Share of patches that are moved, or of the larger copy"
          onMove={(v) => fit.show(part({ strength: v / 100 }))} onKeep={(v) => fit.keep("strength against repeats", part({ strength: v / 100 }))} onDrop={fit.drop} />
      )}
      {repeats.kind === "second" && (
        <Track label="Larger by" value={repeats.second_scale} unit="×" least={2} most={50} step={0.1} usual={5.3} digits={1} decades hint="The larger copy's tile, in tiles"
          onMove={(v) => fit.show(part({ second_scale: v }))} onKeep={(v) => fit.keep("scale of the larger copy", part({ second_scale: v }))} onDrop={fit.drop} />
      )}
      <p className="figures mt-0.5 text-xs text-quiet" data-repetition title="How much of the tile the eye finds again: 0 none, 1 all of it; as the set is, and as it lies">
        {found ? `repeat ${shown(found.farBefore, 2)} → ${shown(found.farAfter, 2)} far, ${shown(found.nearBefore, 2)} → ${shown(found.nearAfter, 2)} nearer` : "measuring repeats…"}
      </p>
    </div>
  );
}

function PlacePart({ layer }: { layer: Layer }) {
  const track = useTracks<"fit">(layer, "fit");
  const fit = useFit(layer);
  const tool = useTools((s) => s.tool);
  const steep = layer.fit.projection === "triplanar" || layer.fit.projection === "side";
  const { say } = useSite.getState();
  return (
    <div className="mt-2">
      {track({ field: "offset_east_m", label: "East", unit: "m", least: -20, most: 20, step: 0.01, usual: 0, digits: 2, perPixel: 0.02, hint: "Offset eastwards" })}
      {track({ field: "offset_north_m", label: "North", unit: "m", least: -20, most: 20, step: 0.01, usual: 0, digits: 2, perPixel: 0.02, hint: "Offset northwards" })}
      {steep && track({ field: "offset_up_m", label: "Up", unit: "m", least: -20, most: 20, step: 0.01, usual: 0, digits: 2, perPixel: 0.02, hint: "Offset up the steep planes" })}
      <div className="mt-1 flex gap-2">
        <button type="button" className="key flex-1 px-1" aria-pressed={tool === "fit"} title="Drag the texture where it lies, in any picture; with Shift turn it (F)"
          onClick={() => useTools.getState().take(tool === "fit" ? "turn" : "fit")}>
          {tool === "fit" ? "Let go" : "Move on ground"}
        </button>
        <button type="button" className="key flex-1 px-1" title="Size, turn, place and relief as the set itself has them"
          onClick={() => {
            stock.one(layer.set).then(({ description }) => {
              const { tile_m, tile_down_m, turn_deg, mirror, offset_east_m, offset_north_m, offset_up_m, relief_m } = newFit(description.tile_m, description.relief_m);
              fit.keep("the set's own size", { tile_m, tile_down_m, turn_deg, mirror, offset_east_m, offset_north_m, offset_up_m, relief_m });
            }, (error: unknown) => say(String(error)));
          }}>
          Set's own size
        </button>
      </div>
    </div>
  );
}

function DetailPart({ layer }: { layer: Layer }) {
  const fit = useFit(layer);
  const { detail, tile_m } = layer.fit;
  const begin: NearDetail = { set: null, tile_m: Number((tile_m / 5).toFixed(2)), strength: 0.5, relief_m: Number((tile_m / 400).toFixed(4)) };
  const number = (field: "tile_m" | "strength" | "relief_m", label: string, unit: string, least: number, most: number, step: number, usual: number, digits: number, hint: string) =>
    detail && (
      <Track key={field} label={label} value={detail[field]} unit={unit} least={least} most={most} step={step} usual={usual} digits={digits} decades={field === "tile_m"} hint={hint}
        onMove={(v) => fit.show({ detail: { ...detail, [field]: v } })} onKeep={(v) => fit.keep(`near detail, ${label.toLowerCase()}`, { detail: { ...detail, [field]: v } })} onDrop={fit.drop} />
    );
  return (
    <div className="mt-2">
      <label className="flex items-center gap-1.5 text-xs" title="A finer set that comes in as one gets close, and goes before it would flicker">
        <input type="checkbox" aria-label="Near detail" className="accent-ink" checked={detail !== null}
          onChange={(event) => fit.keep(event.target.checked ? "near detail" : "no near detail", { detail: event.target.checked ? begin : null })} />
        Near detail
      </label>
      {detail && (
        <>
          <SetChoice label="Detail set" own="its own set" value={detail.set} onChoose={(set, title) => fit.keep(`near detail of ${title}`, { detail: { ...detail, set } })} />
          {number("tile_m", "Finer tile", "m", 0.02, 20, 0.01, begin.tile_m, 2, "Metres per repeat of the near detail")}
          {number("strength", "Amount", "", 0, 1, 0.01, 0.5, 2, "How far its colour, roughness and relief are added")}
          {number("relief_m", "Its relief", "m", 0, Math.min(detail.tile_m, 0.2), 0.0005, begin.relief_m, 4, "Metres from the lowest to the highest of its height")}
        </>
      )}
    </div>
  );
}

/** A choice of one set of the stock, or the layer's own. */
function SetChoice({ label, own, value, onChoose }: { label: string; own: string; value: string | null; onChoose: (set: string | null, title: string) => void }) {
  const [sets, setSets] = useState<SetLine[]>([]);
  useEffect(() => {
    let gone = false;
    stock.sets().then((found) => !gone && setSets(found), () => undefined);
    return () => {
      gone = true;
    };
  }, []);
  return (
    <label className="grid h-[27px] grid-cols-[76px_1fr] items-center gap-2">
      <span>{label}</span>
      <select aria-label={label} className="field min-w-0 py-0" value={value ?? ""} onChange={(event) => onChoose(event.target.value || null, event.target.selectedOptions[0]?.text ?? own)}>
        <option value="">{own}</option>
        {sets.map((set) => <option key={set.name} value={set.name}>{set.title}</option>)}
      </select>
    </label>
  );
}
