/** What covers a thing: its own material below, layers and wear over it, each opened on the bench by a press. */

import { CATALOGUE } from "../../../generated/catalogue";
import { GuideLink } from "../../../guide/guide-link";
import * as stock from "../../../api/stock";
import type { Layer, Thing, Wear } from "../../../generated/recipe";
import { newId } from "../../../parts/new-id";
import { MoreMenu } from "../../../parts/more-menu";
import { Segments } from "../../../parts/segments";
import type { ReactNode } from "react";
import { inLayer, inThing, inWear, useSite } from "../../../state/site";
import { LayALayer } from "../../cover/lay-a-layer";
import { AddWear } from "../../cover/wear/add-wear";
import { OverlayPicture } from "../../cover/wear/overlay-picture";
import { columnOf, wearsOn, wearsWithout, withShifted } from "../../cover/wear/wear-order";
import { layOnThing } from "./set-things";

const AXES: readonly { value: Thing["cover"]["axes"]; label: string; hint: string }[] = [
  { value: "thing", label: "Its own", hint: "Textures turn with the thing" },
  { value: "world", label: "The world's", hint: "Textures stay where they are while the thing turns" },
  { value: "uv", label: "Its texture coordinates", hint: "Laid over the coordinates that the model came with" },
];

const inCover = (thing: Thing, change: (of: Thing) => Partial<Thing["cover"]>) =>
  inThing(thing.id, (one) => ({ ...one, cover: { ...one.cover, ...change(one) } }));

export function CoverList({ thing, sizeM }: { thing: Thing; sizeM: number }) {
  const { keep } = useSite.getState();
  const used = useSite((s) => s.shown?.set_things.filter((one) => one.thing === thing.id).length ?? 0);
  const strewn = useSite((s) => s.shown?.strews.some((one) => one.kinds.some((kind) => kind.thing === thing.id)));
  const { layers, wears, axes } = thing.cover;
  const column = columnOf(thing);
  const brought = thing.source.kind === "brought";
  return (
    <section aria-label={`Cover of ${thing.name}`} className="min-w-0 overflow-y-auto px-3.5 py-2">
      <h2 className="heading mb-1">
        Cover of {thing.name}
        <GuideLink at="things#covered" about="covers of things" />
        {(used > 1 || strewn) && (
          <span className="ml-2 font-normal text-quiet normal-case">
            of {strewn ? "all that are strewn" : `all ${used}`}
          </span>
        )}
      </h2>
      <ol className="max-w-[420px] border-b border-ink" aria-label="Layers and wear on it, the highest first">
        {column.layers.toReversed().flatMap(({ id }) => {
          const layer = layers.find((one) => one.id === id);
          return [
            ...wearsOn(column, id)
              .toReversed()
              .map((wear) => <WearRow key={wear.id} thing={thing} wear={wear} />),
            layer ? (
              <LayerRow key={id} thing={thing} layer={layer} />
            ) : (
              <li key={id} className="flex h-7 items-center border border-b-0 border-dashed border-ink px-2 text-quiet">
                its own material
              </li>
            ),
          ];
        })}
      </ol>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {layers.length < CATALOGUE.most.onThing && <LayALayer on={(set) => layOnThing(set, thing.id, sizeM)} />}
        {wears.length < CATALOGUE.most.wearOnThing && <AddWear on={{ thing, sizeM }} />}
        {layers.length + wears.length > 0 && (
          <Segments
            label="Whose axes textures are laid in"
            value={axes}
            choices={AXES.filter((one) => one.value !== "uv" || brought)}
            onChoose={(next) =>
              keep(
                `${thing.name}: textures in other axes`,
                inCover(thing, () => ({ axes: next })),
              )
            }
          />
        )}
      </div>
    </section>
  );
}

interface RowProps {
  id: string;
  name: string;
  on: boolean;
  low: boolean;
  picture: ReactNode;
  hint: string;
  actions: readonly (readonly [label: string, act: () => void])[];
}

function Row({ id, name, on, low, picture, hint, actions }: RowProps) {
  return (
    <li
      className={`flex ${low ? "h-7" : "h-9"} items-center border border-b-0 border-ink bg-raised pr-1 ${on ? "" : "opacity-55"}`}
    >
      {picture}
      <button
        type="button"
        className={`h-full min-w-0 flex-1 truncate px-2 text-left ${low ? "" : "font-semibold"}`}
        title={hint}
        onClick={() => useSite.getState().select(id)}
      >
        {name}
      </button>
      <MoreMenu name={name} width={160} actions={actions} />
    </li>
  );
}

/** An action, where there is something to do it to. */
const where = (there: boolean, label: string, act: () => void): [string, () => void][] => (there ? [[label, act]] : []);

function LayerRow({ thing, layer }: { thing: Thing; layer: Layer }) {
  const { keep } = useSite.getState();
  const all = thing.cover.layers;
  const index = all.indexOf(layer);
  const move = (lower: number) =>
    keep(
      `moved ${layer.name}`,
      inCover(thing, ({ cover }) => ({ layers: swapped(cover.layers, lower) })),
    );
  return (
    <Row
      id={layer.id}
      name={layer.name}
      on={layer.on}
      low={false}
      hint="Its rule, fit and look"
      picture={
        <img
          src={stock.swatchUrl(layer.set)}
          alt=""
          className="h-full w-14 shrink-0 border-r border-ink object-cover"
        />
      }
      actions={[
        [
          layer.on ? "Hide" : "Show",
          () =>
            keep(
              `${layer.on ? "hid" : "showed"} ${layer.name}`,
              inLayer(layer.id, (one) => ({ ...one, on: !one.on })),
            ),
        ],
        ...where(index < all.length - 1, "Move up", () => move(index)),
        ...where(index > 0, "Move down", () => move(index - 1)),
        [
          "Duplicate",
          () =>
            keep(
              `duplicated ${layer.name}`,
              inCover(thing, ({ cover }) => ({
                layers: cover.layers.toSpliced(index + 1, 0, { ...layer, id: newId() }),
              })),
            ),
        ],
        [
          "Remove",
          () =>
            keep(
              `removed ${layer.name}`,
              inCover(thing, (one) => ({
                wears: wearsWithout(columnOf(one), layer.id),
                layers: one.cover.layers.filter((other) => other.id !== layer.id),
              })),
            ),
        ],
      ]}
    />
  );
}

function WearRow({ thing, wear }: { thing: Thing; wear: Wear }) {
  const { keep } = useSite.getState();
  const move = (way: 1 | -1) =>
    keep(
      `moved ${wear.name}`,
      inCover(thing, (one) => ({ wears: withShifted(columnOf(one), wear.id, way) })),
    );
  return (
    <Row
      id={wear.id}
      name={wear.name}
      on={wear.on}
      low
      hint="Where it lies, where it comes from, what it does"
      picture={
        <OverlayPicture
          source={wear.source}
          turned={wear.range.turned}
          px={96}
          className="h-full w-14 shrink-0 border-r border-ink object-cover"
        />
      }
      actions={[
        [
          wear.on ? "Hide" : "Show",
          () =>
            keep(
              `${wear.on ? "hid" : "showed"} ${wear.name}`,
              inWear(wear.id, (one) => ({ ...one, on: !one.on })),
            ),
        ],
        ["Move up", () => move(1)],
        ["Move down", () => move(-1)],
        [
          "Remove",
          () =>
            keep(
              `removed ${wear.name}`,
              inCover(thing, ({ cover }) => ({ wears: cover.wears.filter((one) => one.id !== wear.id) })),
            ),
        ],
      ]}
    />
  );
}

/** The same layers with one and the one above it changed over. */
function swapped(layers: Layer[], lower: number): Layer[] {
  const [a, b] = [layers[lower], layers[lower + 1]];
  return a && b ? layers.with(lower, b).with(lower + 1, a) : layers;
}
