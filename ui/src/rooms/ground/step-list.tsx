/** The source and the steps on top of it, in the order in which they are done. */

import { GuideLink } from "../../guide/guide-link";
import { newId } from "../../parts/new-id";
import { useRef, useState } from "react";
import type { Ground } from "../../generated/recipe";
import { DragHandle, reordered, rowsAbove } from "../../parts/drag-handle";
import { Panel } from "../../parts/panel";
import { useBeginnings } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep, useGroundRoom, withSteps } from "../../state/steps";
import { KINDS, ORDER, newStep, type Step, type StepKind } from "./step-kinds";

export function StepList() {
  const ground = useSite((s) => s.shown?.ground);
  const list = useRef<HTMLOListElement>(null);
  const [dragged, setDragged] = useState<{ from: number; to: number } | null>(null);
  const { keep } = useSite.getState();
  if (!ground) return null;
  const { steps } = ground;

  const placeAt = (clientY: number, from: number) => Math.min(rowsAbove(list.current, clientY, from), steps.length - 1);

  return (
    <aside className="flex min-h-0 flex-col border-r border-rule px-3 py-2.5">
      <h2 className="heading mb-1.5">
        Steps, first to last
        <GuideLink at="ground#steps" about="steps" />
      </h2>
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto p-[3px]">
        <SourceLine ground={ground} />
        <ol ref={list}>
          {steps.map((step, index) => (
            <StepLine
              key={step.id}
              step={step}
              index={index}
              target={
                dragged === null || dragged.to !== index || dragged.from === index
                  ? null
                  : dragged.from < index
                    ? "below"
                    : "above"
              }
              onMove={(to) =>
                keep(
                  `moved ${step.name}`,
                  withSteps((all) => reordered(all, index, to)),
                )
              }
              onDrag={(y) => setDragged({ from: index, to: placeAt(y, index) })}
              onDrop={(done) => {
                if (done && dragged && dragged.from !== dragged.to) {
                  keep(
                    `moved ${step.name}`,
                    withSteps((all) => reordered(all, dragged.from, dragged.to)),
                  );
                }
                setDragged(null);
              }}
            />
          ))}
        </ol>
        {steps.length === 0 && (
          <p className="mt-2 border border-dashed border-ink p-2.5">
            {ground.source.kind === "flat"
              ? ground.upright
                ? "A plain face so far. Add steps to give it relief, or leave it plain."
                : "A level slab so far. Add a form to make land of it, or leave it level."
              : "The heights as they were read. Add a step to shape them; the file itself stays as it came."}
          </p>
        )}
      </div>
      <div className="border-t border-rule pt-2">
        <AddStep ground={ground} />
      </div>
    </aside>
  );
}

function SourceLine({ ground }: { ground: Ground }) {
  const { source } = ground;
  const selected = useGroundRoom((s) => s.selected === null);
  return (
    <button
      type="button"
      aria-pressed={selected}
      className={`mb-1 flex w-full items-baseline gap-2 border border-ink bg-raised px-2 py-1 text-left ${selected ? "outline-2 outline-offset-1 outline-accent" : ""}`}
      onClick={() => useGroundRoom.setState({ selected: null })}
    >
      <span className="truncate font-semibold">
        {source.kind === "file" ? source.file_name : ground.upright ? "Level face" : "Level slab"}
      </span>
      <span className="figures ml-auto shrink-0 text-xs text-quiet">
        {source.kind === "file" ? "file" : `${source.samples} samples`}
      </span>
    </button>
  );
}

interface StepLineProps {
  step: Step;
  index: number;
  /** On which side of it the dragged row would come to lie. */
  target: "above" | "below" | null;
  onMove: (to: number) => void;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

function StepLine({ step, index, target, onMove, onDrag, onDrop }: StepLineProps) {
  const selected = useGroundRoom((s) => s.selected === step.id);
  const { keep } = useSite.getState();
  return (
    <li
      className={`relative flex touch-none items-stretch border-b border-rule bg-raised select-none ${selected ? "z-10 outline-2 outline-accent" : ""} ${
        target === "above"
          ? "shadow-[inset_0_3px_var(--color-accent)]"
          : target === "below"
            ? "shadow-[inset_0_-3px_var(--color-accent)]"
            : ""
      }`}
    >
      <DragHandle
        className="w-7 border-r border-rule text-center text-xs"
        label={`Step ${index + 1}, ${step.name}. Drag to reorder, Alt with the arrow keys moves it.`}
        hint="Drag to reorder, Alt+↑ or Alt+↓ does the same"
        pressed={selected}
        onSelect={() => useGroundRoom.setState({ selected: step.id })}
        onShift={(way) => onMove(index + way)}
        onDrag={onDrag}
        onDrop={onDrop}
      >
        {index + 1}
      </DragHandle>
      <button
        type="button"
        aria-pressed={selected}
        className={`min-w-0 flex-1 px-2 py-[5px] text-left ${step.on ? "" : "text-quiet line-through"}`}
        title={KINDS[step.kind].about}
        onClick={() => useGroundRoom.setState({ selected: step.id })}
      >
        <span className="block truncate leading-tight font-medium">{step.name}</span>
      </button>
      <label
        className="grid w-7 place-items-center"
        title={step.on ? "Done; untick to leave it out" : "Left out; tick to do it"}
      >
        <input
          type="checkbox"
          className="accent-ink"
          aria-label={`${step.name} is done`}
          checked={step.on}
          onChange={() => keep(`${step.on ? "left out" : "did"} ${step.name}`, inStep(step.id, { on: !step.on }))}
        />
      </label>
    </li>
  );
}

function AddStep({ ground }: { ground: Ground }) {
  const [open, setOpen] = useState(false);
  const begin = useBeginnings();
  const selected = useGroundRoom((s) => s.selected);
  const { keep } = useSite.getState();

  function add(kind: StepKind) {
    const step = newStep(kind, begin);
    const at = ground.steps.findIndex((one) => one.id === selected);
    keep(
      `added ${step.name.toLowerCase()}`,
      withSteps((all) => all.toSpliced(at < 0 ? all.length : at + 1, 0, step)),
    );
    useGroundRoom.setState({ selected: step.id });
    setOpen(false);
  }

  return (
    <Panel
      title="Add a step after the selected one"
      width={360}
      side="right"
      open={open}
      onOpen={setOpen}
      trigger={
        <button type="button" className="key">
          Add a step
        </button>
      }
    >
      <div className="grid">
        {ORDER.map((kind) => (
          <button
            key={kind}
            type="button"
            className="border-b border-rule px-1 py-[5px] text-left hover:bg-sheet"
            onClick={() => add(kind)}
          >
            <b className="font-semibold">{KINDS[kind].title}</b>
            <span className="block text-xs text-quiet">{KINDS[kind].about}</span>
          </button>
        ))}
      </div>
    </Panel>
  );
}

/** What can be done with a step besides its numbers. */
export function StepActions({ step }: { step: Step }) {
  const { keep } = useSite.getState();
  return (
    <span className="flex gap-1.5">
      <button
        type="button"
        className="key"
        onClick={() => {
          const copy = { ...step, id: newId(), name: `${step.name.slice(0, 72)}, copy` };
          keep(
            `duplicated ${step.name}`,
            withSteps((all) => all.toSpliced(all.findIndex((one) => one.id === step.id) + 1, 0, copy)),
          );
          useGroundRoom.setState({ selected: copy.id });
        }}
      >
        Duplicate
      </button>
      <button
        type="button"
        className="key"
        onClick={() => {
          keep(
            `removed ${step.name}`,
            withSteps((all) => all.filter((one) => one.id !== step.id)),
          );
          useGroundRoom.setState({ selected: null });
        }}
      >
        Remove
      </button>
    </span>
  );
}
