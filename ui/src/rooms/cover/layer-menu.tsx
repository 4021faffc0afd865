/** What can be done with one layer: its name, its place, copies, groups, taking it away. */

import { newId } from "../../parts/new-id";
import { useState } from "react";
import type { Layer } from "../../generated/recipe";
import { MoreMenu } from "../../parts/more-menu";
import { inLayer, useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { grouped } from "./new-layer";
import { withoutLayer } from "./wear/wear-order";

export function LayerMenu({ layer, index, onName }: { layer: Layer; index: number; onName: () => void }) {
  const { keep, select } = useSite.getState();
  const alone = useTools((s) => s.solo === layer.id);
  const groups = useSite((s) => s.shown?.layers ?? [])
    .map((one) => one.group)
    .filter((one, k, all) => one !== "" && all.indexOf(one) === k);
  const [group, setGroup] = useState(layer.group);
  function putInGroup(name: string) {
    const plain = name.trim().slice(0, 80);
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
      <MoreMenu name={layer.name} width={172} actions={actions}>
        {(close) => (
          <form
            className="mt-1 grid gap-1 border-t border-rule pt-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              close();
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
        )}
      </MoreMenu>
    </div>
  );
}
