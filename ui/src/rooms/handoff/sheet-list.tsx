/** The sheets of a site: chosen, begun, named, kept for other sites, brought from a file; and what was written. */

import { ChooseFile } from "../../parts/choose-file";
import { GuideLink } from "../../guide/guide-link";
import { newId } from "../../parts/new-id";
import { useState } from "react";
import * as api from "../../api/handoff";
import type { HandedOff, Sheet } from "../../api/handoff";
import type { KeptSheets } from "../../generated/answers";
import { MoreMenu } from "../../parts/more-menu";
import { NameField } from "../../parts/name-field";
import { Panel } from "../../parts/panel";
import { useSite } from "../../state/site";
import { bytes, keepSheet, useHandoff, useSheet } from "./sheets";

const MOST_SHEET_BYTES = 1 << 20;

function when(at: string): string {
  const then = new Date(at);
  const today = new Date().toDateString() === then.toDateString();
  return today
    ? then.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false })
    : then.toLocaleDateString([], { day: "numeric", month: "short" });
}

function Written({ last }: { last: HandedOff | undefined }) {
  if (!last) return <span className="figures text-quiet">not written yet</span>;
  const good = last.since === "as it is";
  return (
    <span className={`figures ${good ? "text-good" : "text-warn"}`}>
      written {when(last.at)}, {good ? "as it is now" : `${last.since} since`}
    </span>
  );
}

function add(sheet: Sheet) {
  const id = newId();
  useSite.getState().keep(`sheet ${sheet.name}`, (recipe) => {
    const taken = new Set(recipe.sheets.map((one) => one.name));
    let name = sheet.name;
    for (let n = 2; taken.has(name); n += 1) name = `${sheet.name.slice(0, 74)}, ${n}`;
    return { ...recipe, sheets: [...recipe.sheets, { ...sheet, id, name }] };
  });
  useHandoff.setState({ sheet: id, entry: null, file: null, folder: null });
}

const EMPTY: Omit<Sheet, "id"> = {
  name: "New sheet",
  fine: { by: "pixels", value: 2048 },
  region: null,
  tiles: { columns: 1, rows: 1, side_px: 0, border_px: 0 },
  entries: [],
};

function NewSheet() {
  const [known, setKnown] = useState<KeptSheets | null>(null);
  const [open, setOpen] = useState(false);
  const { say } = useSite.getState();
  const failed = (error: unknown) => say(error instanceof Error ? error.message : String(error));
  const take = (sheet: Sheet) => {
    setOpen(false);
    add(sheet);
  };
  return (
    <Panel
      title="Begin a sheet"
      side="right"
      width={260}
      open={open}
      onOpen={(now) => {
        setOpen(now);
        if (now) api.keptSheets().then(setKnown, failed);
      }}
      trigger={
        <button type="button" className="key">
          New sheet
        </button>
      }
    >
      <div className="grid gap-1">
        <button type="button" className="key text-left" onClick={() => take({ ...EMPTY, id: newId() })}>
          Empty
        </button>
        {known?.ready.map((sheet) => (
          <button key={sheet.id} type="button" className="key text-left" onClick={() => take(sheet)}>
            {sheet.name}
          </button>
        ))}
        {known !== null && known.kept.length > 0 && <h4 className="heading mt-2">Kept</h4>}
        {known?.kept.map((sheet) => (
          <div key={sheet.name} className="flex gap-1">
            <button type="button" className="key min-w-0 flex-1 truncate text-left" onClick={() => take(sheet)}>
              {sheet.name}
            </button>
            <button
              type="button"
              className="key"
              aria-label={`Forget ${sheet.name}`}
              onClick={() => void api.forgetSheet(sheet.name).then(setKnown, failed)}
            >
              Forget
            </button>
          </div>
        ))}
      </div>
    </Panel>
  );
}

function FromFile() {
  const { say } = useSite.getState();
  async function take(file: File) {
    if (file.size > MOST_SHEET_BYTES) throw new Error(`${file.name}: found ${bytes(file.size)}, expected a sheet.`);
    // checked and made whole by the server before it becomes part of the recipe
    const { kept } = await api.keepSheet(JSON.parse(await file.text()) as Sheet);
    const sheet = kept.at(-1);
    if (sheet) add(sheet);
  }
  return (
    <ChooseFile
      label="A sheet as JSON"
      accept=".json"
      onFile={(file) => {
        take(file).catch((error: unknown) => say(error instanceof Error ? error.message : String(error)));
      }}
    >
      From a file
    </ChooseFile>
  );
}

function save(sheet: Sheet) {
  const url = URL.createObjectURL(new Blob([JSON.stringify(sheet, null, 2)], { type: "application/json" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = `${sheet.name.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.json`;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(url), 1000);
}

function SheetMenu({ sheet, onRename }: { sheet: Sheet; onRename: () => void }) {
  const { say, keep } = useSite.getState();
  return (
    <MoreMenu
      name={sheet.name}
      width={220}
      actions={[
        ["Rename", onRename],
        ["Duplicate", () => add(sheet)],
        [
          "Keep for other sites",
          () =>
            void api.keepSheet(sheet).then(
              () => say(`${sheet.name} is kept: New sheet lists it on every site.`),
              (error: unknown) => say(error instanceof Error ? error.message : String(error)),
            ),
        ],
        ["Save as JSON", () => save(sheet)],
        [
          "Take away",
          () =>
            keep(`${sheet.name} taken away`, (recipe) => ({
              ...recipe,
              sheets: recipe.sheets.filter((one) => one.id !== sheet.id),
            })),
        ],
      ]}
    >
      {() => null}
    </MoreMenu>
  );
}

export function SheetList({ landed }: { landed: HandedOff[] }) {
  const sheets = useSite((s) => s.shown?.sheets ?? []);
  const chosen = useSheet();
  const [renaming, setRenaming] = useState<string | null>(null);
  return (
    <aside aria-label="Sheets" className="flex min-h-0 flex-col border-r border-rule p-3">
      <h2 className="heading mb-1.5">
        Sheets
        <GuideLink at="hand-off#sheets" about="what leaves a site" />
      </h2>
      <ul className="max-h-[55%] shrink overflow-y-auto border border-ink">
        {sheets.map((sheet) => (
          <li
            key={sheet.id}
            className={`flex items-stretch border-b border-ink last:border-b-0 ${chosen?.id === sheet.id ? "bg-raised shadow-[inset_4px_0_0_var(--color-accent)]" : ""}`}
          >
            {renaming === sheet.id ? (
              <NameField
                label="Name of the sheet"
                name={sheet.name}
                onName={(name) => keepSheet(sheet, `called ${name}`, (one) => ({ ...one, name }))}
                onDone={() => setRenaming(null)}
              />
            ) : (
              <button
                type="button"
                aria-pressed={chosen?.id === sheet.id}
                className="min-w-0 flex-1 py-1.5 pl-3 text-left"
                onClick={() => useHandoff.setState({ sheet: sheet.id, entry: null, file: null, folder: null })}
              >
                <b className="block font-semibold">{sheet.name}</b>
                <Written last={landed.find((one) => one.sheet === sheet.id)} />
              </button>
            )}
            {chosen?.id === sheet.id && renaming === null && (
              <span className="flex items-start p-2">
                <SheetMenu sheet={sheet} onRename={() => setRenaming(sheet.id)} />
              </span>
            )}
          </li>
        ))}
        {sheets.length === 0 && <li className="p-3 text-quiet">No sheet yet. Begin one with New sheet.</li>}
      </ul>
      <div className="mt-2 flex gap-1.5">
        <NewSheet />
        <FromFile />
      </div>
      <Landed landed={landed} />
    </aside>
  );
}

function Landed({ landed }: { landed: HandedOff[] }) {
  const folder = useHandoff((s) => s.folder);
  return (
    <section aria-label="Landed" className="mt-auto min-h-0 pt-4">
      <h2 className="heading mb-1">Landed</h2>
      {landed.length === 0 && <p className="text-quiet">Nothing was written from this site yet.</p>}
      <ul className="figures max-h-44 overflow-y-auto">
        {landed.map((one) => (
          <li key={one.folder}>
            <button
              type="button"
              aria-pressed={folder === one.folder}
              className={`w-full truncate py-0.5 text-left ${folder === one.folder ? "font-semibold underline" : ""}`}
              title={`${one.path}, ${bytes(one.bytes)}`}
              onClick={() =>
                useHandoff.setState({
                  sheet: one.sheet,
                  folder: folder === one.folder ? null : one.folder,
                  file: one.files[0]?.name ?? null,
                })
              }
            >
              {when(one.at)} {one.sheetName}{" "}
              <span className="text-quiet">
                · {one.files.length} {one.files.length === 1 ? "file" : "files"}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
