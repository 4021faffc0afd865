/** What covers a thing: its own material below, layers over it, each opened on the bench by a press. */

import { CATALOGUE } from "../../../generated/catalogue";
import { GuideLink } from "../../../guide/guide-link";
import * as stock from "../../../api/stock";
import type { Layer, Thing } from "../../../generated/recipe";
import { newId } from "../../../parts/new-id";
import { MoreMenu } from "../../../parts/more-menu";
import { Segments } from "../../../parts/segments";
import { inLayer, inThing, useSite } from "../../../state/site";
import { LayALayer } from "../../cover/lay-a-layer";
import { layOnThing } from "./set-things";

const AXES: readonly { value: Thing["cover"]["axes"]; label: string; hint: string }[] = [
  { value: "thing", label: "Its own", hint: "Textures turn with the thing" },
  { value: "world", label: "The world's", hint: "Textures stay where they are while the thing turns" },
  { value: "uv", label: "Its texture coordinates", hint: "Laid over the coordinates that the model came with" },
];

const inCover = (thing: Thing, change: (layers: Layer[]) => Layer[]) =>
  inThing(thing.id, (one) => ({ ...one, cover: { ...one.cover, layers: change(one.cover.layers) } }));

export function CoverList({ thing, sizeM }: { thing: Thing; sizeM: number }) {
  const { keep, select } = useSite.getState();
  const used = useSite((s) => s.shown?.set_things.filter((one) => one.thing === thing.id).length ?? 0);
  const strewn = useSite((s) => s.shown?.strews.some((one) => one.kinds.some((kind) => kind.thing === thing.id)));
  const { layers, axes } = thing.cover;
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
      <ol className="max-w-[420px] border-b border-ink" aria-label="Layers on it, the highest first">
        {layers
          .map((layer, index) => ({ layer, index }))
          .toReversed()
          .map(({ layer, index }) => (
            <li
              key={layer.id}
              className={`flex h-9 items-center border border-b-0 border-ink bg-raised pr-1 ${layer.on ? "" : "opacity-55"}`}
            >
              <img
                src={stock.swatchUrl(layer.set)}
                alt=""
                className="h-full w-14 shrink-0 border-r border-ink object-cover"
              />
              <button
                type="button"
                className="h-full min-w-0 flex-1 truncate px-2 text-left font-semibold"
                title="Its rule, fit and look"
                onClick={() => select(layer.id)}
              >
                {layer.name}
              </button>
              <MoreMenu
                name={layer.name}
                width={160}
                actions={[
                  [
                    layer.on ? "Hide" : "Show",
                    () =>
                      keep(
                        `${layer.on ? "hid" : "showed"} ${layer.name}`,
                        inLayer(layer.id, (one) => ({ ...one, on: !one.on })),
                      ),
                  ],
                  ...(index < layers.length - 1
                    ? ([
                        [
                          "Move up",
                          () =>
                            keep(
                              `moved ${layer.name}`,
                              inCover(thing, (all) => swapped(all, index)),
                            ),
                        ],
                      ] as [string, () => void][])
                    : []),
                  ...(index > 0
                    ? ([
                        [
                          "Move down",
                          () =>
                            keep(
                              `moved ${layer.name}`,
                              inCover(thing, (all) => swapped(all, index - 1)),
                            ),
                        ],
                      ] as [string, () => void][])
                    : []),
                  [
                    "Duplicate",
                    () =>
                      keep(
                        `duplicated ${layer.name}`,
                        inCover(thing, (all) => all.toSpliced(index + 1, 0, { ...layer, id: newId() })),
                      ),
                  ],
                  [
                    "Remove",
                    () =>
                      keep(
                        `removed ${layer.name}`,
                        inCover(thing, (all) => all.filter((one) => one.id !== layer.id)),
                      ),
                  ],
                ]}
              />
            </li>
          ))}
        <li className="flex h-7 items-center border border-b-0 border-dashed border-ink px-2 text-quiet">
          its own material
        </li>
      </ol>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {layers.length < CATALOGUE.most.onThing && (
          <LayALayer
            on={(set) => {
              layOnThing(set, thing.id, sizeM);
            }}
          />
        )}
        {layers.length > 0 && (
          <Segments
            label="Whose axes textures are laid in"
            value={axes}
            choices={AXES.filter((one) => one.value !== "uv" || brought)}
            onChoose={(next) =>
              keep(
                `${thing.name}: textures in other axes`,
                inThing(thing.id, (one) => ({ ...one, cover: { ...one.cover, axes: next } })),
              )
            }
          />
        )}
      </div>
    </section>
  );
}

/** The same layers with one and the one above it changed over. */
function swapped(layers: Layer[], lower: number): Layer[] {
  const [a, b] = [layers[lower], layers[lower + 1]];
  return a && b ? layers.with(lower, b).with(lower + 1, a) : layers;
}
