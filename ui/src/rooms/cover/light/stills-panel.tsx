/** Shots: views kept under a name. Stills: pictures of them, of any size and with many rays, as a job. */

import { newId } from "../../../parts/new-id";
import { useState } from "react";
import { create } from "zustand";
import * as client from "../../../api/client";
import * as api from "../../../api/light";
import type { StillAsk, StillsTaken } from "../../../api/light";
import type { Job, StandName } from "../../../api/types";
import { CATALOGUE } from "../../../generated/catalogue";
import type { Recipe, Shot } from "../../../generated/recipe";
import { JobProgress } from "../../../parts/job-progress";
import { Num, shown } from "../../../parts/number";
import { Segments } from "../../../parts/segments";
import { numberOf, usualsOf } from "../../../state/numbers";
import { useJob } from "../../../parts/use-job";
import { useSite } from "../../../state/site";
import { LightNumber, ROWS } from "./light-numbers";

const STANDS: { name: StandName; label: string }[] = [
  { name: "far", label: "Far" },
  { name: "mid", label: "Mid" },
  { name: "near", label: "Near" },
];
const SIZES = ["1280×800", "1920×1080", "3840×2160", "4096×2304", "8192×4608"];
const PASSES = CATALOGUE.passes;
const STILL = ["width_px", "height_px", "rays", "warmth", "contrast"] as const;
type AskNumber = (typeof STILL)[number] | "frames" | "seconds";

const USUAL: StillAsk = {
  ...usualsOf("StillAsk", [...STILL, "frames", "seconds"]),
  stands: ["far"],
  shots: [],
  passes: [],
  sequence: "one",
  moving: "webp",
  sheet: false,
};

/** What was asked last, and the job that it became: both outlive the panel. */
const useStills = create<{ ask: StillAsk; job: Job<StillsTaken> | null }>(() => ({ ask: USUAL, job: null }));

const withShots = (change: (shots: Shot[]) => Shot[]) => (recipe: Recipe) => ({
  ...recipe,
  shots: change(recipe.shots),
});

export function StillsPanel() {
  const recipe = useSite((s) => s.shown);
  if (!recipe) return null;
  return (
    <>
      <Shots recipe={recipe} />
      <Stills recipe={recipe} />
    </>
  );
}

function Shots({ recipe }: { recipe: Recipe }) {
  const [name, setName] = useState("");
  const [from, setFrom] = useState<StandName>("far");
  const [lit, setLit] = useState(false);
  const { keep } = useSite.getState();
  function take() {
    const called = name.trim() || `Shot ${recipe.shots.length + 1}`;
    const made: Shot = {
      id: newId(),
      name: called,
      stand: recipe.stands[from],
      peg: from === "far" ? null : recipe.peg,
      light: lit ? recipe.light : null,
    };
    keep(
      `kept the shot ${called}`,
      withShots((shots) => [...shots, made]),
    );
    setName("");
  }
  function goTo(shot: Shot) {
    const stand: StandName = shot.peg === null ? "far" : shot.stand.distance_m > 15 ? "mid" : "near";
    keep(`went to ${shot.name}`, (before) => ({
      ...before,
      stands: { ...before.stands, [stand]: shot.stand },
      peg: shot.peg ?? before.peg,
      light: shot.light ?? before.light,
    }));
  }
  return (
    <section className="mb-3">
      <form
        className="grid gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <Segments
          label="Which picture the shot keeps"
          value={from}
          choices={STANDS.map((one) => ({ value: one.name, label: one.label }))}
          onChoose={setFrom}
        />
        <div className="flex gap-1.5">
          <input
            className="field min-w-0 flex-1"
            aria-label="Name of the shot"
            placeholder={`Shot ${recipe.shots.length + 1}`}
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.stopPropagation()}
          />
          <button type="submit" className="key" title="Keeps from where one looks, and at what">
            Keep the view
          </button>
        </div>
        <div className={ROWS}>
          <LightNumber
            part="Stand"
            field="view_deg"
            value={recipe.stands[from].view_deg}
            change={(view_deg) => (before) => ({
              ...before,
              stands: { ...before.stands, [from]: { ...before.stands[from], view_deg } },
            })}
          />
        </div>
        <label className="flex items-center gap-1.5 text-xs">
          <input
            type="checkbox"
            className="accent-ink"
            checked={lit}
            onChange={(event) => setLit(event.target.checked)}
          />
          with the light as it is now
        </label>
      </form>
      {recipe.shots.length === 0 && <p className="mt-1.5 text-xs text-quiet">No shots yet.</p>}
      <ul className="mt-1.5 grid gap-1">
        {recipe.shots.map((shot) => (
          <li key={shot.id} className="flex items-center gap-1 border border-rule p-1">
            <b className="min-w-0 flex-1 truncate">{shot.name}</b>
            <span className="figures text-xs text-quiet">{shot.light ? "own light" : ""}</span>
            <button type="button" className="key" onClick={() => goTo(shot)}>
              Go to it
            </button>
            <button
              type="button"
              className="key"
              aria-label={`Take out ${shot.name}`}
              onClick={() =>
                keep(
                  `took out the shot ${shot.name}`,
                  withShots((shots) => shots.filter((one) => one.id !== shot.id)),
                )
              }
            >
              Take out
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function toggled<T>(list: readonly T[], one: T, on: boolean): T[] {
  return on ? [...list.filter((other) => other !== one), one] : list.filter((other) => other !== one);
}

function Tick({ label, on, hint, set }: { label: string; on: boolean; hint?: string; set: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5" title={hint}>
      <input type="checkbox" className="accent-ink" checked={on} onChange={(event) => set(event.target.checked)} />
      <span className="truncate">{label}</span>
    </label>
  );
}

const takenSoFar = (job: Job<StillsTaken>) => useStills.setState({ job });

function Stills({ recipe }: { recipe: Recipe }) {
  const ask = useStills((s) => s.ask);
  const site = useSite((s) => s.state?.id);
  const job = useStills((s) => s.job);
  useJob(job, takenSoFar);
  const { kept, say } = useSite.getState();
  const set = (change: Partial<StillAsk>) => useStills.setState({ ask: { ...ask, ...change } });
  const number = (field: AskNumber) => (
    <AskedNumber key={field} field={field} value={ask[field]} set={(value) => set({ [field]: value })} />
  );
  const running = job?.state === "running";
  const size = `${ask.width_px}×${ask.height_px}`;
  const shots = ask.shots.filter((id) => recipe.shots.some((shot) => shot.id === id));
  const none = ask.stands.length + shots.length === 0;
  return (
    <section className="grid gap-2 border-t border-rule pt-2">
      <h4 className="heading">Stills of</h4>
      <div className="grid grid-cols-3 gap-x-2">
        {STANDS.map(({ name, label }) => (
          <Tick
            key={name}
            label={label}
            on={ask.stands.includes(name)}
            set={(on) => set({ stands: toggled(ask.stands, name, on) })}
          />
        ))}
        {recipe.shots.map((shot) => (
          <Tick
            key={shot.id}
            label={shot.name}
            on={shots.includes(shot.id)}
            set={(on) => set({ shots: toggled(shots, shot.id, on) })}
          />
        ))}
      </div>
      <div className="grid grid-cols-[1fr_auto] items-center gap-y-2">
        <label htmlFor="still-size">Size</label>
        <select
          id="still-size"
          className="field figures"
          value={size}
          onChange={(event) => {
            const [width, height] = event.target.value.split("×").map(Number);
            if (width && height) set({ width_px: width, height_px: height });
          }}
        >
          {[...new Set([...SIZES, size])].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        {STILL.map(number)}
      </div>
      <Segments
        label="One or a sequence"
        value={ask.sequence}
        choices={[
          { value: "one", label: "One each" },
          { value: "turn", label: "A turn", hint: "Once round what the view looks at" },
          { value: "day", label: "A day of sun", hint: "From sunrise to sunset at the light's latitude and date" },
        ]}
        onChoose={(sequence) => set({ sequence })}
      />
      {ask.sequence === "one" ? (
        <fieldset>
          <legend className="mb-1 text-xs text-quiet">Beside each, as layers of one EXR</legend>
          <div className="grid grid-cols-4 gap-x-2">
            {PASSES.map(({ name, about }) => (
              <Tick
                key={name}
                label={name}
                hint={about}
                on={ask.passes.includes(name)}
                set={(on) =>
                  set({
                    passes: PASSES.map((one) => one.name).filter((one) =>
                      one === name ? on : ask.passes.includes(one),
                    ),
                  })
                }
              />
            ))}
          </div>
        </fieldset>
      ) : (
        <div className="grid grid-cols-[1fr_auto] items-center gap-y-2">
          {(["frames", "seconds"] as const).map(number)}
          <span>Written as</span>
          <Segments
            label="Written as"
            value={ask.moving}
            choices={[
              { value: "webp", label: "Moving WebP" },
              { value: "png", label: "Numbered PNGs" },
            ]}
            onChoose={(moving) => set({ moving })}
          />
        </div>
      )}
      <Tick label="All on one sheet as well" on={ask.sheet} set={(sheet) => set({ sheet })} />
      {running ? (
        <button
          type="button"
          className="key w-full"
          onClick={() =>
            void client.cancelJob<StillsTaken>(job.id).then(
              (next) => useStills.setState({ job: next }),
              () => undefined,
            )
          }
        >
          Cancel
        </button>
      ) : (
        <button
          type="button"
          className="key-strong w-full"
          disabled={none || !site}
          onClick={() =>
            void kept()
              .then(() => api.takeStills(site ?? "", { ...ask, shots }))
              .then(
                (next) => useStills.setState({ job: next }),
                (error: unknown) => say(error instanceof Error ? error.message : String(error)),
              )
          }
        >
          Take the stills
        </button>
      )}
      {none && <p className="text-warn">Choose at least one view above.</p>}
      {job && <JobProgress job={job} doneText="taken" />}
      {job?.state === "done" && <Taken taken={job.result} />}
    </section>
  );
}

interface AskedNumberProps {
  field: AskNumber;
  value: number;
  set: (value: number) => void;
}

/** A number that is no part of a recipe: nothing but itself follows it. */
function AskedNumber({ field, value, set }: AskedNumberProps) {
  const { label, unit, least, most, step, digits, hint } = numberOf("StillAsk", field);
  return (
    <>
      <span title={hint}>{label}</span>
      <span className="justify-self-end">
        <Num
          label={label}
          value={value}
          unit={unit}
          least={least}
          most={most}
          step={step}
          digits={digits}
          onMove={() => undefined}
          onKeep={set}
          onDrop={() => undefined}
        />
      </span>
    </>
  );
}

function Taken({ taken }: { taken: StillsTaken }) {
  return (
    <div className="plate p-2">
      <p className="mb-1 text-xs break-all select-text">{taken.path}</p>
      <ul className="figures">
        {taken.files.map((file) => (
          <li key={file.name} className="flex justify-between gap-2 border-b border-rule py-[3px]">
            <a className="truncate underline" href={api.stillUrl(taken.folder, file.name)} download>
              {file.name}
            </a>
            <span className="text-quiet">{shown(file.bytes / 1e6, 1)} MB</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
