/** What is looked at in the Hand-off room, and edits of a sheet of the recipe. */

import { nameOf } from "../../state/part-names";
import { create } from "zustand";
import type { Entry, MapsEntry, Sheet, Slot, WholeEntry } from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import type { Recipe } from "../../generated/recipe";
import { useSite } from "../../state/site";

interface HandoffRoom {
  /** The sheet, the entry of it and the file that are looked at; null for the first. */
  sheet: string | null;
  entry: string | null;
  file: string | null;
  /** The hand-off that is looked at in place of what a sheet would come to. */
  folder: string | null;
}

export const useHandoff = create<HandoffRoom>(() => ({ sheet: null, entry: null, file: null, folder: null }));

export const KINDS = Object.fromEntries(CATALOGUE.values.map((one) => [one.value, one]));
export const FORMATS = CATALOGUE.formats;
export const typeLabel = (type: MapsEntry["type"]) => CATALOGUE.types.find((one) => one.type === type)?.label ?? type;

export function kindOf(of: string) {
  const kind = KINDS[of];
  if (!kind) throw new Error(`no value ${of}`);
  return kind;
}

export const inSheet = (id: string, change: (sheet: Sheet) => Sheet) => (recipe: Recipe) => ({
  ...recipe,
  sheets: recipe.sheets.map((one) => (one.id === id ? change(one) : one)),
});

/** An edit of an entry; what it changes are fields of its own kind. */
export const inEntry = <E extends Entry>(sheet: string, entry: E, change: Partial<E>) =>
  inSheet(sheet, (one) => ({
    ...one,
    entries: one.entries.map((other) => (other.id === entry.id ? { ...other, ...change } : other)),
  }));

/** The sheet that is looked at. */
export function useSheet(): Sheet | null {
  const chosen = useHandoff((s) => s.sheet);
  return useSite((s) => s.shown?.sheets.find((one) => one.id === chosen) ?? s.shown?.sheets[0] ?? null);
}

/** The entry that is looked at. */
export function useEntry(): Entry | null {
  const sheet = useSheet();
  const chosen = useHandoff((s) => s.entry);
  return sheet?.entries.find((one) => one.id === chosen) ?? sheet?.entries[0] ?? null;
}

/** Keep a change of a sheet under a label that names it. */
export function keepSheet(sheet: Sheet, label: string, change: (sheet: Sheet) => Sheet) {
  useSite.getState().keep(`${sheet.name}: ${label}`, inSheet(sheet.id, change));
}

export function keepEntry<E extends Entry>(sheet: Sheet, entry: E, label: string, change: Partial<E>) {
  useSite.getState().keep(`${sheet.name}: ${label}`, inEntry(sheet.id, entry, change));
}

const LETTERS = ["R", "G", "B", "A"];

/** Each value of an entry with the channels that it takes. */
export function chips(entry: MapsEntry): { letters: string; slot: Slot; title: string }[] {
  let from = 0;
  return entry.holds.map((slot) => {
    const kind = kindOf(slot.of);
    const letters = LETTERS.slice(from, from + kind.channels).join("");
    from += kind.channels;
    const against = slot.of !== "normal" ? "" : entry.against === "ground" ? ", against the ground" : ", of the whole";
    return { letters, slot, title: `${kind.title.toLowerCase()}${against}` };
  });
}

export const channelsOf = (entry: MapsEntry) => entry.holds.reduce((sum, slot) => sum + kindOf(slot.of).channels, 0);

export const isColoured = (entry: MapsEntry) => entry.holds.some((slot) => kindOf(slot.of).family === "colour");

function mapsStoredAs(entry: MapsEntry): [string, string] {
  const form = FORMATS.find((one) => one.format === entry.format);
  const first = `${form?.label ?? entry.format} ${typeLabel(entry.type)}`;
  if (isColoured(entry)) return [first, entry.encoding];
  const of = entry.holds[0]?.of ?? "";
  if (entry.format === "raw") return [first, `${entry.low_byte_first ? "low" : "high"} byte first`];
  if (of === "normal") return [first, `green ${entry.green}`];
  if (of === "weights") return [first, entry.strongest ? "strongest four" : "sum to all there is"];
  return [first, kindOf(of).unit || "raw"];
}

const MESHES = Object.fromEntries(CATALOGUE.meshFormats.map((one) => [one.format, one]));

/** What an entry that is no maps holds, in a few words. */
export function wholeWords(entry: WholeEntry): string {
  if (entry.kind === "kit") return `tiled maps of ${entry.set_px} px, ${entry.weights} weights`;
  if (entry.kind === "mesh") {
    const by = entry.by === "error" ? `within ${entry.greatest_error_m} m` : `every ${entry.cell_m} m`;
    return `${entry.relief ? "ground with relief" : "ground"} ${by}`;
  }
  if (entry.kind === "ground") return entry.traces ? "heights, and what shaping left" : "heights alone";
  if (entry.kind === "stills") {
    const views = entry.stands.map((one) => one.charAt(0).toUpperCase() + one.slice(1));
    return [...views, ...(entry.all_shots ? ["every shot"] : [])].join(", ") || "no view";
  }
  if (entry.kind === "things")
    return [...entry.forms, ...(entry.models ? ["models"] : []), ...(entry.density_px ? ["densities"] : [])].join(", ");
  return "recipe, sets and files";
}

/** What an entry is stored as, in two short lines. */
export function storedAs(entry: Entry): [string, string] {
  if (entry.kind === "maps") return mapsStoredAs(entry);
  if (entry.kind === "kit") return ["PNG, JSON", entry.material ? "MaterialX" : "list and guide"];
  if (entry.kind === "mesh") {
    const tiles = entry.columns * entry.rows;
    const parts = [tiles > 1 && `${tiles} tiles`, entry.levels > 1 && `${entry.levels} levels`].filter(Boolean);
    return [MESHES[entry.format]?.label ?? entry.format, parts.join(", ") || "one file"];
  }
  if (entry.kind === "ground") {
    const label = CATALOGUE.heightFormats.find((one) => one.format === entry.format)?.label ?? entry.format;
    return [`${label} ${typeLabel(entry.type)}`, entry.longer_px ? `${entry.longer_px} samples` : "its own samples"];
  }
  if (entry.kind === "stills") return [`PNG ${entry.width_px} × ${entry.height_px}`, `${entry.rays} rays a pixel`];
  if (entry.kind === "things") {
    const tiles = entry.columns * entry.rows;
    return [
      entry.forms.map((one) => one.toUpperCase()).join(", ") || "PNG",
      tiles > 1 ? `${tiles} tiles` : "whole site",
    ];
  }
  return ["ZIP", "as it is kept"];
}

export function bytes(count: number): string {
  if (count >= 1e9) return `${(count / 1e9).toFixed(1)} GB`;
  if (count >= 1e6) return `${(count / 1e6).toFixed(count >= 1e7 ? 0 : 1)} MB`;
  return `${Math.max(1, Math.round(count / 1e3))} kB`;
}

/** A name for all of the shown recipe that a hand-off depends on. */
export function useCovered(): string {
  return useSite((s) => {
    const of = s.shown;
    return of ? [of.ground, of.layers, of.wears, of.marks, of.water, of.strews, of.things].map(nameOf).join(" ") : "";
  });
}

/** The same, with what a sheet says. */
export function useAsked(sheet: Sheet): string {
  return `${useCovered()} ${nameOf(sheet)}`;
}
