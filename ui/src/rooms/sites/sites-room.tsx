/** The front door: all sites as a sheet, each with its own far picture; start one from a height file. */

import { ChooseFile } from "../../parts/choose-file";
import { useCallback, useEffect, useState } from "react";
import * as api from "../../api/client";
import { packUrl } from "../../api/packs";
import type { SiteLine } from "../../api/types";
import { useSite } from "../../state/site";
import { sizeText } from "../../true-size";
import { KeptGrounds } from "./kept-grounds";
import { MadeSite } from "./made-site";
import { NewSite } from "./new-site";
import { isPack, PackedSite } from "./packed-site";
import { SampleSite } from "./sample-site";

export function SitesRoom() {
  const [sites, setSites] = useState<SiteLine[] | null>(null);
  const [file, setFile] = useState<File | null>(null);
  const [making, setMaking] = useState(false);
  const [over, setOver] = useState(false);
  const say = useSite((s) => s.say);
  const reload = useCallback(() => {
    api.sites().then(setSites, (error: unknown) => say(error instanceof Error ? error.message : String(error)));
  }, [say]);
  const changes = useSite((s) => s.changes);
  useEffect(reload, [reload, changes]);

  return (
    <main
      className={`min-h-0 flex-1 overflow-y-auto p-6 ${over ? "outline-2 -outline-offset-8 outline-accent outline-dashed" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const dropped = event.dataTransfer.files[0];
        if (dropped) setFile(dropped);
      }}
    >
      <div className="mx-auto max-w-[1180px]">
        <div className="mb-4 flex items-end justify-between">
          <h1 className="text-2xl font-semibold">Sites</h1>
          <span className="flex gap-2">
            <SampleSite onDone={reload} />
            <button type="button" className="key" onClick={() => setMaking(true)}>
              Make a terrain, a slab or a face
            </button>
            <ChooseFile
              label="Height file or packed site"
              accept=".zip,.png,.tif,.tiff,.exr,.npy,.asc,.txt,.raw,.r8,.r16,.r32,.f32,.bin,.dat,.bil,.hgt,.img"
              className="key-strong"
              onFile={setFile}
            >
              New site from a file
            </ChooseFile>
          </span>
        </div>
        {making && <MadeSite onDone={() => setMaking(false)} />}
        {file && isPack(file) && (
          <PackedSite key={`${file.name} ${file.lastModified} ${file.size}`} file={file} onDone={() => setFile(null)} />
        )}
        {file && !isPack(file) && (
          <NewSite key={`${file.name} ${file.lastModified} ${file.size}`} file={file} onDone={() => setFile(null)} />
        )}
        {sites?.length === 0 && !file && (
          <p className="border border-dashed border-ink p-8 text-center text-base">
            No sites yet. Drop a height file anywhere here (PNG, TIFF, EXR, NPY, ASCII grid or RAW) or a packed site,
            make a terrain, or lay out the quarry to learn from.
          </p>
        )}
        <KeptGrounds />
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-5">
          {sites?.map((line) => (
            <SiteCard key={line.id} line={line} onChange={reload} />
          ))}
        </ul>
      </div>
    </main>
  );
}

function SiteCard({ line, onChange }: { line: SiteLine; onChange: () => void }) {
  const [asking, setAsking] = useState(false);
  const [name, setName] = useState<string | null>(null);
  const changes = useSite((s) => s.changes);
  const say = useSite((s) => s.say);

  function run(work: Promise<unknown>) {
    work.then(onChange, (error: unknown) => say(error instanceof Error ? error.message : String(error)));
  }
  function rename() {
    const plain = name?.trim();
    setName(null);
    if (plain && plain !== line.title) run(api.renameSite(line.id, plain));
  }

  return (
    <li className="plate">
      <a href={`#/site/${line.id}/cover`} className="block bg-booth">
        <img
          src={api.farUrl(line, changes)}
          alt={`${line.title} from afar`}
          width={384}
          height={240}
          className="aspect-[8/5] w-full object-cover"
        />
      </a>
      <div className="flex items-baseline justify-between gap-2 px-3 pt-2">
        {name === null ? (
          <a href={`#/site/${line.id}/cover`} className="truncate text-base font-semibold">
            {line.title}
          </a>
        ) : (
          <input
            autoFocus
            aria-label="Name of the site"
            className="field"
            value={name}
            onChange={(event) => setName(event.target.value)}
            onBlur={rename}
            onKeyDown={(event) => {
              if (event.key === "Enter") rename();
              if (event.key === "Escape") setName(null);
            }}
          />
        )}
        <span className="figures shrink-0 text-quiet">
          {new Date(line.changedAt).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}
        </span>
      </div>
      <p className="figures px-3 text-quiet">
        {sizeText(line.widthM, line.depthM)}
        {line.steps > 0 ? ` · ${line.steps} ${line.steps === 1 ? "step" : "steps"}` : ""} · {line.layers}{" "}
        {line.layers === 1 ? "layer" : "layers"}
      </p>
      <div className="flex gap-2 px-3 pt-2 pb-3">
        {asking ? (
          <>
            <span className="mr-auto self-center">Remove {line.title} and its history?</span>
            <button type="button" className="key-strong" onClick={() => run(api.removeSite(line.id))}>
              Remove
            </button>
            <button type="button" className="key" onClick={() => setAsking(false)}>
              Keep
            </button>
          </>
        ) : (
          <>
            <a href={`#/site/${line.id}/cover`} className="key-strong">
              Open
            </a>
            <button type="button" className="key" onClick={() => setName(line.title)}>
              Name it
            </button>
            <button type="button" className="key" onClick={() => run(api.duplicateSite(line.id))}>
              Duplicate
            </button>
            <a
              className="key"
              href={packUrl(line.id)}
              download
              title="The whole site as one file, to be opened elsewhere"
            >
              Take out
            </a>
            <button type="button" className="key" onClick={() => setAsking(true)}>
              Remove
            </button>
          </>
        )}
      </div>
    </li>
  );
}
