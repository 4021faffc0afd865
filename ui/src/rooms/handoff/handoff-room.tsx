/** The Hand-off room: sheets, where and how fine, what each file holds, the writing, what landed. */

import { useFirstSteps } from "../../guide/first-steps";
import { useCallback, useState, type ReactNode } from "react";
import * as api from "../../api/handoff";
import type { Entry, HandedOff, Sheet, SheetLines } from "../../api/handoff";
import type { Job } from "../../api/types";
import { useJob } from "../../parts/use-job";
import { useLatest } from "../../parts/use-latest";
import { useReady } from "../../state/ground";
import { useSite } from "../../state/site";
import { EntryList } from "./entry-list";
import { MapsPanel } from "./entry-panel";
import { LookedInto } from "./looked-into";
import { MeshLook } from "./mesh-look";
import { SheetList } from "./sheet-list";
import { bytes, useAsked, useEntry, useHandoff, useSheet } from "./sheets";
import { Where } from "./where";
import { WholePanel } from "./whole-panel";

export function HandOffRoom() {
  const site = useSite((s) => s.state?.id ?? null);
  const sheet = useSheet();
  const { landed, again } = useLanded(site);
  if (!site) return <main className="grid flex-1 place-items-center text-quiet">Opening…</main>;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[228px_404px_minmax(0,1fr)]">
      <SheetList landed={landed} />
      {sheet ? (
        <SheetParts key={sheet.id} site={site} sheet={sheet} landed={landed} onLanded={again} />
      ) : (
        <p className="col-span-2 grid place-items-center text-quiet">
          Begin a sheet on the left: one that comes ready, or an empty one.
        </p>
      )}
    </main>
  );
}

/** What was written from the site, asked again when something was. */
function useLanded(site: string | null) {
  const revision = useSite((s) => s.state?.revision ?? 0);
  const [asked, setAsked] = useState(0);
  const { value } = useLatest(site ? `${site} ${revision} ${asked}` : null, () => api.landed(site ?? ""));
  return { landed: value ?? [], again: useCallback(() => setAsked((n) => n + 1), []) };
}

interface SheetPartsProps {
  site: string;
  sheet: Sheet;
  landed: HandedOff[];
  onLanded: () => void;
}

function SheetParts({ site, sheet, landed, onLanded }: SheetPartsProps) {
  const ready = useReady();
  const changes = useAsked(sheet);
  const entry = useEntry();
  const folder = useHandoff((s) => s.folder);
  const open = landed.find((one) => one.folder === folder) ?? null;
  const recipe = () => {
    const now = useSite.getState().shown;
    if (!now) throw new Error("no site");
    return now;
  };
  const key = ready && sheet.entries.length > 0 ? `${sheet.id} ${changes}` : null;
  const lines = useLatest<SheetLines>(key, () => api.sheetLines(site, recipe(), sheet.id));
  const thumbs = useLatest(key, async () => (await api.sheetThumbs(site, recipe(), sheet.id)).thumbs);
  const [job, setJob] = useState<Job<HandedOff> | null>(null);
  const onJob = useCallback(
    (next: Job<HandedOff>) => {
      setJob(next);
      if (next.state === "done") {
        useFirstSteps.getState().mark(["handed"]);
        onLanded();
      }
    },
    [onLanded],
  );
  useJob(job, onJob);
  const { kept, say } = useSite.getState();
  const write = () =>
    void kept()
      .then(() => api.startWriting(site, sheet.id))
      .then(setJob, (error: unknown) => say(error instanceof Error ? error.message : String(error)));
  const shown = sheet.entries.length > 0 ? lines.value : null;
  const trouble = sheet.entries.length > 0 ? lines.trouble : null;
  const line = shown?.entries.find((one) => one.id === entry?.id) ?? null;
  return (
    <>
      <Where sheet={sheet} lines={shown} trouble={trouble} job={job} onWrite={write} onJob={onJob} />
      <div className="flex min-h-0 min-w-0 flex-col">
        {open ? (
          <LandedFiles site={site} of={open} onGone={onLanded} />
        ) : (
          <EntryList sheet={sheet} lines={shown} thumbs={thumbs.value ?? []} />
        )}
        {open ? (
          <Below wide={262} look={<LookedInto sheet={sheet} names={mapsOf(open)} entry={line} landed={open} />}>
            <Told of={open} />
          </Below>
        ) : (
          entry && <OneEntry sheet={sheet} entry={entry} line={line} />
        )}
      </div>
    </>
  );
}

const mapsOf = (of: HandedOff) => of.files.filter((one) => one.widthPx > 0).map((one) => one.name);

function Below({ wide, look, children }: { wide: number; look: ReactNode; children: ReactNode }) {
  return (
    <div
      className="grid min-h-0 flex-1 border-t border-ink"
      style={{ gridTemplateColumns: look ? `minmax(0,1fr) ${wide}px` : "minmax(0,1fr)" }}
    >
      {children}
      {look}
    </div>
  );
}

interface OneEntryProps {
  sheet: Sheet;
  entry: Entry;
  line: SheetLines["entries"][number] | null;
}

/** The entry that is chosen, and a look at what it comes to. */
function OneEntry({ sheet, entry, line }: OneEntryProps) {
  if (entry.kind === "mesh")
    return (
      <Below wide={362} look={<MeshLook key={entry.id} sheet={sheet} entry={entry} />}>
        <WholePanel sheet={sheet} entry={entry} line={line} />
      </Below>
    );
  const look = line && line.maps.length > 0 && (
    <LookedInto sheet={sheet} names={line.maps} entry={line} landed={null} />
  );
  return (
    <Below wide={262} look={look}>
      {entry.kind === "maps" ? (
        <MapsPanel sheet={sheet} entry={entry} line={line} />
      ) : (
        <WholePanel sheet={sheet} entry={entry} line={line} />
      )}
    </Below>
  );
}

/** What the manifest says of the file that is looked into. */
function Told({ of }: { of: HandedOff }) {
  const name = useHandoff((s) => s.file);
  const file = of.files.find((one) => one.name === name) ?? of.files[0];
  if (!file) return <div />;
  return (
    <section aria-label="What the manifest says" className="min-w-0 overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-1.5">What the manifest says</h2>
      <ul className="figures select-text">
        {file.told.map((line) => (
          <li key={line} className="border-b border-rule py-1 break-words">
            {line}
          </li>
        ))}
      </ul>
    </section>
  );
}

function LandedFiles({ site, of, onGone }: { site: string; of: HandedOff; onGone: () => void }) {
  const file = useHandoff((s) => s.file);
  const { say } = useSite.getState();
  return (
    <section aria-label="What landed" className="flex max-h-[46%] min-h-0 shrink-0 flex-col px-3 pt-2.5">
      <h2 className="heading mb-1 flex items-center justify-between">
        {of.sheetName} · {of.files.length} {of.files.length === 1 ? "file" : "files"}, {bytes(of.bytes)}
        <span className="figures flex gap-3 text-[12px] font-medium tracking-normal text-ink normal-case">
          <a className="underline" href={api.zipUrl(of.folder)} download>
            all as one zip
          </a>
          <a className="underline" href={api.fileUrl(of.folder, "hand-off.json")} download>
            manifest
          </a>
          <button
            type="button"
            className="underline"
            onClick={() =>
              void api.discard(site, of.folder).then(
                () => {
                  useHandoff.setState({ folder: null, file: null });
                  onGone();
                },
                (error: unknown) => say(error instanceof Error ? error.message : String(error)),
              )
            }
          >
            delete from disk
          </button>
          <button type="button" className="underline" onClick={() => useHandoff.setState({ folder: null, file: null })}>
            back to the sheet
          </button>
        </span>
      </h2>
      <p className="mb-1 truncate text-quiet select-text" title={of.path}>
        {of.path}
      </p>
      <ul className="figures min-h-0 overflow-y-auto pb-1">
        {of.files.map((one) => (
          <li key={one.name} className="flex items-center gap-3 border-b border-rule py-0.5">
            <button
              type="button"
              aria-pressed={file === one.name}
              className={`min-w-0 flex-1 truncate text-left ${file === one.name ? "font-semibold" : ""}`}
              onClick={() => useHandoff.setState({ file: one.name })}
            >
              {one.name}
            </button>
            <span className="text-quiet">
              {one.widthPx > 0 ? `${one.widthPx} × ${one.heightPx}` : one.told.length > 2 ? one.told[1] : one.told[0]}
            </span>
            <span className="w-16 text-right text-quiet">{bytes(one.bytes)}</span>
            <a className="underline" href={api.fileUrl(of.folder, one.name)} download>
              take
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}
