/** The layers drawn as strata: top layer on top, thickness by the share of ground each covers. */

import { useEffect, useRef, useState } from "react";
import * as stock from "../../api/stock";
import type { SetLine } from "../../api/stock";
import type { Layer, Recipe } from "../../generated/recipe";
import { DragHandle, reordered, rowsAbove } from "../../parts/drag-handle";
import { Panel } from "../../parts/panel";
import { shown } from "../../parts/number";
import { inLayer, useSite } from "../../state/site";
import type { Facts } from "./use-facts";

const LEAST_PX = 34;
const ROOM_PX = 250;

export function percent(share: number): string {
  if (share <= 0) return "0%";
  const p = share * 100;
  return p < 0.1 ? "<0.1%" : `${shown(p, p < 10 ? 1 : 0)}%`;
}

function moved(recipe: Recipe, from: number, to: number): Recipe {
  return { ...recipe, layers: reordered(recipe.layers, from, to) };
}

const newId = () => crypto.getRandomValues(new Uint32Array(2)).reduce((text, n) => text + n.toString(36), "").slice(0, 12);

export function Column({ facts, serverMs }: { facts: Facts | null; serverMs: number }) {
  const layers = useSite((s) => s.shown?.layers ?? []);
  const list = useRef<HTMLOListElement>(null);
  const [dragged, setDragged] = useState<{ from: number; to: number } | null>(null);
  const { keep } = useSite.getState();

  /** Which place in the column, from the bottom, lies under a height on the page. */
  function placeAt(clientY: number): number {
    return Math.max(0, layers.length - 1 - Math.min(rowsAbove(list.current, clientY), layers.length - 1));
  }

  return (
    <aside className="flex min-h-0 flex-col border-r border-rule px-3 py-2.5">
      <h2 className="heading mb-1.5 flex justify-between">
        <span>Column</span>
        <span>share</span>
      </h2>
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto p-[3px]">
        {layers.length === 0 && (
          <p className="border border-dashed border-ink p-3">
            Nothing lies on this ground yet. Lay a first layer below: it will cover everything until others lie on it.
          </p>
        )}
        <ol ref={list} className="border-b border-ink">
          {layers
            .map((layer, index) => (
              <Stratum
                key={layer.id}
                layer={layer}
                index={index}
                share={facts?.of.get(layer.id)?.share ?? null}
                reason={facts?.of.get(layer.id)?.reason ?? null}
                target={dragged !== null && dragged.to === index && dragged.from !== index}
                onDrag={(y) => setDragged({ from: index, to: placeAt(y) })}
                onDrop={(done) => {
                  if (done && dragged && dragged.to !== dragged.from) {
                    keep(`moved ${layer.name}`, (recipe) => moved(recipe, dragged.from, dragged.to));
                  }
                  setDragged(null);
                }}
              />
            ))
            .reverse()}
        </ol>
        <div className="mt-2">
          <LayALayer />
        </div>
      </div>
      <div className="figures border-t border-rule pt-1.5 text-quiet">
        {layers.length} {layers.length === 1 ? "layer" : "layers"}
        <br />
        picture {serverMs} ms
      </div>
    </aside>
  );
}

interface StratumProps {
  layer: Layer;
  index: number;
  share: number | null;
  reason: string | null;
  target: boolean;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

function Stratum({ layer, index, share, reason, target, onDrag, onDrop }: StratumProps) {
  const selected = useSite((s) => s.selected === layer.id);
  const { select, keep } = useSite.getState();
  const [naming, setNaming] = useState(false);
  const height = LEAST_PX + (share ?? 0.1) * ROOM_PX;

  function shift(by: number) {
    keep(`moved ${layer.name}`, (recipe) => moved(recipe, index, index + by));
  }

  return (
    <li
      className={`relative flex touch-none border border-b-0 border-ink bg-raised select-none ${selected ? "z-10 outline-2 outline-offset-1 outline-accent" : ""} ${
        target ? "shadow-[inset_0_4px_var(--color-accent)]" : ""
      } ${layer.on ? "" : "opacity-60"}`}
      style={{ minHeight: height }}
    >
      <DragHandle
        className="grid w-[31px] place-items-center border-r border-ink text-sm"
        label={`Layer ${index + 1}, ${layer.name}${selected ? ", selected" : ""}. Alt with the arrow keys moves it.`}
        hint={`${layer.name}: drag to reorder, Alt+↑ or Alt+↓ does the same`}
        pressed={selected}
        onSelect={() => select(layer.id)}
        onShift={(way) => shift(-way)}
        onDrag={onDrag}
        onDrop={onDrop}
      >
        {index + 1}
      </DragHandle>
      <div className="relative min-w-0 flex-1" onClick={() => select(layer.id)}>
        <img src={stock.swatchUrl(layer.set)} alt="" draggable={false} className="absolute inset-0 size-full object-cover" />
        <div className="absolute inset-x-2 bottom-1 flex items-end gap-1">
          {naming ? (
            <NameField layer={layer} onDone={() => setNaming(false)} />
          ) : (
            <button
              type="button"
              className="truncate bg-raised px-[5px] leading-[19px] font-semibold"
              title="Double-click to name it"
              onClick={() => select(layer.id)}
              onDoubleClick={() => setNaming(true)}
            >
              {layer.name}
            </button>
          )}
          <span className="flex-1" />
          <span className="figures shrink-0 bg-raised px-[5px] text-xs leading-[19px] font-medium" data-share={share ?? ""}>
            {share === null ? "…" : percent(share)}
          </span>
        </div>
        {selected && <LayerMenu layer={layer} index={index} onName={() => setNaming(true)} />}
        {reason && (
          <p className="absolute inset-x-2 bottom-6 truncate bg-raised px-[5px] text-xs text-warn" title={reason}>
            {reason}
          </p>
        )}
      </div>
    </li>
  );
}

function NameField({ layer, onDone }: { layer: Layer; onDone: () => void }) {
  const [name, setName] = useState(layer.name);
  const { keep } = useSite.getState();
  function take() {
    const plain = name.trim().slice(0, 80);
    if (plain && plain !== layer.name) keep(`named ${plain}`, inLayer(layer.id, (one) => ({ ...one, name: plain })));
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

function LayerMenu({ layer, index, onName }: { layer: Layer; index: number; onName: () => void }) {
  const [open, setOpen] = useState(false);
  const { keep, select } = useSite.getState();
  const actions: readonly [string, () => void][] = [
    [layer.on ? "Hide" : "Show", () =>
      keep(`${layer.on ? "hid" : "showed"} ${layer.name}`, inLayer(layer.id, (one) => ({ ...one, on: !one.on })))],
    ["Name it", onName],
    ["Duplicate", () => {
      const copy = { ...layer, id: newId(), name: `${layer.name.slice(0, 72)}, copy` };
      keep(`duplicated ${layer.name}`, (recipe) => ({ ...recipe, layers: recipe.layers.toSpliced(index + 1, 0, copy) }));
      select(copy.id);
    }],
    ["Remove", () =>
      keep(`removed ${layer.name}`, (recipe) => ({ ...recipe, layers: recipe.layers.filter((one) => one.id !== layer.id) }))],
  ];
  return (
    <div className="absolute top-1 right-2">
      <Panel
        title={layer.name}
        width={150}
        side="right"
        open={open}
        onOpen={setOpen}
        trigger={
          <button type="button" className="figures bg-raised px-[6px] text-xs leading-[18px] font-medium" aria-label={`More for ${layer.name}`}>
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
        </div>
      </Panel>
    </div>
  );
}

function LayALayer() {
  const [open, setOpen] = useState(false);
  const [sets, setSets] = useState<SetLine[] | null>(null);
  const [text, setText] = useState("");
  const { keep, select, say } = useSite.getState();
  useEffect(() => {
    if (!open) return;
    let gone = false;
    stock.find(new URLSearchParams({ text }).toString()).then((found) => !gone && setSets(found.sets), (error: unknown) => say(String(error)));
    return () => {
      gone = true;
    };
  }, [open, text, say]);

  function lay(set: SetLine) {
    const layer: Layer = {
      id: newId(), name: set.title, set: set.name, on: true, opacity: 1,
      rule: { clauses: [], break_up: { size_m: 8, strength: 0.5, seed: 1 } },
      fit: {
        tile_m: set.tileM, turn_deg: 0, offset_east_m: 0, offset_north_m: 0,
        relief_m: Number(Math.min(set.reliefM, set.tileM).toFixed(4)),
      },
      edge: { kind: "height", width_m: 0.02 },
      look: { brightness: 1, roughness_shift: 0, normal_strength: 1, occlusion: 1, variation: 0.12, variation_size_m: 45, ground_image: 0 },
    };
    setOpen(false);
    keep(`laid ${set.title}`, (recipe) => ({ ...recipe, layers: [...recipe.layers, layer] }));
    select(layer.id);
  }

  return (
    <Panel
      title="Texture sets in the stock"
      width={300}
      side="right"
      open={open}
      onOpen={setOpen}
      trigger={
        <button type="button" className="key">
          Lay a layer
        </button>
      }
    >
      <input className="field mb-2" aria-label="Search the stock" placeholder="Search title, tag, note" value={text} onChange={(event) => setText(event.target.value)} />
      {sets?.length === 0 && <p>{text ? "Nothing in the stock has these words." : "The stock is empty. Bring sets in or make some in the Stock room."}</p>}
      <div className="grid grid-cols-2 gap-2">
        {sets?.map((set) => (
          <button key={set.name} type="button" className="border border-rule text-left hover:border-ink" onClick={() => lay(set)}>
            <img src={stock.swatchUrl(set.name, set.content)} alt="" loading="lazy" className="aspect-square w-full" />
            <span className="block px-1.5 pt-1 font-semibold">{set.title}</span>
            <span className="figures block px-1.5 pb-1 text-xs text-quiet">
              {shown(set.tileM, 1)} m · {set.sizePx} px
            </span>
          </button>
        ))}
      </div>
    </Panel>
  );
}
