/** The chosen set laid out: lit, repeated, its maps by role, its true size, its figures, mending and filing. */

import { inMillimetres, numberOf, type Spanned } from "../../state/numbers";
import { useState } from "react";
import * as api from "../../api/stock";
import type { SetState } from "../../api/stock";
import { JobProgress } from "../../parts/job-progress";
import { capital } from "../../parts/words";
import { Num, shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { useStock } from "../../state/stock";
import { Figures, Findings } from "./figures";
import { Filing } from "./filing";
import { LitSample } from "./lit-sample";
import { MendPanel } from "./mend-panel";
import { RepeatView } from "./repeat-view";
import { SeamMarks } from "./seam-marks";
import { metres } from "./wall";

type Tab = "figures" | "mend" | "filing";

/** A texel may be so many pixels wide where the near stand sees it nearest before one notices. */
const UNNOTICED = 1.25;

/** The size at which the near stand of the open site gets about a texel for each pixel; null without a site. */
export function neededPx(tileM: number, finestPixelM: number | null): number | null {
  if (!finestPixelM) return null;
  return 2 ** Math.min(13, Math.max(4, Math.ceil(Math.log2(tileM / finestPixelM / UNNOTICED))));
}

interface SetSheetProps {
  state: SetState;
  onReplace: () => void;
  onMakeAnew: () => void;
}

export function SetSheet({ state, onReplace, onMakeAnew }: SetSheetProps) {
  const { mend, choose, job, cancel, changed, found } = useStock();
  const [tab, setTab] = useState<Tab>("figures");
  const [figure, setFigure] = useState(false);
  const [alone, setAlone] = useState<string | null>(null);
  const busy = job?.state === "running";
  const needed = neededPx(state.description.tile_m, found?.finestPixelM ?? null);

  const shownRole = alone && state.description.maps[alone] ? alone : null;

  return (
    <section
      aria-label={state.description.title}
      className="flex min-h-0 min-w-0 flex-col border-l border-ink bg-sheet"
    >
      <SetHead state={state} needed={needed} onClose={() => void choose(null)} />
      <div className="grid h-[288px] shrink-0 grid-cols-2 gap-[2px] bg-ink">
        {shownRole ? (
          <button
            type="button"
            className="relative overflow-hidden bg-booth"
            onClick={() => setAlone(null)}
            title="back to the lit sample"
          >
            <span className="absolute inset-y-0 left-1/2 aspect-square h-full -translate-x-1/2">
              <img
                src={api.mapUrl(state, shownRole, 512)}
                alt={`${api.ROLE_TITLES[shownRole]} map`}
                className="size-full"
              />
              <SeamMarks maps={state.facts.maps.filter((map) => map.role === shownRole)} />
            </span>
            <span className="figures absolute bottom-2 left-2 bg-raised px-2 text-xs font-semibold">
              {api.ROLE_TITLES[shownRole]}, as it stands
            </span>
          </button>
        ) : (
          <LitSample
            subject={state.name + state.content}
            figure={figure}
            acrossM={figure ? 7 : state.description.tile_m}
            label={`${state.description.title}, lit, with its relief`}
            ask={(view) => api.sample(state.name, view)}
          />
        )}
        <RepeatView state={state} />
      </div>
      <div className="flex shrink-0 items-stretch gap-2 border-b border-rule px-3 py-2">
        <MapStrip state={state} alone={shownRole} onAlone={setAlone} />
        <span className="flex-1" />
        <button
          type="button"
          className={`key self-start ${figure ? "bg-ink text-raised" : ""}`}
          aria-pressed={figure}
          onClick={() => {
            setAlone(null);
            setFigure(!figure);
          }}
          title="a standing figure, 1.75 m tall, to judge the size by"
        >
          With a figure
        </button>
      </div>
      <div className="flex shrink-0 items-center gap-3 px-3 pt-2">
        <div className="w-72">
          <Segments
            label="About the set"
            value={tab}
            onChoose={setTab}
            choices={[
              { value: "figures", label: "Figures" },
              { value: "mend", label: "Mend" },
              { value: "filing", label: "Filing" },
            ]}
          />
        </div>
        {job && busy && (
          <span className="flex flex-1 items-center gap-2">
            <span className="flex-1">
              <JobProgress job={job} doneText="" />
            </span>
            <button type="button" className="key" onClick={cancel}>
              Cancel
            </button>
          </span>
        )}
        {!busy && changed && (
          <span className="figures" role="status" data-change>
            {capital(changed.label)}: worst seam {shown(changed.before.facts.seam, 1)} before,{" "}
            <b>{shown(state.facts.seam, 1)}</b> now; repetition {shown(changed.before.facts.repetition_far, 2)} before,{" "}
            <b>{shown(state.facts.repetition_far, 2)}</b> now
          </span>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto p-3">
        {tab === "figures" && (
          <div className="space-y-3">
            <Figures state={state} />
            <Findings state={state} onMend={(ask) => void mend(ask)} onShowMend={() => setTab("mend")} />
          </div>
        )}
        {tab === "mend" && (
          <MendPanel key={state.name} state={state} busy={busy} neededPx={needed} onMend={(ask) => void mend(ask)} />
        )}
        {tab === "filing" && <Filing key={state.name} state={state} onReplace={onReplace} onMakeAnew={onMakeAnew} />}
      </div>
    </section>
  );
}

function SetHead({ state, needed, onClose }: { state: SetState; needed: number | null; onClose: () => void }) {
  const { describe, step, keeping } = useStock();
  const [title, setTitle] = useState<string | null>(null);
  const [moved, setMoved] = useState<{ tile_m?: number; relief_m?: number }>({});
  const told = { ...state.description, ...moved };
  const largest = Math.max(...state.facts.maps.map((map) => map.width_px));
  const keepTitle = () => {
    const plain = title?.trim().slice(0, 80);
    setTitle(null);
    if (plain && plain !== told.title) describe("named", { title: plain });
  };
  const size = (key: "tile_m" | "relief_m", of: Spanned, factor = 1) => (
    <Num
      {...of}
      value={told[key] * factor}
      onMove={(next) => setMoved({ [key]: next / factor })}
      onKeep={(next) => {
        setMoved({});
        describe(of.label.toLowerCase(), { [key]: next / factor });
      }}
      onDrop={() => setMoved({})}
    />
  );
  return (
    <header className="shrink-0 px-3 pt-2 pb-2">
      <div className="flex items-baseline gap-3">
        {title === null ? (
          <button
            type="button"
            className="truncate text-left text-[17px] font-semibold"
            title="Press to name it"
            onClick={() => setTitle(told.title)}
          >
            {told.title}
          </button>
        ) : (
          <input
            autoFocus
            aria-label="Name of the set"
            className="field"
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            onBlur={keepTitle}
            onKeyDown={(event) => {
              if (event.key === "Enter") keepTitle();
              if (event.key === "Escape") setTitle(null);
            }}
          />
        )}
        <span className="flex-1" />
        <span className={`figures shrink-0 ${keeping ? "text-quiet" : "text-good"}`} role="status">
          {keeping ? "keeping…" : `kept ${new Date(state.changedAt).toTimeString().slice(0, 5)}`}
        </span>
        <button
          type="button"
          className="figures max-w-44 truncate text-quiet disabled:opacity-70"
          disabled={state.undo === null}
          onClick={() => step("undo")}
        >
          {state.undo === null ? "Nothing to undo" : `Undo: ${state.undo}`}
        </button>
        {state.redo !== null && (
          <button type="button" className="figures max-w-40 truncate text-quiet" onClick={() => step("redo")}>
            Redo: {state.redo}
          </button>
        )}
        <button type="button" className="key" onClick={onClose} aria-label="Close the set">
          Close
        </button>
      </div>
      <p className="figures mt-0.5">
        One repeat covers {size("tile_m", numberOf("Filed", "tile_m"))}, relief{" "}
        {size("relief_m", { ...inMillimetres("Filed", "relief_m"), digits: told.relief_m < 0.01 ? 1 : 0 }, 1000)} ·{" "}
        {shown(largest / told.tile_m, 0)} px/m
        {needed !== null && (
          <span className={largest < needed ? "font-semibold text-warn" : ""}>
            {" "}
            · the near stand needs {needed} px
            {largest < needed ? `, it has ${largest}` : largest > needed ? `: ${largest} is more than enough` : ""}
          </span>
        )}
        {needed === null && ` · ${metres(told.tile_m / largest)} per pixel`}
      </p>
    </header>
  );
}

function MapStrip({
  state,
  alone,
  onAlone,
}: {
  state: SetState;
  alone: string | null;
  onAlone: (role: string | null) => void;
}) {
  return (
    <ul aria-label="Maps" className="flex gap-2">
      {state.facts.maps.map((map) => {
        const kept = state.description.maps[map.role];
        return (
          <li key={map.role}>
            <button
              type="button"
              aria-pressed={alone === map.role}
              onClick={() => onAlone(alone === map.role ? null : map.role)}
              title={`${kept?.from_name || kept?.origin || ""}${kept?.note ? `: ${kept.note}` : ""}`}
              className={`block w-[72px] text-left ${alone === map.role ? "outline-2 outline-accent" : "hover:outline-1 hover:outline-ink"}`}
            >
              <img
                src={api.mapUrl(state, map.role, 128)}
                alt=""
                width={72}
                height={72}
                className="aspect-square bg-booth"
              />
              <span className="figures block truncate text-xs font-semibold">{api.ROLE_TITLES[map.role]}</span>
              <span className="figures block truncate text-[11px] text-quiet">
                {map.bits} bit{kept?.origin === "derived" ? ", derived" : kept?.origin === "made" ? ", made" : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
