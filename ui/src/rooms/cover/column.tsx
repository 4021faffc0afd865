/** The layers drawn as strata: top layer on top, thickness by the share of ground each covers. */

import { GuideLink } from "../../guide/guide-link";
import * as api from "../../api/client";
import { useRef, useState } from "react";
import * as stock from "../../api/stock";
import type { Layer, Recipe } from "../../generated/recipe";
import { DragHandle, reordered, rowsAbove } from "../../parts/drag-handle";
import { NameField } from "../../parts/name-field";
import { shown } from "../../parts/number";
import { useSite, useStillSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { lay } from "./lay";
import { inGroup, runsOf } from "./new-layer";
import { LayALayer } from "./lay-a-layer";
import { LayerMenu } from "./layer-menu";
import { draggedSet, SET_DRAG } from "./set-drag";
import { SuitesPanel } from "./suites-panel";
import { useFacts } from "./use-facts";
import { usePictureMs } from "./use-picture";
import { AddWear } from "./wear/add-wear";
import { WearBand } from "./wear/wear-band";
import { laidOn, wearsOn } from "./wear/wear-order";

const NONE: never[] = [];
const LEAST_PX = 34;
const LEAST_TOLD_PX = 64;
const ROOM_PX = 250;

export function percent(share: number): string {
  if (share <= 0) return "0%";
  const p = share * 100;
  return p < 0.1 ? "<0.1%" : `${shown(p, p < 10 ? 1 : 0)}%`;
}

function moved(recipe: Recipe, from: number, to: number): Recipe {
  return { ...recipe, layers: reordered(recipe.layers, from, to) };
}

export function Column() {
  const facts = useFacts();
  const layers = useStillSite((s) => s.shown?.layers ?? NONE);
  const list = useRef<HTMLOListElement>(null);
  const [dragged, setDragged] = useState<{ from: number; to: number } | null>(null);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [carried, setCarried] = useState<{ wear: string; layer: string | null } | null>(null);
  const wears = useStillSite((s) => s.shown?.wears ?? NONE);
  const { keep } = useSite.getState();

  /** Which layer lies under a height on the page. */
  function layerAt(clientY: number): string | null {
    const rows = [...(list.current?.children ?? [])];
    const at = rows.findIndex((row) => clientY < row.getBoundingClientRect().bottom);
    return layers.at(at < 0 ? 0 : layers.length - 1 - at)?.id ?? null;
  }

  /** Which place in the column, from the bottom, lies under a height on the page. */
  function placeAt(clientY: number, from: number): number {
    return Math.max(0, layers.length - 1 - rowsAbove(list.current, clientY, layers.length - 1 - from));
  }

  /** The bands of wear that stand on a layer, the topmost first. */
  function wearsIn(layer: string) {
    const recipe = useSite.getState().shown;
    return recipe
      ? wearsOn(recipe, layer)
          .toReversed()
          .map((wear) => (
            <WearBand
              key={wear.id}
              wear={wear}
              onDrag={(y) => setCarried({ wear: wear.id, layer: layerAt(y) })}
              onDrop={(done) => {
                if (done && carried?.layer)
                  keep(`moved ${wear.name}`, (one) => laidOn(one, wear.id, carried.layer ?? layer));
                setCarried(null);
              }}
            />
          ))
      : [];
  }

  return (
    <aside
      data-figures={facts?.current ? "current" : "older"}
      className="group flex min-h-0 will-change-transform flex-col border-r border-rule px-3 py-2.5"
    >
      <h2 className="heading mb-1.5 flex justify-between">
        <span>
          Column
          <GuideLink at="cover#the-column" about="the column" />
        </span>
        <span>share</span>
      </h2>
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto p-[3px]">
        {layers.length === 0 && (
          <p className="border border-dashed border-ink p-3">
            Nothing lies on this ground yet. Lay a first layer below: it will cover everything until others lie on it.
          </p>
        )}
        <ol
          ref={list}
          className="border-b border-ink"
          onDragOver={(event) => {
            if (event.dataTransfer.types.includes(SET_DRAG)) event.preventDefault();
          }}
          onDrop={(event) => {
            const set = draggedSet(event);
            if (!set) return;
            event.preventDefault();
            lay(set, layers.length - Math.min(rowsAbove(list.current, event.clientY), layers.length));
          }}
        >
          {runsOf(layers).flatMap((run) =>
            run.layers.map(({ layer, index }, k) => (
              <Stratum
                key={layer.id}
                layer={layer}
                index={index}
                share={facts?.of.get(layer.id)?.share ?? null}
                reason={facts?.of.get(layer.id)?.reason ?? null}
                target={
                  dragged === null || dragged.to !== index || dragged.from === index
                    ? null
                    : dragged.from > index
                      ? "below"
                      : "above"
                }
                bands={wearsIn(layer.id)}
                carriedOn={carried?.layer === layer.id}
                head={
                  run.group !== "" && k === 0 ? (
                    <GroupHead
                      group={run.group}
                      layers={run.layers.map((one) => one.layer)}
                      share={run.layers.reduce((sum, one) => sum + (facts?.of.get(one.layer.id)?.share ?? 0), 0)}
                      closed={closed.has(run.group)}
                      onClose={() => setClosed(toggled(closed, run.group))}
                    />
                  ) : null
                }
                closed={run.group !== "" && closed.has(run.group)}
                onDrag={(y) => setDragged({ from: index, to: placeAt(y, index) })}
                onDrop={(done) => {
                  if (done && dragged && dragged.to !== dragged.from) {
                    keep(`moved ${layer.name}`, (recipe) => moved(recipe, dragged.from, dragged.to));
                  }
                  setDragged(null);
                }}
              />
            )),
          )}
        </ol>
        <div className="mt-2 flex gap-1 [&>.key]:px-1.5">
          <LayALayer />
          {layers.length > 0 && <AddWear />}
          <SuitesPanel />
        </div>
      </div>
      <div className="figures border-t border-rule pt-1.5 text-quiet">
        {layers.length} {layers.length === 1 ? "layer" : "layers"}, {wears.length}{" "}
        {wears.length === 1 ? "wear" : "wears"}
        <br />
        <PictureTime />
      </div>
    </aside>
  );
}

/** How long the server took for the last pictures. */
function PictureTime() {
  return <>pictures {usePictureMs((s) => s.ms)} ms</>;
}

interface StratumProps {
  layer: Layer;
  index: number;
  share: number | null;
  reason: string | null;
  /** On which side of it the dragged row would come to lie. */
  target: "above" | "below" | null;
  /** What stands above the first layer of a group, and whether the group is folded. */
  head: React.ReactNode;
  /** The wear that stands on it. */
  bands: React.ReactNode;
  /** Whether a wear that is carried would come to lie on it. */
  carriedOn: boolean;
  closed: boolean;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

function Stratum({
  layer,
  index,
  share,
  reason,
  target,
  head,
  bands,
  carriedOn,
  closed,
  onDrag,
  onDrop,
}: StratumProps) {
  const solo = useTools((s) => s.solo === layer.id);
  const selected = useSite((s) => s.selected === layer.id);
  const { select, keep, through } = useSite.getState();
  const [naming, setNaming] = useState(false);
  const height = (reason || selected ? LEAST_TOLD_PX : LEAST_PX) + (share ?? 0.1) * ROOM_PX;

  function shift(by: number) {
    keep(`moved ${layer.name}`, (recipe) => moved(recipe, index, index + by));
  }

  return (
    <li>
      {head}
      {!closed && bands}
      <div
        hidden={closed}
        className={`relative flex touch-none border border-b-0 border-ink bg-raised select-none ${selected ? "z-10 outline-2 outline-offset-1 outline-accent" : ""} ${
          carriedOn || target === "above"
            ? "shadow-[inset_0_4px_var(--color-accent)]"
            : target === "below"
              ? "shadow-[inset_0_-4px_var(--color-accent)]"
              : ""
        }`}
        style={{ minHeight: closed ? 0 : height, display: closed ? "none" : undefined }}
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
          <img
            src={stock.swatchUrl(layer.set)}
            alt=""
            draggable={false}
            className={`absolute inset-0 size-full object-cover ${layer.on ? "" : "opacity-30"}`}
          />
          <div className="absolute inset-x-2 bottom-1 flex items-end gap-1">
            {naming ? (
              <NameField
                label="Name of the layer"
                name={layer.name}
                className="min-w-0 font-semibold"
                onName={(plain) =>
                  through(`named ${plain}`, (state) => api.namePart(state.id, state.revision, layer.id, plain))
                }
                onDone={() => setNaming(false)}
              />
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
            <span
              className="figures shrink-0 bg-raised px-[5px] text-xs leading-[19px] font-medium group-data-[figures=older]:text-quiet"
              data-share={share ?? ""}
            >
              {share === null ? "…" : percent(share)}
            </span>
          </div>
          {selected && <LayerMenu layer={layer} index={index} onName={() => setNaming(true)} />}
          {reason && (
            <p
              className="absolute right-14 bottom-7 left-2 line-clamp-2 bg-raised px-[5px] text-xs leading-[14px] text-warn"
              title={reason}
            >
              {reason}
            </p>
          )}
          {solo && <span className="absolute top-1 left-2 bg-ink px-1.5 text-xs text-raised">alone</span>}
        </div>
      </div>
    </li>
  );
}

const toggled = (all: ReadonlySet<string>, one: string) => {
  const next = new Set(all);
  if (!next.delete(one)) next.add(one);
  return next;
};

/** A group's name above its layers: folds them, hides or shows them all, renames or lifts the group. */
function GroupHead({
  group,
  layers,
  share,
  closed,
  onClose,
}: {
  group: string;
  layers: Layer[];
  share: number;
  closed: boolean;
  onClose: () => void;
}) {
  const [naming, setNaming] = useState(false);
  const { keep } = useSite.getState();
  const shownAll = layers.every((one) => one.on);
  const take = (plain: string) =>
    keep(plain ? `named the group ${plain}` : `lifted the group ${group}`, (recipe) =>
      inGroup(recipe, group, (one) => ({ ...one, group: plain })),
    );
  return (
    <div className="figures flex items-center gap-1.5 border border-b-0 border-ink bg-sheet px-1.5 py-0.5 text-xs">
      <button
        type="button"
        className="size-6 font-semibold"
        aria-expanded={!closed}
        title={closed ? "Unfold" : "Fold"}
        onClick={onClose}
      >
        {closed ? "+" : "−"}
      </button>
      {naming ? (
        <NameField
          label="Name of the group"
          name={group}
          className="min-w-0"
          mayBeEmpty
          onName={take}
          onDone={() => setNaming(false)}
        />
      ) : (
        <button
          type="button"
          className="min-h-6 min-w-0 flex-1 truncate text-left font-semibold"
          title="Double-click to name the group; an empty name lifts it"
          onDoubleClick={() => setNaming(true)}
        >
          {group}
        </button>
      )}
      <button
        type="button"
        className="underline"
        onClick={() =>
          keep(`${shownAll ? "hid" : "showed"} ${group}`, (recipe) =>
            inGroup(recipe, group, (one) => ({ ...one, on: !shownAll })),
          )
        }
      >
        {shownAll ? "hide" : "show"}
      </button>
      <span>{percent(share)}</span>
    </div>
  );
}
