/** The column of strews: what each strews, how many of it there are; the rod beside them is two metres high. */

import { useRef, useState } from "react";
import type { StrewFacts } from "../../generated/answers";
import type { Recipe, Strew } from "../../generated/recipe";
import { DragHandle, reordered, rowsAbove } from "../../parts/drag-handle";
import { MoreMenu } from "../../parts/more-menu";
import { NameField } from "../../parts/name-field";
import { newId } from "../../parts/new-id";
import * as api from "../../api/client";
import { inStrew, useSite } from "../../state/site";
import { usePictureMs } from "../cover/use-picture";
import { freeName } from "../../state/part-names";
import { counted, short, strewn, withoutStrew } from "./strews";
import { SetList } from "./set/set-list";
import { ThingsPanel } from "./strew-things";
import { ThingPicture } from "./thing-picture";
import type { StrewsKnown } from "./use-strew-facts";

function moved(recipe: Recipe, from: number, to: number): Recipe {
  return { ...recipe, strews: reordered(recipe.strews, from, to) };
}

export function StrewColumn({ facts }: { facts: StrewsKnown }) {
  const strews = useSite((s) => s.shown?.strews ?? []);
  const list = useRef<HTMLOListElement>(null);
  const [dragged, setDragged] = useState<{ from: number; to: number } | null>(null);
  const { keep, select } = useSite.getState();
  const placeAt = (y: number, from: number) =>
    Math.max(0, strews.length - 1 - rowsAbove(list.current, y, strews.length - 1 - from));
  return (
    <aside
      data-figures={facts.current ? "current" : "older"}
      className="flex min-h-0 flex-col border-r border-rule px-3 py-2.5"
    >
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto p-[3px]">
        {strews.length === 0 && (
          <p className="mb-3 border border-dashed border-ink p-3">
            Nothing is strewn here yet. Choose a thing below: it is laid where it usually lies, and its rule, its sizes
            and how it stands are set under the pictures.
          </p>
        )}
        <SetList />
        <h2 className="heading mt-3 mb-1.5 flex justify-between">
          <span>Strewn</span>
          <span>on site</span>
        </h2>
        <ol ref={list} aria-label="Strews" className="border-b border-ink">
          {strews
            .map((strew, index) => ({ strew, index }))
            .toReversed()
            .map(({ strew, index }) => (
              <Row
                key={strew.id}
                strew={strew}
                index={index}
                facts={facts.of.get(strew.id) ?? null}
                target={dragged?.to === index && dragged.from !== index}
                onDrag={(y) => setDragged({ from: index, to: placeAt(y, index) })}
                onDrop={(done) => {
                  if (done && dragged && dragged.from !== dragged.to)
                    keep(`moved ${strew.name}`, (recipe) => moved(recipe, dragged.from, dragged.to));
                  setDragged(null);
                }}
              />
            ))}
        </ol>
        <div className="mt-2 flex gap-1.5">
          <ThingsPanel
            title="Strew things"
            side="right"
            trigger={
              <button type="button" className="key">
                Strew things
              </button>
            }
            onChoose={(thing, begins) => {
              const id = newId();
              keep(`strewed ${thing.name}`, (recipe) => strewn(recipe, thing, begins, id));
              select(id);
            }}
          />
        </div>
        {facts.trouble && <p className="mt-2 text-warn">{facts.trouble}</p>}
      </div>
      <div className="figures border-t border-rule pt-1.5 text-quiet">
        {facts.all
          ? `${counted(facts.all.things)} ${facts.all.things === 1 ? "thing" : "things"} · ${facts.all.kinds} ${facts.all.kinds === 1 ? "kind" : "kinds"} · ${Math.max(1, Math.round(facts.all.bytes / 1e6))} MB`
          : "no things"}
        <br />
        <PictureTime />
      </div>
    </aside>
  );
}

function PictureTime() {
  return <>pictures {usePictureMs((s) => s.ms)} ms</>;
}

interface RowProps {
  strew: Strew;
  index: number;
  facts: StrewFacts | null;
  target: boolean;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

function Row({ strew, index, facts, target, onDrag, onDrop }: RowProps) {
  const selected = useSite((s) => s.selected === strew.id);
  const things = useSite((s) => s.shown?.things ?? []);
  const { select, keep, through } = useSite.getState();
  const [naming, setNaming] = useState(false);
  const of = strew.kinds.flatMap((one) => things.find((thing) => thing.id === one.thing) ?? []);
  const cut = facts !== null && facts.wanted > strew.at_most;
  return (
    <li
      className={`relative border border-b-0 border-ink bg-raised ${selected ? "z-10 outline-2 outline-offset-1 outline-accent" : ""} ${target ? "border-t-accent" : ""} ${strew.on ? "" : "opacity-55"}`}
    >
      <button
        type="button"
        tabIndex={-1}
        aria-label={`Select ${strew.name}`}
        className="flex h-[52px] w-full overflow-hidden"
        onClick={() => select(strew.id)}
      >
        {of.slice(0, 3).map((thing) => (
          <ThingPicture key={thing.id} thing={thing} className="h-full min-w-0 flex-1" />
        ))}
      </button>
      <div className="flex h-8 items-center border-t border-ink pr-1">
        <DragHandle
          label={`${strew.name}, strew ${index + 1}`}
          hint="Drag, or Alt with the arrow keys, to move it in the column"
          pressed={selected}
          className="h-full w-7 border-r border-ink"
          onSelect={() => select(strew.id)}
          onShift={(way) =>
            keep(`moved ${strew.name}`, (recipe) =>
              moved(recipe, index, Math.min(recipe.strews.length - 1, Math.max(0, index - way))),
            )
          }
          onDrag={onDrag}
          onDrop={onDrop}
        >
          {index + 1}
        </DragHandle>
        {naming ? (
          <NameField
            label="Name of the strew"
            name={strew.name}
            className="mx-1 w-full"
            onName={(name) =>
              through(`named ${name}`, (state) => api.namePart(state.id, state.revision, strew.id, name))
            }
            onDone={() => setNaming(false)}
          />
        ) : (
          <button
            type="button"
            className="min-w-0 flex-1 truncate px-1.5 text-left font-semibold"
            onClick={() => select(strew.id)}
            onDoubleClick={() => setNaming(true)}
          >
            {strew.name}
          </button>
        )}
        <span
          className={`figures text-[13px] whitespace-nowrap ${cut ? "font-semibold text-warn" : ""}`}
          title={
            facts
              ? cut
                ? `Its rule would lay ${counted(facts.wanted)}; its ceiling is ${counted(strew.at_most)}`
                : facts.counted
                  ? `${counted(facts.count)} counted`
                  : "by the integral of its density"
              : "counting…"
          }
        >
          {strew.on ? (facts ? `${facts.counted ? "" : "≈"}${short(facts.count)}` : "…") : "hidden"}
        </span>
        <RowMenu strew={strew} index={index} onName={() => setNaming(true)} />
      </div>
    </li>
  );
}

function RowMenu({ strew, index, onName }: { strew: Strew; index: number; onName: () => void }) {
  const { keep, select } = useSite.getState();
  const actions: readonly [string, () => void][] = [
    [
      strew.on ? "Hide" : "Show",
      () =>
        keep(
          `${strew.on ? "hid" : "showed"} ${strew.name}`,
          inStrew(strew.id, (one) => ({ ...one, on: !one.on })),
        ),
    ],
    ["Name it", onName],
    [
      "Duplicate",
      () => {
        const id = newId();
        keep(`duplicated ${strew.name}`, (recipe) => ({
          ...recipe,
          strews: recipe.strews.toSpliced(index + 1, 0, {
            ...strew,
            id,
            name: freeName(strew.name, recipe.strews),
            by_hand: [],
            added: [],
          }),
        }));
        select(id);
      },
    ],
    ["Remove", () => keep(`removed ${strew.name}`, (recipe) => withoutStrew(recipe, strew.id))],
  ];
  return <MoreMenu name={strew.name} width={150} actions={actions} />;
}
