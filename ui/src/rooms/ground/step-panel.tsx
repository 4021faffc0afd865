/** The selected step: its numbers, its choices, where it takes hold. */

import { NameField } from "../../parts/name-field";
import { useState } from "react";
import { shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { inStep, useGroundRoom, useSelectedStep } from "../../state/steps";
import { BrushPanel } from "./brush-panel";
import { CourseTable } from "./course-marks";
import { CurveEditor } from "./curve-editor";
import { ImageChoice } from "./image-choice";
import { PlaceLimit } from "./place-limit";
import { numbersOf } from "../../state/numbers";
import { StandsPart } from "./stands-part";
import { StepActions } from "./step-list";
import { CHARACTERS, KINDS, dice, type NumberField, type Step } from "./step-kinds";

export function StepPanel() {
  const step = useSelectedStep();
  if (!step) return <SourcePanel />;
  return <OneStep key={step.id} step={step} />;
}

function SourcePanel() {
  const ground = useSite((s) => s.shown?.ground);
  const facts = useShaping((s) => s.facts);
  const { preview, keep, drop } = useSite.getState();
  if (!ground) return <section aria-label="Step" />;
  const { source } = ground;
  return (
    <section aria-label="Step" className="overflow-y-auto border-r border-rule px-3.5 py-2.5">
      <h2 className="heading mb-1">Where it begins</h2>
      {source.kind === "file" ? (
        <p className="max-w-[60ch]">
          <b>{source.file_name}</b>, its lowest value at {shown(source.lowest_m, 1)} m, its highest at{" "}
          {shown(source.highest_m, 1)} m
          {source.reading.flip_east_west || source.reading.flip_north_south || source.reading.quarter_turns
            ? ", turned as chosen"
            : ""}
          . Its true size can be changed beside the site’s name without losing anything.
        </p>
      ) : (
        <div className="max-w-[420px]">
          <p className="mb-1.5">
            A level {ground.upright ? "face" : "slab"}, to be left flat or to be shaped by steps.
          </p>
          {numbersOf("FlatSource").map(({ field, usual, shown: as }) => {
            const change = (value: number) => (recipe: NonNullable<ReturnType<typeof useSite.getState>["shown"]>) => ({
              ...recipe,
              ground: { ...recipe.ground, source: { ...source, [field]: value } },
            });
            return (
              <Track
                key={field}
                {...as}
                usual={usual}
                value={(source as unknown as Record<string, number>)[field] ?? 0}
                onMove={(value) => preview(change(value))}
                onKeep={(value) => keep(`slab: ${as.label.toLowerCase()}`, change(value))}
                onDrop={drop}
              />
            );
          })}
        </div>
      )}
      {facts && (
        <p className="mt-2 text-quiet">
          As shaped: {facts.cols} × {facts.rows} samples, {shown(facts.lowestM, 1)} to {shown(facts.highestM, 1)} m,
          steepest {shown(facts.steepestDeg, 0)}°, mean {shown(facts.meanDeg, 0)}°.
        </p>
      )}
      <StandsPart upright={ground.upright} />
      <ImageChoice />
      <p className="mt-2 text-quiet">Select a step on the left for its numbers, or add one.</p>
    </section>
  );
}

function OneStep({ step }: { step: Step }) {
  const kind = KINDS[step.kind];
  return (
    <section aria-label="Step" className="min-w-0 overflow-y-auto border-r border-rule px-3.5 py-2.5">
      <div className="mb-1 flex items-baseline gap-3">
        <StepName step={step} />
        <span className="truncate text-quiet">{kind.about}</span>
        <span className="ml-auto">
          <StepActions step={step} />
        </span>
      </div>
      {step.kind === "form" && (
        <div className="my-1.5">
          <Choice label="Character" value={step.character} choices={CHARACTERS} step={step} field="character" />
        </div>
      )}
      <div className="grid grid-cols-2 gap-x-6">
        {kind.numbers
          // only dunes have a wind
          .filter(({ field }) => field !== "bearing_deg" || (step.kind === "form" && step.character === "dunes"))
          .map((field) => (
            <StepTrack key={field.field} step={step} field={field} />
          ))}
        {"seed" in step && <Seed step={step} seed={step.seed} />}
      </div>
      {(step.kind === "level" || step.kind === "course") && (
        <div className="mt-1 flex gap-4">
          <Toggle step={step} field="cut" label="cut what stands above" on={step.cut} />
          <Toggle step={step} field="fill" label="fill what lies below" on={step.fill} />
        </div>
      )}
      {kind.opposite && "opposite" in step && (
        <Toggle step={step} field="opposite" label={kind.opposite} on={step.opposite} />
      )}
      {step.kind === "remap" && <CurveEditor step={step} />}
      {step.kind === "course" && (
        <>
          <p className="mt-1 text-quiet">
            Drag its points on the map; double-click the line for another point, a point to take it out.
          </p>
          <CourseTable step={step} />
        </>
      )}
      {step.kind === "brush" ? <BrushPanel step={step} /> : step.kind !== "resample" && <PlaceLimit step={step} />}
    </section>
  );
}

function StepTrack({ step, field }: { step: Step; field: NumberField }) {
  const { preview, keep, drop } = useSite.getState();
  const value = (step as unknown as Record<string, number>)[field.field] ?? 0;
  const change = (next: number) => inStep(step.id, { [field.field]: next });
  return (
    <Track
      {...field.shown}
      usual={field.usual}
      value={value}
      onMove={(next) => preview(change(next))}
      onKeep={(next) => keep(`${step.name}: ${field.shown.label.toLowerCase()}`, change(next))}
      onDrop={drop}
    />
  );
}

function Toggle({ step, field, label, on }: { step: Step; field: string; label: string; on: boolean }) {
  const { keep } = useSite.getState();
  return (
    <label className="flex items-center gap-1.5 py-[3px]">
      <input
        type="checkbox"
        className="accent-ink"
        checked={on}
        onChange={() => keep(`${step.name}: ${label}`, inStep(step.id, { [field]: !on }))}
      />
      {label}
    </label>
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  choices: readonly { value: T; label: string }[];
  step: Step;
  field: string;
}

function Choice<T extends string>({ label, value, choices, step, field }: ChoiceProps<T>) {
  const { keep } = useSite.getState();
  return (
    <Segments
      label={label}
      value={value}
      choices={choices}
      onChoose={(next) => {
        // a name that was only the old choice's follows the new one
        const named = choices.find((one) => one.value === value)?.label === step.name.split(" ")[0];
        const title = choices.find((one) => one.value === next)?.label ?? "";
        keep(`${step.name}: ${next}`, inStep(step.id, { [field]: next, ...(named ? { name: `${title} form` } : {}) }));
      }}
    />
  );
}

const SEEDS_KEPT = 8;
const NO_SEEDS: number[] = [];

function Seed({ step, seed }: { step: Step; seed: number }) {
  const past = useGroundRoom((s) => s.seeds[step.id] ?? NO_SEEDS);
  const { keep } = useSite.getState();
  const last = past.at(-1);
  const take = (next: number, before: number[]) => {
    useGroundRoom.setState((s) => ({ seeds: { ...s.seeds, [step.id]: before.slice(-SEEDS_KEPT) } }));
    keep(`${step.name}: seed ${next}`, inStep(step.id, { seed: next }));
  };
  return (
    <div className="flex h-[27px] items-center gap-2">
      <span className="w-[76px]">Seed</span>
      <span className="figures font-semibold" data-seed={seed}>
        {seed}
      </span>
      <button
        type="button"
        className="key ml-auto"
        onClick={() => take(dice(), [...past, seed])}
        title="Throw the dice for another seed"
      >
        Another
      </button>
      <button
        type="button"
        className="key"
        disabled={last === undefined}
        onClick={() => last !== undefined && take(last, past.slice(0, -1))}
        title={last === undefined ? "No earlier seed" : `Back to ${last}`}
      >
        Back
      </button>
    </div>
  );
}

function StepName({ step }: { step: Step }) {
  const [naming, setNaming] = useState(false);
  const { keep } = useSite.getState();
  if (!naming) {
    return (
      <button
        type="button"
        className="truncate text-[15px] font-semibold"
        title="Click to name it"
        onClick={() => setNaming(true)}
      >
        {step.name}
      </button>
    );
  }
  return (
    <NameField
      label="Name of the step"
      name={step.name}
      className="max-w-56 font-semibold"
      onName={(plain) => keep(`named ${plain}`, inStep(step.id, { name: plain }))}
      onDone={() => setNaming(false)}
    />
  );
}
