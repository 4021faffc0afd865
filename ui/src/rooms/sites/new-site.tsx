/** A new site: the file's own facts first, then its true size and range, with what follows from them. */

import { useEffect, useState } from "react";
import * as api from "../../api/client";
import type { HeightFacts } from "../../api/types";
import { shown } from "../../parts/number";

interface Fields {
  title: string;
  width: string;
  depth: string;
  lowest: string;
  highest: string;
}

const START: Fields = { title: "", width: "1000", depth: "1000", lowest: "0", highest: "100" };

function plainTitle(fileName: string): string {
  const words = fileName.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " ").trim();
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : "New site";
}

export function NewSite({ file, onDone }: { file: File; onDone: () => void }) {
  const [facts, setFacts] = useState<HeightFacts | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [fields, setFields] = useState<Fields>(START);
  const [busy, setBusy] = useState(false);

  useEffect(() => {
    let gone = false;
    api.bringHeights(file).then(
      (found) => {
        if (gone) return;
        setFacts(found);
        const depth = String(Number(((1000 * (found.rows - 1)) / (found.cols - 1)).toFixed(2)));
        setFields((before) => ({ ...before, title: before.title || plainTitle(file.name), depth }));
      },
      (error: unknown) => !gone && setTrouble(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      gone = true;
    };
  }, [file]);

  const number = (text: string) => Number(text.replace(",", "."));
  const width = number(fields.width);
  const depth = number(fields.depth);
  const rise = number(fields.highest) - number(fields.lowest);
  const cell = facts ? width / (facts.cols - 1) : 0;

  function make() {
    if (!facts) return;
    setBusy(true);
    setTrouble(null);
    api
      .newSite({
        title: fields.title, file: facts.file, file_name: facts.fileName,
        width_m: width, depth_m: depth, lowest_m: number(fields.lowest), highest_m: number(fields.highest),
      })
      .then(
        (made) => {
          window.location.hash = `#/site/${made.id}/cover`;
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

  return (
    <form
      aria-label="New site"
      className="plate mb-6 grid grid-cols-[260px_1fr] gap-6 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        make();
      }}
    >
      <section>
        <h2 className="mb-1 text-base font-semibold">{file.name}</h2>
        {!facts && !trouble && <p className="text-quiet">Reading the heights…</p>}
        {facts && (
          <dl className="figures grid grid-cols-[auto_1fr] gap-x-3">
            <Fact name="kind" value={`${facts.format}, ${facts.bits} bit`} />
            <Fact name="samples" value={`${facts.cols} × ${facts.rows}`} />
            <Fact name="levels" value={`${facts.levels.toLocaleString("en")}${facts.bits === 8 ? ", will step" : ""}`} />
            <Fact name="values" value={`${Number(facts.lowest.toPrecision(6))} to ${Number(facts.highest.toPrecision(6))}`} />
            <Fact name="at the limits" value={`${shown(facts.shareLowest * 100, 2)}% low, ${shown(facts.shareHighest * 100, 2)}% high`} />
          </dl>
        )}
      </section>
      <section>
        <div className="grid grid-cols-2 gap-3">
          <div className="col-span-2">{field("title", "Name of the site")}</div>
          {field("width", "Width, east–west (m)")}
          {field("depth", "Depth, north–south (m)")}
          {field("lowest", "Elevation of the lowest value (m)")}
          {field("highest", "Elevation of the highest value (m)")}
        </div>
        {facts && cell > 0 && rise > 0 && (
          <p className="mt-2 text-quiet">
            One sample every {shown(cell, cell < 1 ? 2 : 1)} m; {shown(rise, 0)} m from the lowest to the highest place.
            Both can be changed later without loss.
          </p>
        )}
        {trouble && <p role="alert" className="mt-2 border-l-4 border-accent pl-2">{trouble}</p>}
        <div className="mt-3 flex gap-2">
          <button type="submit" className="key-strong" disabled={!facts || busy}>
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

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <>
      <dt className="text-quiet">{name}</dt>
      <dd className="font-medium">{value}</dd>
    </>
  );
}
