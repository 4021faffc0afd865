/** Where and how fine: the site from above with the part and the tiles of a sheet on it, and the writing. */

import { useRef, useState, type PointerEvent } from "react";
import { cancelJob, groundMap } from "../../api/client";
import type { HandedOff, Sheet, SheetLines } from "../../api/handoff";
import type { Job } from "../../api/types";
import { Num, shown } from "../../parts/number";
import { JobProgress } from "../../parts/job-progress";
import { Track } from "../../parts/track";
import { useLatest } from "../../parts/use-latest";
import { useLetGo } from "../../parts/use-picture";
import { asLabel, useAxes } from "../../state/axes";
import { numberOf } from "../../state/numbers";
import { useSite } from "../../state/site";
import { useAsk } from "../ground/use-ask";
import { bytes, inSheet, keepSheet } from "./sheets";

const ROOM = { width: 378, height: 364 };
const TEXELS = numberOf("Fine", "value");

type Region = NonNullable<Sheet["region"]>;

interface WhereProps {
  sheet: Sheet;
  lines: SheetLines | null;
  trouble: string | null;
  job: Job<HandedOff> | null;
  onWrite: () => void;
  onJob: (job: Job<HandedOff>) => void;
}

export function Where({ sheet, lines, trouble, job, onWrite, onJob }: WhereProps) {
  return (
    <section
      aria-label="Where and how fine"
      className="flex min-h-0 flex-col overflow-y-auto border-r border-rule px-3 py-2.5"
    >
      <h2 className="heading mb-1 flex items-center justify-between">
        Where and how fine
        <span className="figures text-[12px] font-medium tracking-normal normal-case">drag a part of the site</span>
      </h2>
      <SiteMap sheet={sheet} lines={lines} job={job} />
      <RegionLine sheet={sheet} />
      <FineRows sheet={sheet} lines={lines} />
      <TileRows sheet={sheet} />
      <Against lines={lines} />
      <Writing sheet={sheet} lines={lines} trouble={trouble} job={job} onWrite={onWrite} onJob={onJob} />
    </section>
  );
}

function useMap(width: number, height: number): string | null {
  const asked = useAsk(null, null);
  const { value } = useLatest(asked ? `${asked.key} ${width} ${height}` : null, () => {
    const { shown: recipe, moving } = useSite.getState();
    if (!asked || !recipe) throw new Error("no ground");
    const { preview, measure, radius_m } = asked.ask;
    return groundMap({ recipe, moving, preview, measure, radius_m }, { width, height }, 0);
  });
  const url = value?.url ?? null;
  useLetGo(url);
  return url;
}

const within = (value: number) => Math.min(1, Math.max(0, value));

function SiteMap({ sheet, lines, job }: { sheet: Sheet; lines: SheetLines | null; job: Job | null }) {
  const ground = useSite((s) => s.shown?.ground);
  const from = useRef<{ x: number; y: number } | null>(null);
  const [drawn, setDrawn] = useState<Region | null>(null);
  const scale = ground ? Math.min(ROOM.width / ground.width_m, ROOM.height / ground.depth_m) : 1;
  const width = Math.round((ground?.width_m ?? 1) * scale);
  const height = Math.round((ground?.depth_m ?? 1) * scale);
  const url = useMap(width, height);
  if (!ground) return null;

  function at(event: PointerEvent): { x: number; y: number } {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      x: within((event.clientX - box.left) / box.width),
      y: within((event.clientY - box.top) / box.height),
    };
  }
  function between(a: { x: number; y: number }, b: { x: number; y: number }): Region | null {
    if (!ground || Math.abs(a.x - b.x) * width < 4 || Math.abs(a.y - b.y) * height < 4) return null;
    const metre = (value: number) => Math.round(value * 100) / 100;
    return {
      east_m: metre(Math.min(a.x, b.x) * ground.width_m),
      north_m: metre((1 - Math.max(a.y, b.y)) * ground.depth_m),
      width_m: metre(Math.abs(a.x - b.x) * ground.width_m),
      depth_m: metre(Math.abs(a.y - b.y) * ground.depth_m),
    };
  }
  const region = drawn ?? sheet.region;
  const running = job?.state === "running";
  const done = running ? job.stepsDone : 0;
  const tiles = drawn ? [] : (lines?.tiles ?? []);
  return (
    <div
      className="relative shrink-0 touch-none border border-ink select-none"
      style={{ width: width + 2, height: height + 2 }}
      data-part={region ? "part" : "whole"}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = at(event);
      }}
      onPointerMove={(event) => {
        if (from.current) setDrawn(between(from.current, at(event)));
      }}
      onPointerUp={(event) => {
        const part = from.current && between(from.current, at(event));
        from.current = null;
        setDrawn(null);
        if (part) keepSheet(sheet, "a part of the site", (one) => ({ ...one, region: part }));
      }}
      onPointerCancel={() => {
        from.current = null;
        setDrawn(null);
      }}
    >
      {url && <img src={url} alt="The site from above" width={width} height={height} draggable={false} />}
      <svg className="absolute inset-0" width={width} height={height} viewBox="0 0 1 1" preserveAspectRatio="none">
        {tiles.map((tile, k) => (
          <rect
            key={k}
            x={tile.left}
            y={tile.top}
            width={tile.right - tile.left}
            height={tile.bottom - tile.top}
            fill={running && k >= done ? "var(--color-sheet)" : "none"}
            fillOpacity={0.55}
            stroke={running && k === done ? "var(--color-accent)" : "var(--color-ink)"}
            strokeWidth={running && k === done ? 2 : 1}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {region && (
          <rect
            x={region.east_m / ground.width_m}
            y={1 - (region.north_m + region.depth_m) / ground.depth_m}
            width={region.width_m / ground.width_m}
            height={region.depth_m / ground.depth_m}
            fill="none"
            stroke="var(--color-accent)"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      {running && job.steps > 1 && (
        <span className="figures absolute bottom-2 left-2 bg-raised/90 px-1.5">
          {job.message} · {job.stepsDone} of {job.steps} done
        </span>
      )}
    </div>
  );
}

function RegionLine({ sheet }: { sheet: Sheet }) {
  const ground = useSite((s) => s.shown?.ground);
  const axes = useAxes();
  if (!ground) return null;
  const region = sheet.region ?? { east_m: 0, north_m: 0, width_m: ground.width_m, depth_m: ground.depth_m };
  const set = (change: Partial<Region>) =>
    inSheet(sheet.id, (one) => {
      const next = { ...region, ...change };
      return {
        ...one,
        region: {
          ...next,
          width_m: Math.min(next.width_m, ground.width_m - next.east_m),
          depth_m: Math.min(next.depth_m, ground.depth_m - next.north_m),
        },
      };
    });
  const { preview, keep, drop } = useSite.getState();
  const num = (label: string, field: keyof Region, most: number) => (
    <Num
      label={label}
      value={region[field]}
      unit="m"
      least={field === "width_m" || field === "depth_m" ? 0.1 : 0}
      most={most}
      step={0.1}
      digits={1}
      perPixel={Math.max(ground.width_m / 400, 0.1)}
      onMove={(value) => preview(set({ [field]: value }))}
      onKeep={(value) => keep(`${sheet.name}: ${label.toLowerCase()}`, set({ [field]: value }))}
      onDrop={drop}
    />
  );
  return (
    <div className="figures mt-1.5 flex items-center gap-1.5 whitespace-nowrap">
      <span className="text-quiet">from</span>
      {num(`${asLabel(axes.east)} of the part`, "east_m", ground.width_m - 0.1)}
      {num(`${asLabel(axes.north)} of the part`, "north_m", ground.depth_m - 0.1)}
      <span className="text-quiet">on</span>
      {num("Width of the part", "width_m", ground.width_m)}×{num("Depth of the part", "depth_m", ground.depth_m)}
      {sheet.region && (
        <button
          type="button"
          className="ml-auto underline"
          onClick={() => keepSheet(sheet, "the whole site", (one) => ({ ...one, region: null }))}
        >
          whole site
        </button>
      )}
    </div>
  );
}

function FineRows({ sheet, lines }: { sheet: Sheet; lines: SheetLines | null }) {
  const ground = useSite((s) => s.shown?.ground);
  if (!ground) return null;
  const longer = Math.max(ground.width_m, ground.depth_m);
  const { by, value } = sheet.fine;
  const texel = by === "pixels" ? longer / value : by === "px-per-m" ? 1 / value : value;
  const { preview, keep, drop } = useSite.getState();
  const set = (fine: Sheet["fine"]) => inSheet(sheet.id, (one) => ({ ...one, fine }));
  const row = (label: string, hint: string, fine: (value: number) => Sheet["fine"], spans: Spans) => (
    <Track
      label={label}
      hint={hint}
      {...spans}
      decades
      onMove={(next) => preview(set(fine(next)))}
      onKeep={(next) => keep(`${sheet.name}: ${label.toLowerCase()}`, set(fine(next)))}
      onDrop={drop}
    />
  );
  return (
    <div className="mt-1.5">
      {row(TEXELS.label, TEXELS.hint, (px) => ({ by: "pixels", value: Math.round(px) }), {
        ...TEXELS,
        value: Math.round(longer / texel),
      })}
      {row("One texel", "So large wherever the site ends", (m) => ({ by: "m-per-texel", value: m }), {
        value: Number(texel.toPrecision(6)),
        unit: "m",
        least: Number((longer / TEXELS.most).toFixed(4)),
        most: Number((longer / TEXELS.least).toFixed(2)),
        step: 0.0001,
        digits: texel >= 1 ? 2 : texel >= 0.1 ? 3 : 4,
        usual: Number((longer / TEXELS.usual).toFixed(4)),
      })}
      {row("Density", "So many on a metre", (density) => ({ by: "px-per-m", value: density }), {
        value: Number((1 / texel).toPrecision(6)),
        unit: "px/m",
        least: Number((TEXELS.least / longer).toFixed(4)),
        most: Number((TEXELS.most / longer).toFixed(2)),
        step: 0.001,
        digits: 2,
        usual: Number((TEXELS.usual / longer).toFixed(2)),
      })}
      {lines && lines.entries.length === 0 && <p className="text-quiet">Nothing is on this sheet yet.</p>}
    </div>
  );
}

interface Spans {
  value: number;
  unit: string;
  least: number;
  most: number;
  step: number;
  digits?: number;
  usual: number;
}

function TileRows({ sheet }: { sheet: Sheet }) {
  const { preview, keep, drop } = useSite.getState();
  const set = (change: Partial<Sheet["tiles"]>) =>
    inSheet(sheet.id, (one) => ({ ...one, tiles: { ...one.tiles, ...change } }));
  const hands = (field: keyof Sheet["tiles"], label: string, more: Partial<Sheet["tiles"]> = {}) => ({
    value: sheet.tiles[field],
    onMove: (value: number) => preview(set({ [field]: value, ...more })),
    onKeep: (value: number) => keep(`${sheet.name}: ${label}`, set({ [field]: value, ...more })),
    onDrop: drop,
  });
  return (
    <div className="grid grid-cols-[76px_1fr] items-center gap-x-2">
      <span>Tiles</span>
      <span className="figures flex h-[27px] items-center gap-1.5">
        <Num {...numberOf("Tiling", "columns")} {...hands("columns", "tiles across", { side_px: 0 })} />
        <span className="mr-2 text-quiet">across</span>
        <Num {...numberOf("Tiling", "rows")} {...hands("rows", "tiles down", { side_px: 0 })} />
        <span className="text-quiet">down,</span>
        <span className="text-quiet">or of</span>
        <Num {...numberOf("Tiling", "side_px")} {...hands("side_px", "size of tiles")} />
      </span>
      <span title={numberOf("Tiling", "border_px").hint}>Border</span>
      <span className="figures flex h-[27px] items-center gap-1.5">
        <Num {...numberOf("Tiling", "border_px")} {...hands("border_px", "border")} />
        <span className="text-quiet">of its neighbours, repeated</span>
      </span>
    </div>
  );
}

function Against({ lines }: { lines: SheetLines | null }) {
  if (!lines?.setsPxPerM) return null;
  const [coarsest, finest] = lines.setsPxPerM;
  const density = 1 / lines.mPerTexel;
  const digits = (value: number) => (value >= 100 ? 0 : value >= 10 ? 1 : 2);
  return (
    <p className="figures mt-1 text-quiet">
      {shown(density, digits(density))} px/m; the sets hold {shown(coarsest, 0)} to {shown(finest, 0)} px/m
      {density < coarsest / 2 && (
        <>
          : <b className="font-semibold text-warn">coarser than the sets</b>
        </>
      )}
      {density > finest * 2 && (
        <>
          : <b className="font-semibold text-warn">finer than any set</b>
        </>
      )}
    </p>
  );
}

function Writing({ sheet, lines, trouble, job, onWrite, onJob }: WhereProps) {
  const keeping = useSite((s) => s.keeping);
  const running = job?.state === "running";
  const { say } = useSite.getState();
  return (
    <div className="mt-auto border-t border-rule pt-2">
      {!lines && !trouble && sheet.entries.length > 0 && (
        <p role="status" className="text-quiet">
          Asking the ground and the cover…
        </p>
      )}
      {trouble ? (
        <p role="alert" className="text-warn">
          {trouble}
        </p>
      ) : (
        lines && (
          <p className="figures">
            about {bytes(lines.diskBytes)} on disk · {bytes(lines.memoryBytes)} in memory, {bytes(lines.blockBytes)}{" "}
            block-compressed
          </p>
        )
      )}
      {job && (
        <div className="mt-1.5">
          <JobProgress job={job} doneText="written, read back and compared" />
        </div>
      )}
      <div className="mt-1.5 flex justify-end">
        {running ? (
          <button
            type="button"
            className="key"
            onClick={() =>
              void cancelJob<HandedOff>(job.id).then(onJob, (error: unknown) =>
                say(error instanceof Error ? error.message : String(error)),
              )
            }
          >
            Cancel
          </button>
        ) : (
          <button
            type="button"
            className="key-strong w-full"
            disabled={!lines || trouble !== null || keeping}
            onClick={onWrite}
          >
            Write {sheet.name}
          </button>
        )}
      </div>
    </div>
  );
}
