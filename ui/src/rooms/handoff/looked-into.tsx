/** A file looked into, before it is written or after: its texels at any size, their numbers, how they are spread. */

import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import * as api from "../../api/handoff";
import type { Entry, HandedOff, LookedInto as Looked, Sheet, SheetLines, Window } from "../../api/handoff";
import { shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { usePicture } from "../../parts/use-picture";
import { useSite } from "../../state/site";
import { FORMATS, keepEntry, typeLabel, useAsked, useEntry, useHandoff } from "./sheets";

const WIDE = 236;
const HIGH = 168;
/** Screen pixels to a texel. */
const ZOOMS = [1 / 64, 1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8] as const;
const ONE_TO_ONE = 6;

interface LookedIntoProps {
  sheet: Sheet;
  names: string[];
  entry: SheetLines["entries"][number] | null;
  landed: HandedOff | null;
}

function zoomText(zoom: number): string {
  return zoom >= 1 ? `${zoom}:1` : `1:${Math.round(1 / zoom)}`;
}

export function LookedInto({ sheet, names, entry, landed }: LookedIntoProps) {
  const chosen = useHandoff((s) => s.file);
  const file = names.includes(chosen ?? "") ? chosen : (names[0] ?? null);
  const of = landed?.files.find((one) => one.name === file) ?? entry;
  const [level, setLevel] = useState(ONE_TO_ONE);
  const [centre, setCentre] = useState({ x: 0.5, y: 0.5 });
  const zoom = ZOOMS[level] ?? 1;
  const size = { width: of?.widthPx ?? 1, height: of?.heightPx ?? 1 };
  const window = windowOf(size, centre, zoom);
  const looked = useLooked(sheet, file, landed, window);
  const deeper = deeperOf(sheet, useEntry());
  return (
    <section
      aria-label="Looked into"
      className="flex min-h-0 flex-col overflow-y-auto border-l border-rule px-3 py-2.5"
    >
      <h2 className="heading mb-1.5 flex items-center justify-between">
        Looked into
        <span className="figures flex items-center gap-1 text-[12px] font-medium tracking-normal text-ink normal-case">
          <Step label="Smaller" sign="−" onStep={() => setLevel(Math.max(0, level - 1))} />
          {zoomText(zoom)}
          <Step label="Larger" sign="+" onStep={() => setLevel(Math.min(ZOOMS.length - 1, level + 1))} />
        </span>
      </h2>
      {names.length > 1 && (
        <select
          aria-label="File that is looked into"
          className="field mb-1.5 shrink-0"
          value={file ?? ""}
          onChange={(event) => useHandoff.setState({ file: event.target.value })}
        >
          {names.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      )}
      <Texels
        looked={looked.value}
        window={window}
        zoom={zoom}
        trouble={looked.trouble}
        onMove={(dx, dy) =>
          setCentre({ x: within(centre.x - dx / zoom / size.width), y: within(centre.y - dy / zoom / size.height) })
        }
        onZoom={(by) => setLevel(Math.min(ZOOMS.length - 1, Math.max(0, level + by)))}
      />
      {looked.value && <Spread looked={looked.value} onDeeper={landed ? null : deeper} />}
    </section>
  );
}

/** What gives an entry of 8 bits 16, where its format has them. */
function deeperOf(sheet: Sheet, entry: Entry | null): (() => void) | null {
  if (entry?.kind !== "maps" || entry.type !== "uint8") return null;
  const form = FORMATS.find((one) => one.format === entry.format);
  if (!form?.types.includes("uint16")) return null;
  return () => keepEntry(sheet, entry, typeLabel("uint16"), { type: "uint16" });
}

const within = (value: number) => Math.min(1, Math.max(0, value));

function Step({ label, sign, onStep }: { label: string; sign: string; onStep: () => void }) {
  return (
    <button type="button" aria-label={label} className="size-6 border border-ink leading-none" onClick={onStep}>
      {sign}
    </button>
  );
}

function windowOf(size: { width: number; height: number }, centre: { x: number; y: number }, zoom: number): Window {
  const step = zoom >= 1 ? 1 : Math.round(1 / zoom);
  const scale = Math.max(zoom, 1);
  const columns = Math.max(1, Math.min(Math.ceil(WIDE / scale), Math.ceil(size.width / step)));
  const rows = Math.max(1, Math.min(Math.ceil(HIGH / scale), Math.ceil(size.height / step)));
  const from = (at: number, whole: number, count: number) =>
    Math.max(0, Math.min(Math.round(at * whole - (count * step) / 2), whole - count * step));
  return { left: from(centre.x, size.width, columns), top: from(centre.y, size.height, rows), columns, rows, step };
}

function useLooked(sheet: Sheet, file: string | null, landed: HandedOff | null, window: Window) {
  const site = useSite((s) => s.state?.id ?? null);
  const moving = useSite((s) => s.moving);
  const changes = useAsked(sheet);
  const of = landed ? landed.folder : `${sheet.id} ${changes}`;
  const key = site && file && !moving ? `${of} ${file} ${JSON.stringify(window)}` : null;
  return useLatest<Looked>(key, () => {
    const now = useSite.getState().shown;
    if (!site || !file || !now) throw new Error("no file");
    return landed ? api.lookLanded(landed.folder, file, window) : api.lookInto(site, now, sheet.id, file, window);
  });
}

interface TexelsProps {
  looked: Looked | null;
  window: Window;
  zoom: number;
  trouble: string | null;
  onMove: (dx: number, dy: number) => void;
  onZoom: (by: number) => void;
}

function Texels({ looked, window, zoom, trouble, onMove, onZoom }: TexelsProps) {
  const [pointed, setPointed] = useState<{ x: number; y: number } | null>(null);
  const drag = useRef<{ x: number; y: number } | null>(null);
  const picture = usePicture(looked?.picture ?? null);
  const numbers = useMemo(() => (looked ? api.numbersOf(looked) : null), [looked]);
  const scale = Math.max(zoom, 1);
  const width = (looked?.columns ?? window.columns) * scale;
  const height = (looked?.rows ?? window.rows) * scale;
  const at = pointed ?? { x: Math.floor(window.columns / 2), y: Math.floor(window.rows / 2) };

  function keyed(event: KeyboardEvent) {
    const way = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (way) onMove((way[0] ?? 0) * 40, (way[1] ?? 0) * 40);
    else if (event.key === "+" || event.key === "=") onZoom(1);
    else if (event.key === "-") onZoom(-1);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function moved(event: PointerEvent) {
    const box = event.currentTarget.getBoundingClientRect();
    setPointed({
      x: Math.floor((event.clientX - box.left) / scale),
      y: Math.floor((event.clientY - box.top) / scale),
    });
  }
  return (
    <>
      <div
        role="application"
        aria-label="Texels: drag or use the arrows to move, plus and minus for their size"
        tabIndex={0}
        className="shrink-0 overflow-hidden border border-ink bg-booth"
        style={{ width: WIDE + 2, height: HIGH + 2 }}
        onKeyDown={keyed}
        onWheel={(event) => onZoom(event.deltaY < 0 ? 1 : -1)}
        onPointerLeave={() => setPointed(null)}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerMove={moved}
        onPointerUp={(event) => {
          const from = drag.current;
          drag.current = null;
          if (from) onMove(event.clientX - from.x, event.clientY - from.y);
        }}
      >
        {looked && picture ? (
          <img
            src={picture}
            alt={`${looked.name} at ${zoomText(zoom)}`}
            width={width}
            height={height}
            draggable={false}
            className="block max-w-none"
            style={{ imageRendering: "pixelated" }}
          />
        ) : (
          <p className="p-2 text-quiet">{trouble ?? "Looking…"}</p>
        )}
      </div>
      <p className="figures mt-1 flex justify-between gap-2" data-pointed>
        {looked && numbers && at.x >= 0 && at.y >= 0 && at.x < looked.columns && at.y < looked.rows ? (
          <>
            <span className="text-quiet">
              x {looked.left + at.x * looked.step} y {looked.top + at.y * looked.step}
            </span>
            <span className="font-semibold select-text">{valuesAt(looked, numbers, at)}</span>
          </>
        ) : (
          <span className="text-quiet">{trouble ?? "point at a texel"}</span>
        )}
      </p>
    </>
  );
}

function valuesAt(looked: Looked, numbers: Float32Array, at: { x: number; y: number }): string {
  const channels = looked.channels.length;
  const from = (at.y * looked.columns + at.x) * channels;
  const unit = looked.units[0] ?? "";
  const digits = unit ? 3 : channels > 3 ? 2 : 3;
  const all = Array.from(numbers.subarray(from, from + channels), (value) => shown(value, digits));
  return `${all.join(" · ")}${unit && ` ${unit}`}`;
}

function Spread({ looked, onDeeper }: { looked: Looked; onDeeper: (() => void) | null }) {
  return (
    <ul className="mt-1 grid gap-1">
      {looked.spread.map((one) => {
        const most = Math.max(1, ...one.counts);
        const line = one.counts.map((count, k) => `${k} ${(1 - Math.sqrt(count / most)) * 22}`).join(" L");
        const digits = one.unit ? 2 : 3;
        return (
          <li key={one.name} className="figures text-[12px]">
            <div className="flex justify-between">
              <span className="truncate">{one.name}</span>
              <span className="text-quiet">
                {shown(one.low, digits)} to {shown(one.high, digits)} {one.unit}
              </span>
            </div>
            <svg viewBox={`0 0 ${one.counts.length - 1} 22`} preserveAspectRatio="none" className="h-[22px] w-full">
              <path d={`M0 22 L${line} L${one.counts.length - 1} 22Z`} fill="var(--color-quiet)" />
            </svg>
            {one.levels > 1 && one.levels < 100 && one.high > one.low && (
              <span className="text-warn">
                only {one.levels} different codes
                {onDeeper && (
                  <>
                    {" · "}
                    <button type="button" className="min-h-6 underline" onClick={onDeeper}>
                      16 bit
                    </button>
                  </>
                )}
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}
