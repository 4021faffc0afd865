/** What came in: sets told apart, each file with what it is taken for and why; nothing is stored before it is kept. */

import { useState } from "react";
import { CATALOGUE } from "../../generated/catalogue";
import * as api from "../../api/stock";
import type { FileGuess, SetGuess, SetState } from "../../api/stock";
import type { Decision } from "../../generated/stock";
import { JobProgress } from "../../parts/job-progress";
import { shown } from "../../parts/number";
import { capital } from "../../parts/words";
import { type Bringing, useStock } from "../../state/stock";
import { LitSample } from "./lit-sample";

const MEANINGS = CATALOGUE.meanings;

/** A number typed in a field that may be empty or half typed; NaN when it is none. */
export function typed(text: string): number {
  return text.trim() === "" ? Number.NaN : Number(text.replace(",", "."));
}

export interface Row {
  guess: SetGuess;
  decision: Decision;
  tile: string;
  relief: string;
  on: boolean;
}

/** A set as proposed; one that replaces the files of another keeps the size that one has. */
function rowOf(guess: SetGuess, into: SetState | null): Row {
  const decision = into
    ? { ...guess.decision, tile_m: into.description.tile_m, relief_m: into.description.relief_m }
    : guess.decision;
  return {
    guess,
    decision,
    tile: String(Number(decision.tile_m.toFixed(3))),
    relief: String(Number((decision.relief_m * 1000).toFixed(2))),
    on: true,
  };
}

interface Other {
  index: number;
  title: string;
}

/** The sets with one file moved from one to another; a set that is left without files goes. */
export function moved(rows: Row[], from: number, file: number, to: number): Row[] {
  const guessed = rows[from]?.guess.files[file];
  const decided = rows[from]?.decision.files[file];
  if (!guessed || !decided || !rows[to] || from === to) return rows;
  return rows
    .map((row, k) => {
      const files = (guesses: FileGuess[], decisions: Decision["files"]) => ({
        ...row,
        guess: { ...row.guess, files: guesses },
        decision: { ...row.decision, files: decisions, manifest: null },
      });
      if (k === from)
        return files(
          row.guess.files.filter((_, at) => at !== file),
          row.decision.files.filter((_, at) => at !== file),
        );
      return k === to ? files([...row.guess.files, guessed], [...row.decision.files, decided]) : row;
    })
    .filter((row) => row.guess.files.length > 0);
}

/** The decision with the sizes as they are typed; null while they are no sizes. */
function decided(row: Row): Decision | null {
  const tile_m = typed(row.tile);
  const relief_m = typed(row.relief) / 1000;
  const fits =
    tile_m >= 0.02 && tile_m <= 200 && relief_m >= 1e-6 && relief_m <= 50 && row.decision.title.trim() !== "";
  // what is said beside the maps stays true only while the maps are those it names
  const unchanged =
    row.decision.manifest !== null &&
    row.decision.files.every((file, k) => file.meaning === row.guess.decision.files[k]?.meaning);
  return fits ? { ...row.decision, tile_m, relief_m, manifest: unchanged ? row.decision.manifest : null } : null;
}

export function IntakeSheet({ bringing }: { bringing: Bringing }) {
  const { run, job, cancel, away, reload, choose, latest } = useStock();
  const [rows, setRows] = useState(() => bringing.proposal.sets.map((guess) => rowOf(guess, bringing.into)));
  const [chosen, setAt] = useState(0);
  const { proposal, into } = bringing;
  const at = Math.min(chosen, Math.max(0, rows.length - 1));
  const row = rows[at];
  const change = (index: number, part: Partial<Row>) =>
    setRows(rows.map((one, k) => (k === index ? { ...one, ...part } : one)));
  const others = (index: number) =>
    rows.map((one, k) => ({ index: k, title: one.decision.title })).filter((one) => one.index !== index);
  const wanted = into ? (row ? [row] : []) : rows.filter((one) => one.on);
  const decisions = wanted.map(decided);
  const ready = decisions.length > 0 && decisions.every((one) => one !== null);
  const busy = job?.state === "running";

  async function keep() {
    const done = await run(async () => {
      return api.keep(
        proposal.drop,
        decisions.filter((one) => one !== null),
        into && (await latest(into)),
      );
    });
    if (!done) return;
    useStock.setState({ bringing: null, sheet: "wall", job: null });
    await reload();
    const [first] = done.result.sets;
    if (first) await choose(first);
  }

  return (
    <section aria-label="Bring in" className="grid min-h-0 min-w-0 grid-cols-[1fr_372px]">
      <div className="flex min-h-0 min-w-0 flex-col">
        <header className="flex items-baseline gap-3 border-b border-rule px-4 py-2">
          <h1 className="text-[17px] font-semibold">
            {into
              ? `New files for ${into.description.title}`
              : `${rows.length} ${rows.length === 1 ? "set" : "sets"} found`}
          </h1>
          <span className="text-quiet">Nothing is stored yet. Check what each file is taken for.</span>
        </header>
        <div className="min-h-0 flex-1 overflow-y-auto">
          {proposal.refused.length > 0 && (
            <ul aria-label="Not taken" className="m-3 border-l-4 border-accent pl-2">
              {proposal.refused.map((text) => (
                <li key={text}>{text}.</li>
              ))}
            </ul>
          )}
          {rows.length === 0 && (
            <p className="m-4 border border-dashed border-ink p-8 text-center text-base">
              No image here can be taken. Drop other files, or go back to the wall.
            </p>
          )}
          {rows.map((one, k) => (
            <SetRow
              key={`${k} ${one.guess.decision.title}`}
              row={one}
              on={k === at}
              choosable={!into}
              others={others(k)}
              onSelect={() => setAt(k)}
              onChange={(part) => change(k, part)}
              onMove={(file, to) => setRows(moved(rows, k, file, to))}
            />
          ))}
        </div>
        <footer className="flex items-center gap-3 border-t border-ink px-4 py-2">
          {busy ? (
            <>
              <span className="flex-1">
                <JobProgress job={job} doneText="" />
              </span>
              <button type="button" className="key" onClick={cancel}>
                Cancel
              </button>
            </>
          ) : (
            <>
              <button type="button" className="key-strong" disabled={!ready} onClick={() => void keep()}>
                {into ? "Replace the files" : `Keep ${wanted.length === 1 ? "the set" : `${wanted.length} sets`}`}
              </button>
              <button type="button" className="key" onClick={away}>
                Take nothing
              </button>
              {!ready && wanted.length > 0 && (
                <span role="alert" className="text-warn">
                  Each set needs a name, 0.02 to 200 m per repeat and a relief up to 50 m.
                </span>
              )}
            </>
          )}
        </footer>
      </div>
      {row && <Judge drop={proposal.drop} row={row} into={into} onChange={(part) => change(at, part)} />}
    </section>
  );
}

interface SetRowProps {
  row: Row;
  on: boolean;
  choosable: boolean;
  others: Other[];
  onSelect: () => void;
  onChange: (part: Partial<Row>) => void;
  onMove: (file: number, to: number) => void;
}

function SetRow({ row, on, choosable, others, onSelect, onChange, onMove }: SetRowProps) {
  const { guess, decision } = row;
  return (
    <article
      className={`m-3 border ${on ? "border-ink bg-raised" : "border-rule"}`}
      onFocus={onSelect}
      onPointerDown={onSelect}
      data-set={decision.title}
    >
      <div className="flex items-center gap-3 px-3 pt-2">
        {choosable && (
          <input
            type="checkbox"
            className="accent-ink"
            aria-label={`Keep ${decision.title}`}
            checked={row.on}
            onChange={(event) => onChange({ on: event.target.checked })}
          />
        )}
        <input
          className="field max-w-72 font-semibold"
          aria-label="Name of the set"
          value={decision.title}
          maxLength={80}
          onChange={(event) => onChange({ decision: { ...decision, title: event.target.value } })}
        />
        <select
          className="field w-auto"
          aria-label="Category"
          value={decision.category}
          onChange={(event) => {
            const category = api.CATEGORIES.find((one) => one === event.target.value);
            if (category) onChange({ decision: { ...decision, category } });
          }}
        >
          {api.CATEGORIES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </div>
      <ul className="px-3">
        {guess.warnings.map((text) => (
          <li key={text} className="mt-1 border-l-4 border-warn pl-2">
            {capital(text)}.
          </li>
        ))}
      </ul>
      <table className="mt-2 w-full table-fixed text-left">
        <colgroup>
          <col className="w-[32%]" />
          <col className="w-[27%]" />
          <col />
        </colgroup>
        <tbody>
          {guess.files.map((file, k) => (
            <FileRow
              key={file.path}
              file={file}
              decision={decision}
              index={k}
              others={others}
              onChange={(next) => onChange({ decision: next })}
              onMove={(to) => onMove(k, to)}
            />
          ))}
        </tbody>
      </table>
    </article>
  );
}

interface FileRowProps {
  file: FileGuess;
  decision: Decision;
  index: number;
  others: Other[];
  onChange: (next: Decision) => void;
  onMove: (to: number) => void;
}

function FileRow({ file, decision, index, others, onChange, onMove }: FileRowProps) {
  const now = decision.files[index];
  if (!now) return null;
  const put = (part: Partial<typeof now>) =>
    onChange({ ...decision, files: decision.files.map((one, k) => (k === index ? { ...one, ...part } : one)) });
  return (
    <tr className="border-t border-rule align-top">
      <td className="px-3 py-1">
        <span className="block truncate font-medium" title={file.path}>
          {file.name}
        </span>
        <span className="figures text-xs text-quiet">
          {file.widthPx} × {file.heightPx} · {file.bits} bit · {file.channels === 1 ? "grey" : "colour"}
        </span>
      </td>
      <td className="py-1 pr-2">
        <select
          className="field"
          aria-label={`What ${file.name} is`}
          value={now.meaning}
          onChange={(event) => {
            const chosen = MEANINGS.find((one) => one.meaning === event.target.value);
            if (chosen) put({ meaning: chosen.meaning });
            else onMove(Number(event.target.value));
          }}
        >
          {MEANINGS.map((one) => (
            <option key={one.meaning} value={one.meaning}>
              {one.label}
            </option>
          ))}
          {others.length > 0 && (
            <optgroup label="belongs to another set">
              {others.map((one) => (
                <option key={one.index} value={one.index}>
                  {one.title}
                </option>
              ))}
            </optgroup>
          )}
        </select>
        {now.meaning === "normal" && (
          <label className="flex items-baseline gap-1.5 text-xs">
            <input
              type="checkbox"
              className="accent-ink"
              checked={now.turn_green}
              onChange={(event) => put({ turn_green: event.target.checked })}
            />
            green points down: turn it over
          </label>
        )}
      </td>
      <td className="py-1 pr-3">
        <span className={now.meaning === file.meaning ? "" : "text-quiet line-through"}>{file.reason}</span>
        <span className="figures text-xs text-quiet"> · {shown(file.sure * 100, 0)}% sure</span>
        {file.warnings.map((text) => (
          <span key={text} className="block text-warn">
            {capital(text)}.
          </span>
        ))}
      </td>
    </tr>
  );
}

/** Another size has as much more relief, as long as that is the one read off the normal map. */
function withTile(row: Row, tile: string): Partial<Row> {
  const share = row.guess.reliefShare;
  const metres = typed(tile);
  if (share === null || !(metres > 0)) return { tile };
  return { tile, relief: String(Number((share * metres * 1000).toFixed(2))) };
}

function Judge({
  drop,
  row,
  into,
  onChange,
}: {
  drop: string;
  row: Row;
  into: SetState | null;
  onChange: (part: Partial<Row>) => void;
}) {
  const [near, setNear] = useState(false);
  const now = decided(row);
  const tile = now?.tile_m ?? row.decision.tile_m;
  const judged = now ?? row.decision;
  return (
    <aside className="flex min-h-0 flex-col border-l border-ink">
      <div className="grid h-[330px] shrink-0 bg-booth">
        <LitSample
          subject={JSON.stringify([drop, judged.files, judged.tile_m, judged.relief_m])}
          acrossM={near ? tile : Math.max(6, Math.min(tile, 60))}
          figure={!near}
          label={`${row.decision.title} at its size, with a standing figure`}
          ask={(view) => api.judge(drop, judged, view)}
        />
      </div>
      <div className="space-y-2 overflow-y-auto p-3">
        <label className="flex items-baseline gap-1.5">
          <input
            type="checkbox"
            className="accent-ink"
            checked={near}
            onChange={(event) => setNear(event.target.checked)}
          />
          One repeat from above, without the figure
        </label>
        <h2 className="text-base font-semibold">How large is it?</h2>
        <div className="grid grid-cols-2 gap-3">
          <label className="block">
            <span className="heading block">Metres per repeat</span>
            <input
              className="field mt-0.5"
              inputMode="decimal"
              value={row.tile}
              onChange={(event) => onChange(withTile(row, event.target.value))}
            />
          </label>
          <label className="block">
            <span className="heading block">Relief, mm</span>
            <input
              className="field mt-0.5"
              inputMode="decimal"
              value={row.relief}
              onChange={(event) => onChange({ relief: event.target.value })}
            />
          </label>
        </div>
        <p className="text-quiet">
          {into
            ? `${into.description.title} keeps its ${shown(into.description.tile_m, 2)} m`
            : `${shown(row.guess.decision.tile_m, 2)} m is ${row.guess.tileReason}`}
          {row.guess.reliefShare === null ? "" : "; the relief is read off the normal map and follows"}. The figure is
          1.75 m tall: do stones, blades and boards have the size they should beside it?
        </p>
      </div>
    </aside>
  );
}
