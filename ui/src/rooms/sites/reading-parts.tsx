/** How a height file is read: what it may be instead, which way it lies, and what else can be said of it. */

import { useState } from "react";
import * as api from "../../api/client";
import type { TrueSize } from "../../api/client";
import type { HeightFacts } from "../../api/types";
import type { RawLayout, Reading } from "../../generated/recipe";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";

export interface Fields {
  title: string;
  width: string;
  depth: string;
  lowest: string;
  highest: string;
}

export const plain = (value: number) => String(Number(value.toFixed(2)));

export const number = (text: string) => (text.trim() === "" ? NaN : Number(text.replace(",", ".")));

export interface Look {
  file: string;
  file_name: string;
  reading: Reading;
}

/** A small relief of the file as read in a certain way. */
function SmallRelief({
  look,
  label,
  chosen,
  onChoose,
}: {
  look: Look;
  label: string;
  chosen: boolean;
  onChoose: () => void;
}) {
  const { value: url, trouble } = useLatest(JSON.stringify(look), () => api.heightsRelief(look));
  return (
    <button
      type="button"
      aria-pressed={chosen}
      title={label}
      onClick={onChoose}
      className={`w-[104px] shrink-0 border border-rule bg-booth text-left ${chosen ? "outline-2 outline-offset-1 outline-accent" : ""}`}
    >
      <span className="grid h-[96px] place-items-center overflow-hidden">
        {url ? (
          <img src={url} alt="" className="max-h-full max-w-full" />
        ) : (
          <span className="text-xs">{trouble ? "cannot be read so" : "…"}</span>
        )}
      </span>
      <span className="figures block bg-raised px-1 py-[2px] text-xs leading-tight">{label}</span>
    </button>
  );
}

const layoutText = (raw: RawLayout) =>
  `${raw.width} × ${raw.height}, ${raw.samples}${raw.samples.endsWith("8") ? "" : raw.big_endian ? ", high byte first" : ", low byte first"}`;

export function Guesses({
  look,
  first,
  onChoose,
}: {
  look: Look;
  first: HeightFacts;
  onChoose: (raw: RawLayout) => void;
}) {
  const { reading } = look;
  const now = JSON.stringify(reading.raw);
  const best = first.guesses[0]?.confidence ?? 0;
  return (
    <>
      <h3 className="heading mb-1">No header: guessed from the bytes</h3>
      <p className="mb-1.5">
        {best > 0.8
          ? "The first is almost surely right."
          : "This is not certain: compare the reliefs and choose the one that looks like ground."}
      </p>
      <div className="mb-2 flex gap-2 overflow-x-auto p-1">
        {first.guesses.map((guess) => (
          <SmallRelief
            key={JSON.stringify(guess.raw)}
            look={{ ...look, reading: { ...reading, raw: guess.raw } }}
            chosen={JSON.stringify(guess.raw) === now}
            label={`${layoutText(guess.raw)} · ${shown(guess.confidence * 100, 0)}%`}
            onChoose={() => onChoose(guess.raw)}
          />
        ))}
      </div>
      {reading.raw && (
        <div className="mb-2 flex flex-wrap items-center gap-2">
          {(["width", "height", "skip_bytes"] as const).map((name) => (
            <label key={name} className="flex items-center gap-1">
              {{ width: "wide", height: "high", skip_bytes: "bytes before" }[name]}
              <input
                className="field !w-20"
                inputMode="numeric"
                value={reading.raw?.[name] ?? 0}
                onChange={(event) => {
                  const typed = Number(event.target.value);
                  if (reading.raw && Number.isInteger(typed) && typed >= 0) onChoose({ ...reading.raw, [name]: typed });
                }}
              />
            </label>
          ))}
          <label className="flex items-center gap-1">
            samples
            <select
              className="field !w-36"
              value={`${reading.raw.samples}${reading.raw.big_endian ? " high first" : ""}`}
              onChange={(event) => {
                const [samples, big] = event.target.value.split(" ");
                const kind = (["u8", "i8", "u16", "i16", "u32", "i32", "f32"] as const).find((one) => one === samples);
                if (reading.raw && kind) onChoose({ ...reading.raw, samples: kind, big_endian: big !== undefined });
              }}
            >
              {[
                "u8",
                "i8",
                "u16",
                "u16 high first",
                "i16",
                "i16 high first",
                "u32",
                "u32 high first",
                "i32",
                "i32 high first",
                "f32",
                "f32 high first",
              ].map((one) => (
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
export function Turns({ look, onRead }: { look: Look; onRead: (change: Partial<Reading>) => void }) {
  const { reading } = look;
  return (
    <>
      <h3 className="heading mb-1">Which way up</h3>
      <div className="flex gap-2 overflow-x-auto p-1">
        {[0, 1, 2, 3].map((turns) => (
          <SmallRelief
            key={turns}
            look={{ ...look, reading: { ...reading, quarter_turns: turns } }}
            chosen={reading.quarter_turns === turns}
            label={turns === 0 ? "as it is" : `turned ${turns * 90}°`}
            onChoose={() => onRead({ quarter_turns: turns })}
          />
        ))}
        {(["flip_east_west", "flip_north_south"] as const).map((flip) => (
          <SmallRelief
            key={flip}
            look={{ ...look, reading: { ...reading, [flip]: !reading[flip] } }}
            chosen={reading[flip]}
            label={flip === "flip_east_west" ? "flip east and west" : "flip north and south"}
            onChoose={() => onRead({ [flip]: !reading[flip] })}
          />
        ))}
      </div>
    </>
  );
}

/** What only some files have: pages, channels, steps, a value that marks holes. */
export function More({
  facts,
  reading,
  onRead,
}: {
  facts: HeightFacts;
  reading: Reading;
  onRead: (change: Partial<Reading>) => void;
}) {
  const [hole, setHole] = useState("");
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1">
      {facts.step > 0 && (
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-ink"
            checked={reading.smooth_steps}
            onChange={(event) => onRead({ smooth_steps: event.target.checked })}
          />
          smooth the steps, no sample by more than half a level
        </label>
      )}
      {facts.channels.length > 1 && (
        <label className="flex items-center gap-1.5">
          channel
          <select
            className="field !w-32"
            value={reading.channel ?? ""}
            onChange={(event) => onRead({ channel: event.target.value || null })}
          >
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
          <select
            className="field !w-20"
            value={reading.page}
            onChange={(event) => onRead({ page: Number(event.target.value) })}
          >
            {Array.from({ length: Math.min(facts.pages, 200) }, (_, k) => (
              <option key={k} value={k}>
                {k + 1}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="flex items-center gap-1.5">
        value that marks holes
        <input
          className="field !w-24"
          placeholder="none"
          value={hole}
          onChange={(event) => {
            setHole(event.target.value);
            const value = number(event.target.value);
            onRead({ no_data: Number.isFinite(value) ? value : null });
          }}
        />
      </label>
    </div>
  );
}

/** The same size said per sample and per unit of the file. */
export function PerSample({
  facts,
  size,
  onSize,
}: {
  facts: HeightFacts;
  size: TrueSize;
  onSize: (change: Partial<Fields>) => void;
}) {
  const [cell, setCell] = useState("");
  const [unit, setUnit] = useState("");
  const now = size.width_m / (facts.cols - 1);
  const perUnit = (size.highest_m - size.lowest_m) / (facts.highest - facts.lowest);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-quiet">
      <label className="flex items-center gap-1.5">
        or metres per sample
        <input
          className="field !w-24"
          placeholder={Number.isFinite(now) ? String(Number(now.toPrecision(4))) : ""}
          value={cell}
          onChange={(event) => {
            setCell(event.target.value);
            const metres = number(event.target.value);
            if (metres > 0)
              onSize({ width: plain(metres * (facts.cols - 1)), depth: plain(metres * (facts.rows - 1)) });
          }}
        />
      </label>
      <label className="flex items-center gap-1.5">
        or metres per unit of height
        <input
          className="field !w-24"
          placeholder={Number.isFinite(perUnit) ? String(Number(perUnit.toPrecision(4))) : ""}
          value={unit}
          onChange={(event) => {
            setUnit(event.target.value);
            const metres = number(event.target.value);
            const low =
              facts.kind === "float" ? facts.lowest * metres : Number.isFinite(size.lowest_m) ? size.lowest_m : 0;
            if (metres > 0)
              onSize({ lowest: plain(low), highest: plain(low + metres * (facts.highest - facts.lowest)) });
          }}
        />
      </label>
    </div>
  );
}
