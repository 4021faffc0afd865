/** An entry of maps: its file's name, format and type, what each channel holds. */

import type { MapsEntry, Sheet, SheetLines, Slot } from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import { Num } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { numberOf } from "../../state/numbers";
import { useSite } from "../../state/site";
import { GreenPoints, OrderOfBytes } from "./choices";
import { PatternField, TakeOut } from "./pattern-field";
import { channelsOf, chips, FORMATS, inEntry, isColoured, keepEntry, kindOf, typeLabel } from "./sheets";

interface MapsPanelProps {
  sheet: Sheet;
  entry: MapsEntry;
  line: SheetLines["entries"][number] | null;
}

export function MapsPanel({ sheet, entry, line }: MapsPanelProps) {
  const form = FORMATS.find((one) => one.format === entry.format);
  return (
    <section aria-label="Entry" className="min-w-0 overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-1 flex items-center justify-between">
        <span>
          {chips(entry)
            .map((one) => one.title)
            .join(", ")}
        </span>
        <TakeOut sheet={sheet} entry={entry} />
      </h2>
      <div className="grid grid-cols-[64px_minmax(0,1fr)] items-center gap-x-3 gap-y-1.5">
        <span>File</span>
        <PatternField key={`${entry.id} ${entry.file}`} sheet={sheet} entry={entry} />
        <span>Becomes</span>
        <span className="figures truncate text-quiet select-text" title={line?.names.join("\n")}>
          {line ? `${line.name} · ${line.widthPx} × ${line.heightPx}` : "…"}
        </span>
        <span>Format</span>
        <Segments
          label="Format"
          value={entry.format}
          choices={FORMATS.map((one) => ({
            value: one.format,
            label: one.label,
            hint: `${one.types.map(typeLabel).join(", ")}; ${one.channels.join(", ")} channels`,
          }))}
          onChoose={(format) => {
            const types = FORMATS.find((one) => one.format === format)?.types ?? [];
            const type = types.includes(entry.type) ? entry.type : (types.at(-1) ?? entry.type);
            keepEntry(sheet, entry, `format ${format}`, { format, type });
          }}
        />
        <span>Type</span>
        <Segments
          label="Type"
          value={entry.type}
          choices={(form?.types ?? []).map((type) => ({ value: type, label: typeLabel(type) }))}
          onChoose={(type) => keepEntry(sheet, entry, typeLabel(type), { type })}
        />
        <Options sheet={sheet} entry={entry} />
      </div>
      <Slots sheet={sheet} entry={entry} />
    </section>
  );
}

/** What only some values and formats have. */
function Options({ sheet, entry }: { sheet: Sheet; entry: MapsEntry }) {
  const of = entry.holds.map((slot) => slot.of);
  return (
    <>
      {isColoured(entry) && (
        <>
          <label htmlFor="encoding">Encoding</label>
          <select
            id="encoding"
            className="field"
            value={entry.encoding}
            onChange={(event) => {
              const encoding = CATALOGUE.encodings.find((one) => one === event.target.value);
              if (encoding) keepEntry(sheet, entry, encoding, { encoding });
            }}
          >
            {CATALOGUE.encodings.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </>
      )}
      {of.includes("normal") && (
        <>
          <span>Normals</span>
          <span className="flex flex-wrap gap-1.5">
            <Segments
              label="Normals against"
              value={entry.against}
              choices={[
                { value: "ground", label: "against the ground", hint: "Tangent space: a flat cover is 0.5, 0.5, 1" },
                { value: "whole", label: "of the whole", hint: "x east, y north, z up" },
              ]}
              onChoose={(against) => keepEntry(sheet, entry, `normals ${against}`, { against })}
            />
            <GreenPoints green={entry.green} onChoose={(label, change) => keepEntry(sheet, entry, label, change)} />
          </span>
        </>
      )}
      {of.includes("weights") && (
        <>
          <span>Layers</span>
          <Segments
            label="Layers at a texel"
            value={entry.strongest ? "4" : "0"}
            choices={[
              { value: "0", label: "all of them" },
              { value: "4", label: "the strongest four", hint: "The rest is shared out; the sum stays" },
            ]}
            onChoose={(most) =>
              keepEntry(sheet, entry, most === "4" ? "strongest four" : "all layers", {
                strongest: most === "4" ? 4 : 0,
              })
            }
          />
        </>
      )}
      {entry.format === "raw" && entry.type !== "uint8" && (
        <>
          <span>Bytes</span>
          <OrderOfBytes
            lowFirst={entry.low_byte_first}
            onChoose={(label, change) => keepEntry(sheet, entry, label, change)}
          />
        </>
      )}
      <Size sheet={sheet} entry={entry} />
    </>
  );
}

function Size({ sheet, entry }: { sheet: Sheet; entry: MapsEntry }) {
  const { preview, keep, drop } = useSite.getState();
  const set = (longer_px: number) => inEntry(sheet.id, entry, { longer_px });
  return (
    <>
      <span>Size</span>
      <span className="flex items-center gap-2">
        <Num
          {...numberOf("MapsEntry", "longer_px")}
          value={entry.longer_px}
          onMove={(value) => preview(set(value))}
          onKeep={(value) => keep(`${sheet.name}: own size`, set(value))}
          onDrop={drop}
        />
        {entry.longer_px === 0 && <span className="figures text-quiet">as fine as the sheet</span>}
        <label className="ml-auto flex items-center gap-1.5" title="As heights have them: 2^n + 1 along a side">
          <input
            type="checkbox"
            className="accent-ink"
            checked={entry.corners}
            onChange={(event) => keepEntry(sheet, entry, "samples on corners", { corners: event.target.checked })}
          />
          samples on corners
        </label>
      </span>
    </>
  );
}

function Slots({ sheet, entry }: { sheet: Sheet; entry: MapsEntry }) {
  const left = 4 - channelsOf(entry);
  const alone = entry.holds.some((slot) => isOfAll(slot.of));
  return (
    <div className="mt-2 grid grid-cols-2 gap-1.5">
      {chips(entry).map(({ letters, slot }, k) => (
        <SlotCard key={k} sheet={sheet} entry={entry} slot={slot} k={k} letters={letters} />
      ))}
      {left > 0 && !alone && <AddSlot sheet={sheet} entry={entry} left={left} />}
    </div>
  );
}

/** Whether a value is of all layers at once, and has a file to itself. */
const isOfAll = (of: string) => of === "shares" || kindOf(of).family === "weights";

const packable = (room: number) => CATALOGUE.values.filter((one) => one.channels <= room && !isOfAll(one.value));

function useShares(): { id: string; name: string }[] {
  return useSite((s) => s.shown?.layers ?? []).filter((one) => one.on);
}

/** What can be chosen for a channel: values, and the share of each layer. */
function ValueOptions({ room }: { room: number }) {
  const layers = useShares();
  return (
    <>
      {packable(room)
        .filter((one) => one.value !== "share")
        .map((one) => (
          <option key={one.value} value={one.value}>
            {one.title}
          </option>
        ))}
      {layers.map((one) => (
        <option key={one.id} value={`share ${one.id}`}>
          Share of {one.name}
        </option>
      ))}
    </>
  );
}

function slotOf(choice: string): Slot | null {
  const [of, layer] = choice.split(" ");
  const kind = CATALOGUE.values.find((one) => one.value === of);
  if (!kind) return null;
  return { of: kind.value, layer: layer ?? null, inverted: false, range: "usual", low: 0, high: 1 };
}

function AddSlot({ sheet, entry, left }: { sheet: Sheet; entry: MapsEntry; left: number }) {
  return (
    <select
      aria-label="Pack another value into this file"
      className="field min-h-[52px] border-dashed"
      value=""
      onChange={(event) => {
        const slot = slotOf(event.target.value);
        if (slot)
          keepEntry(sheet, entry, `${kindOf(slot.of).title.toLowerCase()} packed`, { holds: [...entry.holds, slot] });
      }}
    >
      <option value="">pack another value …</option>
      <ValueOptions room={left} />
    </select>
  );
}

interface SlotCardProps {
  sheet: Sheet;
  entry: MapsEntry;
  slot: Slot;
  k: number;
  letters: string;
}

function SlotCard({ sheet, entry, slot, k, letters }: SlotCardProps) {
  const kind = kindOf(slot.of);
  const put = (label: string, change: Partial<Slot>) =>
    keepEntry(sheet, entry, `${kind.title.toLowerCase()} ${label}`, {
      holds: entry.holds.map((one, at) => (at === k ? { ...one, ...change } : one)),
    });
  const several = isOfAll(slot.of);
  const turns = kind.family !== "normal" && kind.family !== "weights";
  const ranged = (kind.family === "metres" || kind.family === "measure" || kind.family === "share") && !several;
  const choice = slot.layer ? `share ${slot.layer}` : slot.of;
  return (
    <div className="border border-ink bg-raised px-2 py-1">
      <div className="flex items-center gap-1.5">
        <b className="figures font-semibold">{letters}</b>
        {several ? (
          <span>{kind.title}</span>
        ) : (
          <select
            aria-label={`Value of channel ${letters}`}
            className="min-w-0 flex-1 bg-transparent"
            value={choice}
            onChange={(event) => {
              const next = slotOf(event.target.value);
              if (next) put(`for ${kindOf(next.of).title.toLowerCase()}`, next);
            }}
          >
            <ValueOptions room={4 - channelsOf(entry) + kind.channels} />
          </select>
        )}
        {entry.holds.length > 1 && (
          <button
            type="button"
            className="figures underline"
            aria-label={`Take ${kind.title} out of this file`}
            onClick={() =>
              keepEntry(sheet, entry, `${kind.title.toLowerCase()} unpacked`, {
                holds: entry.holds.filter((_, at) => at !== k),
              })
            }
          >
            out
          </button>
        )}
      </div>
      <div className="figures flex flex-wrap items-center gap-x-3 text-quiet">
        {turns && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-ink"
              checked={slot.inverted}
              onChange={(event) =>
                put(event.target.checked ? "inverted" : "as it is", { inverted: event.target.checked })
              }
            />
            {slot.of === "roughness" ? "inverted, gloss" : "inverted"}
          </label>
        )}
        {ranged && <RangeParts slot={slot} unit={kind.unit} put={put} whole={entry.type.startsWith("uint")} />}
      </div>
    </div>
  );
}

const RANGES = [
  { value: "usual", label: "all it may be" },
  { value: "found", label: "what is found" },
  { value: "own", label: "between" },
] as const;

interface RangePartsProps {
  slot: Slot;
  unit: string;
  whole: boolean;
  put: (label: string, change: Partial<Slot>) => void;
}

function RangeParts({ slot, unit, whole, put }: RangePartsProps) {
  if (!whole) return <span>{unit ? `in ${unit}` : "as it is"}</span>;
  const end = (label: string, field: "low" | "high") => {
    const of = numberOf("Slot", field);
    return (
      <Num
        {...of}
        label={label}
        value={slot[field]}
        unit={unit}
        least={field === "low" ? of.least : slot.low + of.step}
        most={field === "low" ? slot.high - of.step : of.most}
        onMove={() => undefined}
        onKeep={(value) => put("range", { [field]: value })}
        onDrop={() => undefined}
      />
    );
  };
  return (
    <span className="flex flex-wrap items-center gap-x-3">
      <select
        aria-label={`Range of ${kindOf(slot.of).title}`}
        className="bg-transparent text-ink"
        value={slot.range}
        onChange={(event) => {
          const range = RANGES.find((one) => one.value === event.target.value)?.value;
          if (range) put(`range ${range}`, { range });
        }}
      >
        {RANGES.map((one) => (
          <option key={one.value} value={one.value}>
            {one.label}
          </option>
        ))}
      </select>
      {slot.range === "own" && (
        <>
          {end("Lowest code stands for", "low")} {end("Highest code stands for", "high")}
        </>
      )}
    </span>
  );
}
