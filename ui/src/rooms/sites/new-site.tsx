/** A new site from a height file: how it is read, its own facts, its true size, and what follows from them. */

import { useEffect, useState } from "react";
import * as api from "../../api/client";
import type { TrueSize } from "../../api/client";
import type { HeightFacts } from "../../api/types";
import type { RawLayout, Reading } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { complaint } from "../../true-size";

const PLAIN: Reading = {
  page: 0, channel: null, raw: null, flip_east_west: false, flip_north_south: false, quarter_turns: 0, no_data: null, smooth_steps: false,
};

interface Fields {
  title: string;
  width: string;
  depth: string;
  lowest: string;
  highest: string;
}

export function plainTitle(fileName: string): string {
  const words = fileName.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " ").trim();
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : "New site";
}

const plain = (value: number) => String(Number(value.toFixed(2)));

/** The size to begin with: the file's own cell where it tells one, else 1 km across. */
function startOf(facts: HeightFacts, name: string): Fields {
  const cell = facts.cellM;
  const width = cell ? cell[0] * (facts.cols - 1) : 1000;
  const depth = cell ? cell[1] * (facts.rows - 1) : (1000 * (facts.rows - 1)) / (facts.cols - 1);
  // heights in floats or with a cell size are most likely metres already
  const metres = cell !== null || facts.kind === "float";
  return {
    title: plainTitle(name), width: plain(width), depth: plain(depth),
    lowest: metres && Math.abs(facts.lowest) < 20_000 ? plain(facts.lowest) : "0",
    highest: metres && Math.abs(facts.highest) < 20_000 ? plain(facts.highest) : "100",
  };
}

const number = (text: string) => (text.trim() === "" ? NaN : Number(text.replace(",", ".")));

export function NewSite({ file, onDone }: { file: File; onDone: () => void }) {
  const [first, setFirst] = useState<HeightFacts | null>(null);
  const [reading, setReading] = useState<Reading>(PLAIN);
  const [fields, setFields] = useState<Fields>({ title: "", width: "", depth: "", lowest: "", highest: "" });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  useEffect(() => {
    let gone = false;
    api.bringHeights(file).then(
      (found) => {
        if (gone) return;
        setFirst(found);
        setReading({ ...PLAIN, raw: found.guesses[0]?.raw ?? null });
        setFields(startOf(found, file.name));
      },
      (error: unknown) => !gone && setTrouble(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      gone = true;
    };
  }, [file]);

  const size: TrueSize = {
    width_m: number(fields.width), depth_m: number(fields.depth), lowest_m: number(fields.lowest), highest_m: number(fields.highest),
  };
  const wrong = first ? complaint(size) : null;
  const look = first ? { file: first.file, file_name: first.fileName, reading } : null;
  const { value: seen, current, trouble: misread } = useLatest<HeightFacts>(look ? JSON.stringify([look, wrong ? null : size]) : null, () => {
    if (!look) throw new Error("no file");
    return api.lookAtHeights(look, wrong ? null : size);
  });
  const facts = seen ?? first;

  function make() {
    if (!look || wrong) return;
    setBusy(true);
    setTrouble(null);
    const { width_m, depth_m, lowest_m, highest_m } = size;
    const source = { kind: "file" as const, file: look.file, file_name: look.file_name, reading, lowest_m, highest_m };
    api.newSite({ title: fields.title, ground: { width_m, depth_m, source, steps: [], picture: null } }).then(
      (made) => {
        window.location.hash = `#/site/${made.id}/ground`;
      },
      (error: unknown) => {
        setTrouble(error instanceof Error ? error.message : String(error));
        setBusy(false);
      },
    );
  }

  const field = (name: keyof Fields, label: string) => (
    <label className="block">
      <span className="heading block">{label}</span>
      <input className="field mt-0.5" value={fields[name]} onChange={(event) => setFields({ ...fields, [name]: event.target.value })} />
    </label>
  );
  const read = (change: Partial<Reading>) => setReading({ ...reading, ...change });

  return (
    <form
      aria-label="New site"
      className="plate mb-6 grid grid-cols-[300px_1fr] gap-6 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        make();
      }}
    >
      <section>
        <h2 className="mb-1 text-base font-semibold">{file.name}</h2>
        {!facts && !trouble && <p className="text-quiet">Reading the heights…</p>}
        {facts && <FactLines facts={facts} />}
      </section>
      <section className="min-w-0">
        {first && look && (
          <>
            {first.guesses.length > 0 && (
              <Guesses look={look} first={first} onChoose={(raw) => {
                read({ raw });
                const wide = number(fields.width);
                setFields({ ...fields, depth: plain((wide * (raw.height - 1)) / (raw.width - 1)) });
              }} />
            )}
            <Turns look={look} onRead={read} />
            {facts && <More facts={facts} reading={reading} onRead={read} />}
            {misread && <p role="alert" className="mt-2 border-l-4 border-accent pl-2">{misread}</p>}
          </>
        )}
        <div className="mt-3 grid grid-cols-4 gap-3">
          <div className="col-span-4">{field("title", "Name of the site")}</div>
          {field("width", "Width, east–west (m)")}
          {field("depth", "Depth, north–south (m)")}
          {field("lowest", "Lowest value at (m)")}
          {field("highest", "Highest value at (m)")}
        </div>
        {facts && first && <PerSample facts={facts} size={size} onSize={(change) => setFields({ ...fields, ...change })} />}
        {facts && !wrong && (
          <p className="mt-2" data-consequence>
            {current && facts.steepestDeg !== null && facts.meanDeg !== null ? (
              <>
                Then the steepest slope is <b>{shown(facts.steepestDeg, 0)}°</b>, the mean <b>{shown(facts.meanDeg, 0)}°</b>.{" "}
                {facts.steepestDeg > 80 && "That is very steep: heights may be given too large, or the width too small. "}
                {facts.meanDeg < 0.5 && "That is nearly level: heights may be given too small. "}
              </>
            ) : (
              "Measuring what that comes to… "
            )}
            <span className="text-quiet">Size and heights can be changed later without loss.</span>
          </p>
        )}
        {wrong && <p role="alert" className="mt-2 border-l-4 border-accent pl-2">{wrong}</p>}
        {trouble && <p role="alert" className="mt-2 border-l-4 border-accent pl-2">{trouble}</p>}
        <div className="mt-3 flex gap-2">
          <button type="submit" className="key-strong" disabled={!first || busy || wrong !== null || misread !== null}>
            {busy ? "Measuring the ground…" : "Make the site"}
          </button>
          <button type="button" className="key" onClick={onDone}>
            Not this file
          </button>
        </div>
      </section>
    </form>
  );
}

function FactLines({ facts }: { facts: HeightFacts }) {
  const six = (value: number) => Number(value.toPrecision(6)).toLocaleString("en", { maximumFractionDigits: 6 });
  const lines: [string, string][] = [
    ["kind", `${facts.format}, ${facts.bits} bit ${facts.kind}`],
    ["samples", `${facts.cols} × ${facts.rows}`],
    ["levels", facts.levels.toLocaleString("en")],
    ["values", `${six(facts.lowest)} to ${six(facts.highest)}`],
    ["at the limits", `${shown(facts.shareLowest * 100, 2)}% low, ${shown(facts.shareHighest * 100, 2)}% high`],
    ["holes", facts.holes === 0 ? "none" : `${facts.holes.toLocaleString("en")} samples, filled smoothly`],
    ["cell", facts.cellM ? `${shown(facts.cellM[0], 2)} × ${shown(facts.cellM[1], 2)} m by the file` : "not told by the file"],
  ];
  if (facts.pages > 1) lines.push(["pages", String(facts.pages)]);
  return (
    <>
      <dl className="figures grid grid-cols-[auto_1fr] gap-x-3">
        {lines.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-quiet">{name}</dt>
            <dd className="font-medium">{value}</dd>
          </div>
        ))}
      </dl>
      {facts.step > 0 && (
        <p className="mt-2 text-warn">Only {facts.levels} levels, {six(facts.step)} apart: slopes will show as steps.</p>
      )}
      {facts.shareHighest > 0.01 && <p className="mt-2 text-warn">Many samples lie at the highest value: summits may have been cut off before.</p>}
    </>
  );
}

interface Look {
  file: string;
  file_name: string;
  reading: Reading;
}

/** A small relief of the file as read in a certain way. */
function SmallRelief({ look, label, chosen, onChoose }: { look: Look; label: string; chosen: boolean; onChoose: () => void }) {
  const { value: url, trouble } = useLatest(JSON.stringify(look), () => api.heightsRelief(look));
  return (
    <button type="button" aria-pressed={chosen} title={label} onClick={onChoose}
      className={`w-[104px] shrink-0 border border-rule bg-booth text-left ${chosen ? "outline-2 outline-offset-1 outline-accent" : ""}`}>
      <span className="grid h-[96px] place-items-center overflow-hidden">
        {url ? <img src={url} alt="" className="max-h-full max-w-full" /> : <span className="text-xs">{trouble ? "cannot be read so" : "…"}</span>}
      </span>
      <span className="figures block bg-raised px-1 py-[2px] text-xs leading-tight">{label}</span>
    </button>
  );
}

const layoutText = (raw: RawLayout) =>
  `${raw.width} × ${raw.height}, ${raw.samples}${raw.samples.endsWith("8") ? "" : raw.big_endian ? ", high byte first" : ", low byte first"}`;

function Guesses({ look, first, onChoose }: { look: Look; first: HeightFacts; onChoose: (raw: RawLayout) => void }) {
  const { reading } = look;
  const now = JSON.stringify(reading.raw);
  const best = first.guesses[0]?.confidence ?? 0;
  return (
    <>
      <h3 className="heading mb-1">No header: guessed from the bytes</h3>
      <p className="mb-1.5">
        {best > 0.8 ? "The first is almost surely right." : "This is not certain: compare the reliefs and choose the one that looks like ground."}
      </p>
      <div className="mb-2 flex gap-2 overflow-x-auto p-1">
        {first.guesses.map((guess) => (
          <SmallRelief key={JSON.stringify(guess.raw)} look={{ ...look, reading: { ...reading, raw: guess.raw } }} chosen={JSON.stringify(guess.raw) === now}
            label={`${layoutText(guess.raw)} · ${shown(guess.confidence * 100, 0)}%`} onChoose={() => onChoose(guess.raw)} />
        ))}
      </div>
      {reading.raw && (
        <div className="mb-2 flex flex-wrap items-center gap-2">
          {(["width", "height", "skip_bytes"] as const).map((name) => (
            <label key={name} className="flex items-center gap-1">
              {{ width: "wide", height: "high", skip_bytes: "bytes before" }[name]}
              <input className="field !w-20" inputMode="numeric" value={reading.raw?.[name] ?? 0}
                onChange={(event) => {
                  const typed = Number(event.target.value);
                  if (reading.raw && Number.isInteger(typed) && typed >= 0) onChoose({ ...reading.raw, [name]: typed });
                }} />
            </label>
          ))}
          <label className="flex items-center gap-1">
            samples
            <select className="field !w-36" value={`${reading.raw.samples}${reading.raw.big_endian ? " high first" : ""}`}
              onChange={(event) => {
                const [samples, big] = event.target.value.split(" ");
                const kind = (["u8", "i8", "u16", "i16", "u32", "i32", "f32"] as const).find((one) => one === samples);
                if (reading.raw && kind) onChoose({ ...reading.raw, samples: kind, big_endian: big !== undefined });
              }}>
              {["u8", "i8", "u16", "u16 high first", "i16", "i16 high first", "u32", "u32 high first", "i32", "i32 high first", "f32", "f32 high first"].map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
        </div>
      )}
    </>
  );
}

/** The four turns and the two flips side by side. */
function Turns({ look, onRead }: { look: Look; onRead: (change: Partial<Reading>) => void }) {
  const { reading } = look;
  return (
    <>
      <h3 className="heading mb-1">Which way up</h3>
      <div className="flex gap-2 overflow-x-auto p-1">
        {[0, 1, 2, 3].map((turns) => (
          <SmallRelief key={turns} look={{ ...look, reading: { ...reading, quarter_turns: turns } }} chosen={reading.quarter_turns === turns}
            label={turns === 0 ? "as it is" : `turned ${turns * 90}°`} onChoose={() => onRead({ quarter_turns: turns })} />
        ))}
        {(["flip_east_west", "flip_north_south"] as const).map((flip) => (
          <SmallRelief key={flip} look={{ ...look, reading: { ...reading, [flip]: !reading[flip] } }} chosen={reading[flip]}
            label={flip === "flip_east_west" ? "flip east and west" : "flip north and south"} onChoose={() => onRead({ [flip]: !reading[flip] })} />
        ))}
      </div>
    </>
  );
}

/** What only some files have: pages, channels, steps, a value that marks holes. */
function More({ facts, reading, onRead }: { facts: HeightFacts; reading: Reading; onRead: (change: Partial<Reading>) => void }) {
  const [hole, setHole] = useState("");
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1">
      {facts.step > 0 && (
        <label className="flex items-center gap-1.5">
          <input type="checkbox" className="accent-ink" checked={reading.smooth_steps} onChange={(event) => onRead({ smooth_steps: event.target.checked })} />
          smooth the steps, no sample by more than half a level
        </label>
      )}
      {facts.channels.length > 1 && (
        <label className="flex items-center gap-1.5">
          channel
          <select className="field !w-32" value={reading.channel ?? ""} onChange={(event) => onRead({ channel: event.target.value || null })}>
            <option value="">choose for me</option>
            {facts.channels.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      )}
      {facts.pages > 1 && (
        <label className="flex items-center gap-1.5">
          page
          <select className="field !w-20" value={reading.page} onChange={(event) => onRead({ page: Number(event.target.value) })}>
            {Array.from({ length: Math.min(facts.pages, 200) }, (_, k) => (
              <option key={k} value={k}>{k + 1}</option>
            ))}
          </select>
        </label>
      )}
      <label className="flex items-center gap-1.5">
        value that marks holes
        <input className="field !w-24" placeholder="none" value={hole}
          onChange={(event) => {
            setHole(event.target.value);
            const value = number(event.target.value);
            onRead({ no_data: Number.isFinite(value) ? value : null });
          }} />
      </label>
    </div>
  );
}

/** The same size said per sample and per unit of the file. */
function PerSample({ facts, size, onSize }: { facts: HeightFacts; size: TrueSize; onSize: (change: Partial<Fields>) => void }) {
  const [cell, setCell] = useState("");
  const [unit, setUnit] = useState("");
  const now = size.width_m / (facts.cols - 1);
  const perUnit = (size.highest_m - size.lowest_m) / (facts.highest - facts.lowest);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-quiet">
      <label className="flex items-center gap-1.5">
        or metres per sample
        <input className="field !w-24" placeholder={Number.isFinite(now) ? String(Number(now.toPrecision(4))) : ""} value={cell}
          onChange={(event) => {
            setCell(event.target.value);
            const metres = number(event.target.value);
            if (metres > 0) onSize({ width: plain(metres * (facts.cols - 1)), depth: plain(metres * (facts.rows - 1)) });
          }} />
      </label>
      <label className="flex items-center gap-1.5">
        or metres per unit of height
        <input className="field !w-24" placeholder={Number.isFinite(perUnit) ? String(Number(perUnit.toPrecision(4))) : ""} value={unit}
          onChange={(event) => {
            setUnit(event.target.value);
            const metres = number(event.target.value);
            const low = facts.kind === "float" ? facts.lowest * metres : Number.isFinite(size.lowest_m) ? size.lowest_m : 0;
            if (metres > 0) onSize({ lowest: plain(low), highest: plain(low + metres * (facts.highest - facts.lowest)) });
          }} />
      </label>
    </div>
  );
}
