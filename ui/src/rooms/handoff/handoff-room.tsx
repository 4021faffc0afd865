/** The Hand-off room: the sheet of files to come, the writing with Cancel, what landed where. */

import { useMeasures } from "../../state/measures";
import { CATALOGUE } from "../../generated/catalogue";
import { useEffect, useState } from "react";
import * as api from "../../api/client";
import type { HandedOff, Job, SheetFile } from "../../api/types";
import type { HandOff } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { JobProgress } from "../../parts/job-progress";
import { Segments } from "../../parts/segments";
import { useReady } from "../../state/ground";
import { useJob } from "../../parts/use-job";
import { useSite } from "../../state/site";

const MAPS = CATALOGUE.maps;
/** The maps whose bits a switch says. */
const RAW = MAPS.filter((one) => one.depth === "raw");
const SIZES = ["512", "1024", "2048", "4096", "8192", "16384"] as const;

const MEASURES = CATALOGUE.measures.map((one) => one.name);

function megabytes(file: SheetFile): number {
  return (file.widthPx * file.heightPx * file.channels * file.bits) / 8 / 1e6;
}

function useSheet(): SheetFile[] {
  const id = useSite((s) => s.state?.id);
  const shownRecipe = useSite((s) => s.shown);
  const ready = useReady();
  const [files, setFiles] = useState<SheetFile[]>([]);
  useEffect(() => {
    if (!id || !shownRecipe || !ready) return;
    let gone = false;
    api.sheet(id, shownRecipe).then(
      (found) => !gone && setFiles(found),
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [id, shownRecipe, ready]);
  return files;
}

export function HandOffRoom() {
  const recipe = useSite((s) => s.shown);
  const site = useSite((s) => s.state);
  const keeping = useSite((s) => s.keeping);
  const { keep, kept, say } = useSite.getState();
  const files = useSheet();
  const [job, setJob] = useState<Job<HandedOff> | null>(null);
  const kinds = useMeasures();
  const running = job?.state === "running";
  useJob(job, setJob);

  if (!recipe || !site) return <main className="grid flex-1 place-items-center text-quiet">Opening…</main>;
  const sheet = recipe.hand_off;
  const chosen = new Set<string>(sheet.measures);
  const texel = Math.max(recipe.ground.width_m, recipe.ground.depth_m) / sheet.size_px;
  const change = (label: string, part: Partial<HandOff>) =>
    keep(label, (before) => ({ ...before, hand_off: { ...before.hand_off, ...part } }));

  return (
    <main className="grid min-h-0 flex-1 grid-cols-[300px_1fr]">
      <aside className="overflow-y-auto border-r border-rule p-4">
        <h2 className="heading mb-2">Maps</h2>
        {MAPS.map(({ map, label, about }) => (
          <label key={map} className="flex items-baseline gap-2 py-[3px]">
            <input
              type="checkbox"
              className="accent-ink"
              checked={sheet.maps.includes(map)}
              onChange={(event) =>
                change(`hand-off: ${label.toLowerCase()} ${event.target.checked ? "on" : "off"}`, {
                  maps: MAPS.map((one) => one.map).filter((one) =>
                    one === map ? event.target.checked : sheet.maps.includes(one),
                  ),
                })
              }
            />
            <span className="font-medium">{label}</span>
            <span className="figures ml-auto text-quiet">{about}</span>
          </label>
        ))}
        {sheet.maps.includes("splat") && (
          <div className="mt-1.5 flex items-center gap-2">
            <span className="text-quiet">splat weights</span>
            <Segments
              label="Bits of splat maps"
              value={sheet.splat_bits === 16 ? "16" : "8"}
              choices={[
                { value: "8", label: "8 bit", hint: "They sum to 255 at every texel" },
                { value: "16", label: "16 bit", hint: "They sum to 65535 at every texel" },
              ]}
              onChoose={(bits) => change(`hand-off: splat maps of ${bits} bit`, { splat_bits: bits === "16" ? 16 : 8 })}
            />
          </div>
        )}
        {RAW.some(({ map }) => sheet.maps.includes(map)) && (
          <div className="mt-1.5 flex items-center gap-2">
            <span className="text-quiet">raw maps</span>
            <Segments
              label="Bits of raw maps"
              value={sheet.data_bits === 16 ? "16" : "8"}
              choices={[
                {
                  value: "8",
                  label: "8 bit",
                  hint: `256 levels of ${RAW.map((one) => one.label.toLowerCase()).join(", ")}`,
                },
                { value: "16", label: "16 bit", hint: "65536 levels: fine wear stays fine" },
              ]}
              onChoose={(bits) => change(`hand-off: raw maps of ${bits} bit`, { data_bits: bits === "16" ? 16 : 8 })}
            />
          </div>
        )}
        {(sheet.maps.includes("height") || sheet.maps.includes("relief")) && (
          <div className="mt-1.5 flex items-center gap-2">
            <span className="text-quiet">height, relief</span>
            <Segments
              label="Bits of height and relief"
              value={sheet.height_bits === 32 ? "32" : "16"}
              choices={[
                { value: "16", label: "16 bit", hint: "PNG; the sheet says which metres its ends are" },
                { value: "32", label: "32-bit float", hint: "TIFF of floats in metres" },
              ]}
              onChoose={(bits) => change(`hand-off: height of ${bits} bit`, { height_bits: bits === "32" ? 32 : 16 })}
            />
          </div>
        )}
        <h2 className="heading mt-5 mb-2">Measures, 32-bit float, in their units</h2>
        <div className="grid grid-cols-2 gap-x-3">
          {kinds.map((kind) => (
            <label key={kind.name} className="flex items-baseline gap-2 py-[2px]" title={`${kind.about}, ${kind.unit}`}>
              <input
                type="checkbox"
                className="accent-ink"
                checked={chosen.has(kind.name)}
                onChange={(event) =>
                  change(`hand-off: ${kind.title.toLowerCase()} ${event.target.checked ? "on" : "off"}`, {
                    measures: MEASURES.filter((one) => (one === kind.name ? event.target.checked : chosen.has(one))),
                  })
                }
              />
              <span>{kind.title}</span>
            </label>
          ))}
        </div>
        <h2 className="heading mt-5 mb-2">Size, longer side</h2>
        <Segments
          label="Size in pixels"
          value={String(sheet.size_px) as (typeof SIZES)[number]}
          choices={SIZES.map((size) => ({ value: size, label: size }))}
          onChoose={(size) => change(`hand-off: ${size} px`, { size_px: Number(size) })}
        />
        <p className="figures mt-2 text-quiet">
          one texel is {texel >= 1 ? `${shown(texel, 2)} m` : `${shown(texel * 1000, 0)} mm`} · {shown(1 / texel, 2)}{" "}
          px/m
        </p>
        <div className="mt-6">
          {running ? (
            <button
              type="button"
              className="key w-full"
              onClick={() => void api.cancelJob<HandedOff>(job.id).then(setJob, () => undefined)}
            >
              Cancel
            </button>
          ) : (
            <button
              type="button"
              className="key-strong w-full"
              disabled={files.length === 0 || keeping}
              onClick={() =>
                void kept()
                  .then(() => api.startBake(site.id))
                  .then(setJob, (error: unknown) => say(error instanceof Error ? error.message : String(error)))
              }
            >
              Write the maps
            </button>
          )}
          {files.length === 0 && <p className="mt-2 text-warn">No maps are chosen. Tick at least one above.</p>}
        </div>
        {job && (
          <div className="mt-3">
            <JobProgress job={job} doneText="written" />
          </div>
        )}
      </aside>
      <section className="overflow-y-auto p-4">
        {job?.state === "done" && <Landed job={job} />}
        <h2 className="heading mb-2">The sheet: {files.length} files</h2>
        <table className="figures w-full border-collapse">
          <thead>
            <tr className="border-b border-ink text-left text-quiet">
              <th className="py-1 pr-4 font-medium">file</th>
              <th className="pr-4 font-medium">pixels</th>
              <th className="pr-4 font-medium">bits</th>
              <th className="pr-4 text-right font-medium">raw size</th>
              <th className="font-medium">what it holds</th>
            </tr>
          </thead>
          <tbody>
            {files.map((file) => (
              <tr key={file.name} className="border-b border-rule">
                <td className="py-[5px] pr-4 font-semibold">{file.name}</td>
                <td className="pr-4">
                  {file.widthPx} × {file.heightPx}
                </td>
                <td className="pr-4">
                  {file.channels} × {file.bits}
                </td>
                <td className="pr-4 text-right">{shown(megabytes(file), 1)} MB</td>
                <td className="text-quiet">{file.meaning}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </main>
  );
}

function Landed({ job }: { job: Job<HandedOff> }) {
  const { folder, path, files } = job.result;
  return (
    <div className="plate mb-5 p-3">
      <h2 className="heading mb-1">What landed</h2>
      <p className="mb-2 break-all select-text">{path}</p>
      <ul className="figures grid grid-cols-2 gap-x-6">
        {files.map((file) => (
          <li key={file.name} className="flex justify-between border-b border-rule py-[3px]">
            <a className="underline" href={api.handedOffUrl(folder, file.name)} download>
              {file.name}
            </a>
            <span className="text-quiet">
              {file.bytes >= 1e5 ? `${shown(file.bytes / 1e6, 1)} MB` : `${shown(file.bytes / 1e3, 1)} kB`}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
