/** A new site from a height file: how it is read, its own facts, its true size, and what follows from them. */

import { Trouble } from "../../parts/trouble";
import { useEffect, useState } from "react";
import * as api from "../../api/client";
import type { TrueSize } from "../../api/client";
import type { HeightFacts } from "../../api/types";
import type { Reading } from "../../generated/recipe";
import { BeginEmpty } from "./begin-empty";
import { openMade } from "./open-made";
import { type Fields, Guesses, More, PerSample, Turns, number, plain } from "./reading-parts";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { complaint } from "../../true-size";

const PLAIN: Reading = {
  page: 0,
  channel: null,
  raw: null,
  flip_east_west: false,
  flip_north_south: false,
  quarter_turns: 0,
  no_data: null,
  smooth_steps: false,
};

export function plainTitle(fileName: string): string {
  const words = fileName
    .replace(/\.[^.]+$/, "")
    .replace(/[_-]+/g, " ")
    .trim();
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : "New site";
}

/** The size to begin with: the file's own cell where it tells one, else 1 km across. */
function startOf(facts: HeightFacts, name: string): Fields {
  const cell = facts.cellM;
  const width = cell ? cell[0] * (facts.cols - 1) : 1000;
  const depth = cell ? cell[1] * (facts.rows - 1) : (1000 * (facts.rows - 1)) / (facts.cols - 1);
  // heights in floats or with a cell size are most likely metres already
  const metres = cell !== null || facts.kind === "float";
  return {
    title: plainTitle(name),
    width: plain(width),
    depth: plain(depth),
    lowest: metres && Math.abs(facts.lowest) < 20_000 ? plain(facts.lowest) : "0",
    highest: metres && Math.abs(facts.highest) < 20_000 ? plain(facts.highest) : "100",
  };
}

export function NewSite({ file, onDone }: { file: File; onDone: () => void }) {
  const [first, setFirst] = useState<HeightFacts | null>(null);
  const [reading, setReading] = useState<Reading>(PLAIN);
  const [fields, setFields] = useState<Fields>({ title: "", width: "", depth: "", lowest: "", highest: "" });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [empty, setEmpty] = useState(false);

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
    width_m: number(fields.width),
    depth_m: number(fields.depth),
    lowest_m: number(fields.lowest),
    highest_m: number(fields.highest),
  };
  const wrong = first ? complaint(size) : null;
  const look = first ? { file: first.file, file_name: first.fileName, reading } : null;
  const {
    value: seen,
    current,
    trouble: misread,
  } = useLatest<HeightFacts>(look ? JSON.stringify([look, wrong ? null : size]) : null, () => {
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
    const ground = { width_m, depth_m, source, steps: [], picture: null, upright: null };
    openMade(api.newSite({ title: fields.title, ground, empty }), "ground", (text) => {
      setTrouble(text);
      setBusy(false);
    });
  }

  const field = (name: keyof Fields, label: string) => (
    <label className="block">
      <span className="heading block">{label}</span>
      <input
        className="field mt-0.5"
        value={fields[name]}
        onChange={(event) => setFields({ ...fields, [name]: event.target.value })}
      />
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
              <Guesses
                look={look}
                first={first}
                onChoose={(raw) => {
                  read({ raw });
                  const wide = number(fields.width);
                  setFields({ ...fields, depth: plain((wide * (raw.height - 1)) / (raw.width - 1)) });
                }}
              />
            )}
            <Turns look={look} onRead={read} />
            {facts && <More facts={facts} reading={reading} onRead={read} />}
            <Trouble says={misread} className="mt-2 border-l-4 border-accent pl-2" />
          </>
        )}
        <div className="mt-3 grid grid-cols-4 gap-3">
          <div className="col-span-4">{field("title", "Name of the site")}</div>
          {field("width", "Width, east–west (m)")}
          {field("depth", "Depth, north–south (m)")}
          {field("lowest", "Lowest value at (m)")}
          {field("highest", "Highest value at (m)")}
        </div>
        {facts && first && (
          <PerSample facts={facts} size={size} onSize={(change) => setFields({ ...fields, ...change })} />
        )}
        {facts && !wrong && (
          <p className="mt-2" data-consequence>
            {current && facts.steepestDeg !== null && facts.meanDeg !== null ? (
              <>
                Then the steepest slope is <b>{shown(facts.steepestDeg, 0)}°</b>, the mean{" "}
                <b>{shown(facts.meanDeg, 0)}°</b>.{" "}
                {facts.steepestDeg > 80 &&
                  "That is very steep: heights may be given too large, or the width too small. "}
                {facts.meanDeg < 0.5 && "That is nearly level: heights may be given too small. "}
              </>
            ) : (
              "Measuring what that comes to… "
            )}
            <span className="text-quiet">Size and heights can be changed later without loss.</span>
          </p>
        )}
        <Trouble says={wrong} className="mt-2 border-l-4 border-accent pl-2" />
        <Trouble says={trouble} className="mt-2 border-l-4 border-accent pl-2" />
        <BeginEmpty empty={empty} onChange={setEmpty} />
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
    [
      "cell",
      facts.cellM ? `${shown(facts.cellM[0], 2)} × ${shown(facts.cellM[1], 2)} m by the file` : "not told by the file",
    ],
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
        <p className="mt-2 text-warn">
          Only {facts.levels} levels, {six(facts.step)} apart: slopes will show as steps.
        </p>
      )}
      {facts.shareHighest > 0.01 && (
        <p className="mt-2 text-warn">Many samples lie at the highest value: summits may have been cut off before.</p>
      )}
    </>
  );
}
