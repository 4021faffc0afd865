/** What every entry has: the pattern of its files' name, and the way off its sheet. */

import { useState } from "react";
import type { Entry, Sheet } from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import { inSheet, keepSheet } from "./sheets";
import { useSite } from "../../state/site";

interface EntryProps {
  sheet: Sheet;
  entry: Entry;
}

export function PatternField({ sheet, entry }: EntryProps) {
  const [typed, setTyped] = useState(entry.file);
  const take = () => {
    const file = typed.trim();
    if (!file || file === entry.file) return;
    const put = inSheet(sheet.id, (one) => ({
      ...one,
      entries: one.entries.map((other) => (other.id === entry.id ? { ...other, file } : other)),
    }));
    useSite.getState().keep(`${sheet.name}: file ${file}`, put);
  };
  return (
    <input
      aria-label="Pattern of the file's name"
      className="field"
      value={typed}
      maxLength={120}
      title={CATALOGUE.fields.map((one) => `{${one.field}} ${one.about}`).join("\n")}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Enter") take();
        if (event.key === "Escape") setTyped(entry.file);
        event.stopPropagation();
      }}
    />
  );
}

export function TakeOut({ sheet, entry }: EntryProps) {
  return (
    <button
      type="button"
      className="figures min-h-6 text-[12px] font-medium tracking-normal text-ink normal-case underline"
      onClick={() =>
        keepSheet(sheet, `${entry.file} taken out`, (one) => ({
          ...one,
          entries: one.entries.filter((other) => other.id !== entry.id),
        }))
      }
    >
      take out
    </button>
  );
}
