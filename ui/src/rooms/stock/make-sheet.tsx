/** Making a sample set: a kind, a few controls that mean something, a seed, and a small picture while they move. */

import { useEffect, useState } from "react";
import * as api from "../../api/stock";
import type { Generator, SetState } from "../../api/stock";
import { JobProgress } from "../../parts/job-progress";
import { Num } from "../../parts/number";
import { Track } from "../../parts/track";
import { capital } from "../../parts/words";
import { useLatest } from "../../parts/use-latest";
import { useLetGo } from "../../parts/use-picture";
import type { Asked, Cell, LaidOut } from "../../judging/strip";
import { StripPanel } from "../../judging/strip-panel";
import { numberOf } from "../../state/numbers";
import { useSite } from "../../state/site";
import { useStock } from "../../state/stock";
import { metres } from "./wall";

const SEED = numberOf("MadeBy", "seed");

interface MakeSheetProps {
  /** A made set that is to be made anew in its place; null for a new one. */
  into: SetState | null;
}

export function MakeSheet({ into }: MakeSheetProps) {
  const { run, job, cancel, show, reload, choose, latest } = useStock();
  const say = useSite((s) => s.say);
  const made = into?.description.made_by ?? null;
  const [kinds, setKinds] = useState<Generator[]>([]);
  const [sizes, setSizes] = useState<number[]>([]);
  const [kind, setKind] = useState(made?.kind ?? "slate-bedrock");
  const [seed, setSeed] = useState(made?.seed ?? SEED.usual);
  const [px, setPx] = useState(made?.size_px ?? 1024);
  const [controls, setControls] = useState<Record<string, number>>(made?.controls ?? {});
  useEffect(() => {
    api.generators().then(
      (answer) => {
        setKinds(answer.generators);
        setSizes(answer.sizes);
      },
      (error: unknown) => say(error instanceof Error ? error.message : String(error)),
    );
  }, [say]);
  const chosen = kinds.find((one) => one.kind === kind);
  const busy = job?.state === "running";
  const { value: url, current } = useLatest(chosen && !busy ? JSON.stringify([kind, seed, controls]) : null, () =>
    api.preview(kind, seed, controls),
  );
  useLetGo(url);

  async function make() {
    const done = await run(async () => {
      const base = into ? (await latest(into)).revision : 0;
      return api.make({ kind, seed, size_px: px, controls, into: into?.name ?? null, base });
    });
    if (!done) return;
    useStock.setState({ job: null });
    show("wall");
    await reload();
    await choose(done.result.set);
  }

  function laidOut(asked: Asked, second: Asked | null): LaidOut {
    const named = (label: string) => chosen?.controls.find((one) => capital(one.label) === label)?.name ?? label;
    const withBoth = ({ value, other }: Cell) => ({
      ...controls,
      [named(asked.label)]: value,
      ...(second && other !== null && { [named(second.label)]: other }),
    });
    return {
      key: JSON.stringify([kind, seed, controls]),
      stands: false,
      resting: [true],
      picture: (cell, _size, _resting, signal) => api.previewBlob(kind, seed, withBoth(cell), signal),
      takeBoth: (cell) => setControls(withBoth(cell)),
    };
  }

  return (
    <section aria-label="Make a set" className="relative flex min-h-0 min-w-0 flex-col">
      <header className="flex items-center gap-3 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-semibold">{into ? `Make ${into.description.title} anew` : "Make a set"}</h1>
        <span className="text-quiet">Seamless, all maps from one height.</span>
        <span className="flex-1" />
        <button type="button" className="key" onClick={() => show("wall")}>
          Back to the wall
        </button>
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-[190px_300px_1fr] gap-5 overflow-y-auto p-4">
        <ul aria-label="Kinds">
          {kinds.map((one) => (
            <li key={one.kind}>
              <button
                type="button"
                aria-pressed={one.kind === kind}
                disabled={into !== null && one.kind !== kind}
                className={`w-full px-2 py-1 text-left disabled:text-quiet ${one.kind === kind ? "bg-ink text-raised" : "hover:bg-raised"}`}
                onClick={() => {
                  setKind(one.kind);
                  setControls({});
                }}
              >
                {one.title} <span className="figures text-xs opacity-80">{metres(one.tileM)}</span>
              </button>
            </li>
          ))}
        </ul>
        <div>
          {chosen?.controls.map((control) => {
            const set = (value: number) => setControls((now) => ({ ...now, [control.name]: value }));
            return (
              <Track
                key={control.name}
                label={capital(control.label)}
                hint={control.about}
                unit={control.unit === "times" ? "×" : control.unit}
                value={controls[control.name] ?? control.usual}
                least={control.least}
                most={control.most}
                step={control.step}
                usual={control.usual}
                digits={control.step < 0.1 ? 2 : control.step < 1 ? 1 : 0}
                onMove={set}
                onKeep={set}
                onDrop={() => undefined}
              />
            );
          })}
          <p className="mt-3 flex items-baseline gap-3">
            <span>
              Seed <Num {...SEED} value={seed} onMove={setSeed} onKeep={setSeed} onDrop={() => undefined} />
            </span>
            <button type="button" className="key" onClick={() => setSeed(Math.floor(Math.random() * 10_000))}>
              Another
            </button>
          </p>
          <p className="mt-3 flex flex-wrap items-center gap-1.5" role="radiogroup" aria-label="Size">
            {sizes.map((one) => (
              <button
                key={one}
                type="button"
                role="radio"
                aria-checked={one === px}
                className={one === px ? "key-strong" : "key"}
                onClick={() => setPx(one)}
              >
                {one} px
              </button>
            ))}
          </p>
          <div className="mt-4">
            {busy ? (
              <>
                <JobProgress job={job} doneText="" />
                <button type="button" className="key mt-2" onClick={cancel}>
                  Cancel
                </button>
              </>
            ) : (
              <button type="button" className="key-strong" onClick={() => void make()}>
                {into ? "Make it in its place" : "Make the set"}
              </button>
            )}
          </div>
        </div>
        <figure className="min-w-0">
          {url && (
            <div
              role="img"
              aria-label={`${chosen?.title ?? ""}, repeated`}
              data-preview
              data-resting={current}
              className="aspect-square max-h-[560px] w-full max-w-[560px] bg-booth"
              style={{ backgroundImage: `url(${url})`, backgroundSize: "50% 50%" }}
            />
          )}
          {!url && <p className="text-quiet">Drawing a small one…</p>}
          <figcaption className="figures mt-1 text-quiet">
            {current ? "2 × 2 repeats at 256 px" : "drawing…"}
          </figcaption>
        </figure>
      </div>
      <StripPanel of={laidOut} />
    </section>
  );
}
