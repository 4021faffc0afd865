/** How the selected layer lies: its size, its projection, what hides its repeats, its near detail and its relief. */

import { GuideLink } from "../../guide/guide-link";
import { useAxes } from "../../state/axes";
import { numberOf } from "../../state/numbers";
import { CATALOGUE } from "../../generated/catalogue";
import { Tabs } from "radix-ui";
import * as api from "../../api/client";
import * as stock from "../../api/stock";
import type { Layer, NearDetail } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { Track } from "../../parts/track";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";
import { useWhileStill } from "../../state/still";
import { ofLayer } from "./lie";
import { create } from "zustand";
import { Folds } from "../../parts/folds";
import { PlaceTracks, ProjectionTracks, RepeatsTracks, SizeTracks } from "./lie-parts";
import { newFit } from "./new-layer";
import { ReliefPanel } from "./relief-panel";
import { SetChoice } from "./set-choice";
import { useFit } from "./use-fit";
import type { LayerFacts } from "./use-facts";

const TAB =
  "heading border-b-2 border-transparent pb-0.5 data-[state=active]:border-ink data-[state=inactive]:font-normal";

export function FitPanel({ layer, index, facts }: { layer: Layer; index: number; facts: LayerFacts | null }) {
  return (
    <Tabs.Root defaultValue="fit" className="flex min-h-0 flex-col border-r border-rule px-3.5 pt-2">
      <div className="flex items-start gap-2">
        <Tabs.List aria-label="Fit and relief" className="flex gap-4">
          <Tabs.Trigger value="fit" className={TAB}>
            Fit
          </Tabs.Trigger>
          <Tabs.Trigger value="relief" className={TAB}>
            Relief
          </Tabs.Trigger>
        </Tabs.List>
        <GuideLink at="fit" about="scale, projection and relief" />
      </div>
      <Tabs.Content value="fit" className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        <section aria-label="Fit">
          <FitFolds layer={layer} index={index} facts={facts} />
        </section>
      </Tabs.Content>
      <Tabs.Content value="relief" className="min-h-0 flex-1 overflow-y-auto pb-2" tabIndex={-1}>
        <section aria-label="Relief">
          <ReliefPanel layer={layer} />
        </section>
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** Which group of the fit is open: stays while other layers are selected. */
const useOpen = create<{ open: string }>(() => ({ open: "size" }));

const AGAINST = { none: "off", shift: "shifted", turn: "turned", second: "a larger copy" } as const;

function FitFolds({ layer, index, facts }: { layer: Layer; index: number; facts: LayerFacts | null }) {
  const open = useOpen((s) => s.open);
  const axes = useAxes();
  const { fit } = layer;
  const moved = (
    [
      [axes.east, fit.offset_east_m],
      [axes.north, fit.offset_north_m],
      [axes.up, fit.offset_up_m],
    ] as const
  ).filter(([, by]) => by !== 0);
  const size = `${shown(fit.tile_m, 2)}${fit.tile_down_m === null ? "" : ` × ${shown(fit.tile_down_m, 2)}`} m`;
  return (
    <Folds
      open={open}
      onOpen={(name) => useOpen.setState({ open: name })}
      folds={[
        {
          name: "size",
          title: "Size",
          told: fit.turn_deg === 0 ? size : `${size}, turned ${shown(fit.turn_deg, 0)}°`,
          inside: <SizePart layer={layer} facts={facts} onGround={index >= 0} />,
        },
        { name: "projection", title: "Projection", told: fit.projection, inside: <ProjectionPart layer={layer} /> },
        {
          name: "repeats",
          title: "Against repeats",
          told: AGAINST[fit.repeats.kind],
          inside: <RepeatsPart layer={layer} index={index} />,
        },
        {
          name: "place",
          title: "Place",
          told: moved.map(([way, by]) => `${shown(by, 2)} m ${way}`).join(", ") || "as it falls",
          inside: <PlacePart layer={layer} />,
        },
        {
          name: "detail",
          title: "Near detail",
          told: fit.detail ? `${shown(fit.detail.tile_m, 2)} m` : "none",
          inside: <DetailPart layer={layer} />,
        },
      ]}
    />
  );
}

/** Texels a pixel of Near: fewer than the first look soft, more than the second are wasted. */
const TOO_COARSE = 0.6;
const TOO_FINE = 6;

function SizePart({ layer, facts, onGround }: { layer: Layer; facts: LayerFacts | null; onGround: boolean }) {
  const mmPerPixel = useSite((s) => s.nearMmPerPixel);
  const density = facts?.density ?? 0;
  const wanted = mmPerPixel > 0 ? 1000 / mmPerPixel : 0;
  const verdict =
    density < wanted * TOO_COARSE
      ? "too coarse for Near"
      : density > wanted * TOO_FINE
        ? "finer than Near shows"
        : "enough for Near";
  return (
    <SizeTracks of={ofLayer(layer)}>
      <p
        className="figures min-h-8 text-xs text-quiet"
        title="Pixels of the set for a metre of ground, and the size of set that would do where Near shows it nearest"
      >
        {!onGround
          ? ""
          : facts && wanted > 0
            ? `${shown(density, 0)} px/m · ${verdict} · ${facts.enough} px would do`
            : "measuring…"}
      </p>
    </SizeTracks>
  );
}

function ProjectionPart({ layer }: { layer: Layer }) {
  const fit = useFit(layer);
  return (
    <ProjectionTracks of={ofLayer(layer)}>
      <SetChoice
        label="Steep planes"
        own="the same set"
        value={layer.fit.steep_set}
        onChoose={(set, title) => fit.keep(`steep planes of ${title}`, { steep_set: set })}
      />
    </ProjectionTracks>
  );
}

function RepeatsPart({ layer, index }: { layer: Layer; index: number }) {
  const { repeats, tile_m, tile_down_m } = layer.fit;
  const judged = [
    layer.id,
    layer.set,
    tile_m,
    tile_down_m,
    repeats,
    layer.look.variation_offset,
    layer.look.variation_size_m,
  ];
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
    <RepeatsTracks of={ofLayer(layer)}>
      <p
        className="figures mt-0.5 text-xs text-quiet"
        data-repetition
        title="How much of the tile the eye finds again: 0 none, 1 all of it; as the set is, and as it lies"
      >
        {index < 0
          ? ""
          : found
            ? `repeat ${shown(found.farBefore, 2)} → ${shown(found.farAfter, 2)} far, ${shown(found.nearBefore, 2)} → ${shown(found.nearAfter, 2)} nearer`
            : "measuring repeats…"}
      </p>
    </RepeatsTracks>
  );
}

function PlacePart({ layer }: { layer: Layer }) {
  const fit = useFit(layer);
  const { say } = useSite.getState();
  return (
    <PlaceTracks of={ofLayer(layer)}>
      <button
        type="button"
        className="key flex-1 px-1"
        title="Size, turn, place and relief as the set itself has them"
        onClick={() => {
          stock.one(layer.set).then(
            ({ description }) => {
              const { tile_m, tile_down_m, turn_deg, mirror, offset_east_m, offset_north_m, offset_up_m, relief_m } =
                newFit(description.tile_m, description.relief_m);
              fit.keep("the set's own size", {
                tile_m,
                tile_down_m,
                turn_deg,
                mirror,
                offset_east_m,
                offset_north_m,
                offset_up_m,
                relief_m,
              });
            },
            (error: unknown) => say(String(error)),
          );
        }}
      >
        Set's own size
      </button>
    </PlaceTracks>
  );
}

const DETAIL: NearDetail = CATALOGUE.detail;

function DetailPart({ layer }: { layer: Layer }) {
  const fit = useFit(layer);
  const { detail, tile_m } = layer.fit;
  // as a detail of a tile of 1 m begins, at this layer's size
  const begin: NearDetail = {
    ...DETAIL,
    tile_m: Number((DETAIL.tile_m * tile_m).toFixed(2)),
    relief_m: Number((DETAIL.relief_m * tile_m).toFixed(4)),
  };
  const number = (field: "tile_m" | "strength" | "relief_m", narrowed?: { most: number }) => {
    if (!detail) return null;
    const of = { ...numberOf("NearDetail", field), ...narrowed, usual: begin[field] };
    return (
      <Track
        key={field}
        {...of}
        value={detail[field]}
        onMove={(v) => fit.show({ detail: { ...detail, [field]: v } })}
        onKeep={(v) => fit.keep(`near detail, ${of.label.toLowerCase()}`, { detail: { ...detail, [field]: v } })}
        onDrop={fit.drop}
      />
    );
  };
  return (
    <div>
      <label
        className="flex items-center gap-1.5 text-xs"
        title="A finer set that comes in as one gets close, and goes before it would flicker"
      >
        <input
          type="checkbox"
          aria-label="Near detail"
          className="accent-ink"
          checked={detail !== null}
          onChange={(event) =>
            fit.keep(event.target.checked ? "near detail" : "no near detail", {
              detail: event.target.checked ? begin : null,
            })
          }
        />
        Near detail
      </label>
      {detail && (
        <>
          <SetChoice
            label="Detail set"
            own="its own set"
            value={detail.set}
            onChoose={(set, title) => fit.keep(`near detail of ${title}`, { detail: { ...detail, set } })}
          />
          {number("tile_m")}
          {number("strength")}
          {number("relief_m", { most: Math.min(detail.tile_m, numberOf("NearDetail", "relief_m").most) })}
        </>
      )}
    </div>
  );
}
