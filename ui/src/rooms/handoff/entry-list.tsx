/** The entries of a sheet: what each holds, how it is stored, how large it comes to. */

import { newId } from "../../parts/new-id";
import { useState } from "react";
import type { Entry, Sheet, SheetLines, Thumb } from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import { Panel } from "../../parts/panel";
import { usePicture } from "../../parts/use-picture";
import { bytes, chips, keepSheet, storedAs, useEntry, useHandoff } from "./sheets";

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
        </span>
        <AddEntry sheet={sheet} />
      </h2>
      <ul className="min-h-0 overflow-y-auto pb-1">
        {sheet.entries.map((entry) => (
          <Row
            key={entry.id}
            entry={entry}
            line={lines?.entries.find((one) => one.id === entry.id) ?? null}
            thumb={thumbs.find((one) => one.entry === entry.id)?.picture ?? null}
            chosen={chosen?.id === entry.id}
          />
        ))}
        {sheet.entries.length === 0 && (
          <li className="py-4 text-quiet">Nothing is on this sheet yet: add an entry for each file that is wanted.</li>
        )}
      </ul>
    </section>
  );
}

interface RowProps {
  entry: Entry;
  line: SheetLines["entries"][number] | null;
  thumb: string | null;
  chosen: boolean;
}

function Row({ entry, line, thumb, chosen }: RowProps) {
  const [first, second] = storedAs(entry);
  const picture = usePicture(thumb);
  return (
    <li>
      <button
        type="button"
        aria-pressed={chosen}
        className={`grid w-full grid-cols-[34px_1fr_104px_72px] items-center gap-2.5 border-b border-rule px-1.5 py-1 text-left ${chosen ? "bg-raised shadow-[inset_4px_0_0_var(--color-accent)]" : ""}`}
        onClick={() => useHandoff.setState({ entry: entry.id, file: null, folder: null })}
      >
        <span className="size-[34px] overflow-hidden border border-ink bg-booth">
          {picture && <img src={picture} alt="" className="size-full object-cover" />}
        </span>
        <span className="min-w-0">
          <b className="figures block truncate font-semibold">{entry.file}</b>
          <span className="figures inline-flex max-w-full overflow-hidden border border-ink text-[11px]">
            {chips(entry).map(({ letters, slot, title }, k) => (
              <span key={k} className="border-r border-rule px-1.5 whitespace-nowrap last:border-r-0">
                <b className="font-semibold">{letters}</b> {title}
                {slot.inverted && ", inverted"}
              </span>
            ))}
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

const GROUPS = [
  {
    title: "Of the cover",
    values: CATALOGUE.values.filter((one) => one.family !== "measure" && one.value !== "share"),
  },
  { title: "Measures of the ground", values: CATALOGUE.values.filter((one) => one.family === "measure") },
];

function AddEntry({ sheet }: { sheet: Sheet }) {
  const [open, setOpen] = useState(false);
  function add(value: string, title: string) {
    const begun = CATALOGUE.entries[value];
    if (!begun) return;
    const cut = sheet.tiles.columns * sheet.tiles.rows > 1 || sheet.tiles.side_px > 0;
    const entry = { ...begun, id: newId(), file: cut ? `${begun.file}_{row}{column}` : begun.file };
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
                onClick={() => add(one.value, one.title)}
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
