/** What can be done with one layer: its name, its place, copies, groups, taking it away. */

import { useState } from "react";
import * as api from "../../api/client";
import type { Layer } from "../../generated/recipe";
import { Panel } from "../../parts/panel";
import { inLayer, useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { grouped, newId } from "./new-layer";
import { withoutLayer } from "./wear/wear-order";

export function NameField({ layer, onDone }: { layer: Layer; onDone: () => void }) {
  const [name, setName] = useState(layer.name);
  const { through } = useSite.getState();
  function take() {
    const plain = name.trim().slice(0, 80);
    if (plain && plain !== layer.name)
      through(`named ${plain}`, (state) => api.namePart(state.id, state.revision, layer.id, plain));
    onDone();
  }
  return (
    <input
      autoFocus
      aria-label="Name of the layer"
      className="field min-w-0 font-semibold"
      value={name}
      onChange={(event) => setName(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Enter") take();
        if (event.key === "Escape") onDone();
        event.stopPropagation();
      }}
    />
  );
}

export function LayerMenu({ layer, index, onName }: { layer: Layer; index: number; onName: () => void }) {
  const [open, setOpen] = useState(false);
  const { keep, select } = useSite.getState();
  const alone = useTools((s) => s.solo === layer.id);
  const groups = useSite((s) => s.shown?.layers ?? [])
    .map((one) => one.group)
    .filter((one, k, all) => one !== "" && all.indexOf(one) === k);
  const [group, setGroup] = useState(layer.group);
  function putInGroup(name: string) {
    const plain = name.trim().slice(0, 80);
    setOpen(false);
    if (plain !== layer.group)
      keep(plain ? `${layer.name} into the group ${plain}` : `${layer.name} out of its group`, (recipe) =>
        grouped(recipe, layer.id, plain),
      );
  }
  const actions: readonly [string, () => void][] = [
    [
      layer.on ? "Hide" : "Show",
      () =>
        keep(
          `${layer.on ? "hid" : "showed"} ${layer.name}`,
          inLayer(layer.id, (one) => ({ ...one, on: !one.on })),
        ),
    ],
    [alone ? "Show with the others" : "Show alone", () => useTools.setState({ solo: alone ? null : layer.id })],
    ["Name it", onName],
    [
      "Duplicate",
      () => {
        const copy = { ...layer, id: newId(), name: `${layer.name.slice(0, 72)}, copy` };
        keep(`duplicated ${layer.name}`, (recipe) => ({
          ...recipe,
          layers: recipe.layers.toSpliced(index + 1, 0, copy),
        }));
        select(copy.id);
      },
    ],
    ["Remove", () => keep(`removed ${layer.name}`, (recipe) => withoutLayer(recipe, layer.id))],
  ];
  return (
    <div className="absolute top-1 right-2">
      <Panel
        title={layer.name}
        width={172}
        side="right"
        open={open}
        onOpen={setOpen}
        trigger={
          <button
            type="button"
            className="figures bg-raised px-[6px] text-xs leading-[18px] font-medium"
            aria-label={`More for ${layer.name}`}
          >
            More
          </button>
        }
      >
        <div className="grid gap-1">
          {actions.map(([label, act]) => (
            <button
              key={label}
              type="button"
              className="key text-left"
              onClick={() => {
                setOpen(false);
                act();
              }}
            >
              {label}
            </button>
          ))}
          <form
            className="mt-1 grid gap-1 border-t border-rule pt-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              putInGroup(group);
            }}
          >
            <label className="text-quiet" htmlFor="layer-group">
              Group
            </label>
            <input
              id="layer-group"
              className="field"
              list="groups"
              value={group}
              maxLength={80}
              placeholder="no group"
              onChange={(event) => setGroup(event.target.value)}
              onKeyDown={(event) => event.stopPropagation()}
            />
            <datalist id="groups">
              {groups.map((one) => (
                <option key={one} value={one} />
              ))}
            </datalist>
            <button type="submit" className="key">
              Put in the group
            </button>
          </form>
        </div>
      </Panel>
    </div>
  );
}
