/** The entries of a sheet: what each holds, how it is stored, how large it comes to. */

import { GuideLink } from "../../guide/guide-link";
import { newId } from "../../parts/new-id";
import { useState } from "react";
import type { Entry, Sheet, SheetLines, Thumb, WholeEntry } from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import { reordered } from "../../parts/drag-handle";
import { Panel } from "../../parts/panel";
import { usePicture } from "../../parts/use-picture";
import { bytes, chips, keepSheet, storedAs, useEntry, useHandoff, wholeWords } from "./sheets";

interface EntryListProps {
  sheet: Sheet;
  lines: SheetLines | null;
  thumbs: Thumb[];
}

export function EntryList({ sheet, lines, thumbs }: EntryListProps) {
  const chosen = useEntry();
  const files = lines?.entries.reduce((sum, one) => sum + one.files, 0);
  return (
    <section aria-label="Entries" className="flex max-h-[46%] min-h-0 shrink-0 flex-col px-3 pt-2.5">
      <h2 className="heading mb-1 flex items-center justify-between">
        <span>
          {sheet.name}
          {files !== undefined && ` · ${files} ${files === 1 ? "file" : "files"}`}
          <GuideLink at="hand-off#entries" about="entries of a sheet" />
        </span>
        <AddEntry sheet={sheet} />
      </h2>
      <ul className="min-h-0 overflow-y-auto pb-1">
        {sheet.entries.map((entry, at) => (
          <Row
            key={entry.id}
            entry={entry}
            line={lines?.entries.find((one) => one.id === entry.id) ?? null}
            thumb={thumbs.find((one) => one.entry === entry.id)?.picture ?? null}
            chosen={chosen?.id === entry.id}
            onShift={(way) => shift(sheet, at, at + way)}
          />
        ))}
        {sheet.entries.length === 0 && (
          <li className="py-4 text-quiet">Nothing is on this sheet yet: add an entry for each file that is wanted.</li>
        )}
      </ul>
    </section>
  );
}

function shift(sheet: Sheet, from: number, to: number) {
  const moved = sheet.entries[from];
  if (!moved || to < 0 || to >= sheet.entries.length) return;
  keepSheet(sheet, `${moved.file} moved`, (one) => ({ ...one, entries: reordered(one.entries, from, to) }));
}

interface RowProps {
  entry: Entry;
  line: SheetLines["entries"][number] | null;
  thumb: string | null;
  chosen: boolean;
  /** Up is -1. */
  onShift: (way: -1 | 1) => void;
}

function Row({ entry, line, thumb, chosen, onShift }: RowProps) {
  const [first, second] = storedAs(entry);
  const picture = usePicture(thumb);
  return (
    <li>
      <button
        ref={(node) => (chosen ? node?.scrollIntoView({ block: "nearest" }) : undefined)}
        type="button"
        aria-pressed={chosen}
        title="Alt+↑ or Alt+↓ moves it"
        onKeyDown={(event) => {
          if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
          event.preventDefault();
          onShift(event.key === "ArrowUp" ? -1 : 1);
        }}
        className={`grid w-full grid-cols-[34px_1fr_104px_72px] items-center gap-2.5 border-b border-rule px-1.5 py-1 text-left ${chosen ? "bg-raised shadow-[inset_4px_0_0_var(--color-accent)]" : ""}`}
        onClick={() => useHandoff.setState({ entry: entry.id, file: null, folder: null })}
      >
        <span className="size-[34px] overflow-hidden border border-ink bg-booth">
          {picture ? (
            <img src={picture} alt="" className="size-full object-cover" />
          ) : (
            entry.kind !== "maps" && <WholeMark kind={entry.kind} />
          )}
        </span>
        <span className="min-w-0">
          <b className="figures block truncate font-semibold">{entry.file}</b>
          <span className="figures inline-flex max-w-full overflow-hidden border border-ink text-[11px]">
            {entry.kind === "maps" ? (
              chips(entry).map(({ letters, slot, title }, k) => (
                <span key={k} className="border-r border-rule px-1.5 whitespace-nowrap last:border-r-0">
                  <b className="font-semibold">{letters}</b> {title}
                  {slot.inverted && ", inverted"}
                </span>
              ))
            ) : (
              <span className="truncate px-1.5">{wholeWords(entry)}</span>
            )}
          </span>
        </span>
        <span className="figures leading-tight">
          {first}
          <br />
          <span className="text-quiet">{second}</span>
        </span>
        <span className="figures text-right leading-tight">
          {line ? bytes(line.diskBytes) : "…"}
          <br />
          <span className="text-quiet">{line ? `${line.files} ${line.files === 1 ? "file" : "files"}` : ""}</span>
        </span>
      </button>
    </li>
  );
}

const MARKS: Record<WholeEntry["kind"], string> = {
  kit: "M7 7h8v8H7z M19 7h8v8h-8z M7 19h8v8H7z M19 19h8v8h-8z",
  mesh: "M4 26 L12 10 L20 24 Z M12 10 L30 8 L20 24 M20 24 L30 26 L30 8",
  ground: "M4 12 q7 -7 13 0 t13 -2 M4 19 q7 -7 13 0 t13 -2 M4 26 q7 -7 13 0 t13 -2",
  stills: "M4 8 h26 v18 h-26 Z M4 22 l8 -8 l6 6 l5 -4 l7 6",
  things: "M4 26 h26 M8 26 q0 -9 6 -9 t6 9 M23 26 q-1 -9 -4 -14 M23 26 q0 -9 2 -16 M23 26 q1 -8 6 -12",
  site: "M6 12 L17 6 L28 12 L28 24 L17 30 L6 24 Z M6 12 L17 18 L28 12 M17 18 L17 30",
};

/** What stands in for a picture where an entry has no map. */
function WholeMark({ kind }: { kind: WholeEntry["kind"] }) {
  return (
    <svg viewBox="0 0 34 34" className="size-full" aria-hidden>
      <path d={MARKS[kind]} fill="none" stroke="var(--color-raised)" strokeWidth="1.6" />
    </svg>
  );
}

const GROUPS = [
  {
    title: "Of the cover",
    values: CATALOGUE.values.filter((one) => one.family !== "measure" && one.value !== "share"),
  },
  { title: "Measures of the ground", values: CATALOGUE.values.filter((one) => one.family === "measure") },
];

function AddEntry({ sheet }: { sheet: Sheet }) {
  const [open, setOpen] = useState(false);
  function addMaps(value: string, title: string) {
    const begun = CATALOGUE.entries[value];
    if (!begun) return;
    const cut = sheet.tiles.columns * sheet.tiles.rows > 1 || sheet.tiles.side_px > 0;
    add({ ...begun, id: newId(), file: cut ? `${begun.file}_{row}{column}` : begun.file }, title);
  }
  function add(entry: Entry, title: string) {
    setOpen(false);
    keepSheet(sheet, `${title.toLowerCase()} added`, (one) => ({ ...one, entries: [...one.entries, entry] }));
    useHandoff.setState({ entry: entry.id, file: null, folder: null });
  }
  return (
    <Panel
      title="Add an entry"
      width={420}
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="figures min-h-6 text-[12px] font-medium tracking-normal text-ink normal-case underline"
        >
          add an entry
        </button>
      }
    >
      <h4 className="heading mb-1">Whole things</h4>
      <div className="mb-2 grid grid-cols-5 gap-1">
        {CATALOGUE.wholes.map((one) => (
          <button
            key={one.title}
            type="button"
            className="key truncate text-left"
            title={one.about}
            onClick={() => add({ ...one.entry, id: newId() }, one.title)}
          >
            {one.title}
          </button>
        ))}
      </div>
      {GROUPS.map((group) => (
        <div key={group.title} className="mb-2">
          <h4 className="heading mb-1">{group.title}</h4>
          <div className="grid grid-cols-3 gap-1">
            {group.values.map((one) => (
              <button
                key={one.value}
                type="button"
                className="key truncate text-left"
                title={`${one.about}${one.unit && `, ${one.unit}`}`}
                onClick={() => addMaps(one.value, one.title)}
              >
                {one.title}
              </button>
            ))}
          </div>
        </div>
      ))}
    </Panel>
  );
}
