/** Where a wear comes from: its overlay, its histogram and which of it counts, and what its generator can be told. */

import { CATALOGUE } from "../../../generated/catalogue";
import { numberOf, type Spanned } from "../../../state/numbers";
import { useEffect, useState } from "react";
import * as api from "../../../api/wear";
import type { Known, WearKind } from "../../../api/wear";
import type { AlongLevels, AlongPath, Range, Wear } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { Track } from "../../../parts/track";
import { useLatest } from "../../../parts/use-latest";
import { useRange } from "../../../state/ground";
import { inWear, useSite } from "../../../state/site";
import { useWhileStill } from "../../../state/still";
import { useTools } from "../../../state/tools";
import { ofWear } from "../lie";
import { PlaceTracks, ProjectionTracks, RepeatsTracks, SizeTracks } from "../lie-parts";
import { OverlayPicture } from "./overlay-picture";

let asked: Promise<WearKind[]> | null = null;

function useKinds(): WearKind[] {
  const [kinds, setKinds] = useState<WearKind[]>([]);
  useEffect(() => {
    let gone = false;
    asked ??= api.kinds();
    asked.then(
      (found) => !gone && setKinds(found),
      () => (asked = null),
    );
    return () => {
      gone = true;
    };
  }, []);
  return kinds;
}

/** A change of a wear, shown while it moves and kept when it rests. */
export function useWear(wear: Wear) {
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<Wear>) => inWear(wear.id, (one) => ({ ...one, ...part }));
  return {
    show: (part: Partial<Wear>) => preview(change(part)),
    put: (what: string, part: Partial<Wear>) => keep(`${wear.name}: ${what}`, change(part)),
    drop,
  };
}

export function SourcePanel({ wear }: { wear: Wear }) {
  const kinds = useKinds();
  const { show, put, drop } = useWear(wear);
  const { source, range } = wear;
  const { value: known, trouble } = useLatest<Known>(useWhileStill(JSON.stringify(source)), () => api.known(source));
  const kind = source.kind === "made" ? kinds.find((one) => one.what === source.what) : undefined;
  const ranged = (part: Partial<Range>) => ({ range: { ...range, ...part } });
  return (
    <section aria-label="Source">
      <div className="flex gap-2.5">
        <OverlayPicture
          live
          source={source}
          turned={range.turned}
          px={256}
          className="size-[84px] shrink-0 border border-ink object-cover"
        />
        <div className="min-w-0 flex-1">
          <div style={{ height: TALL + 2 }}>{known && <Histogram known={known} range={range} />}</div>
          <p className="figures text-xs text-quiet">
            {trouble ??
              (known
                ? `${known.darkOnLight ? "dark on light" : "light on dark"}${known.sure < 0.25 ? ", not sure" : ""} · ${known.levels > 256 ? `${known.levels} levels` : `only ${known.levels} levels`}`
                : "looking…")}
          </p>
        </div>
      </div>
      {known?.note && <p className="text-xs text-warn">{known.note}</p>}
      <label
        className="my-1 flex items-center gap-1.5 text-xs"
        title="Which of it is the mark: the light parts, or the dark ones"
      >
        <input
          type="checkbox"
          aria-label="Dark marks count"
          className="accent-ink"
          checked={range.turned}
          onChange={(event) =>
            put(
              event.target.checked ? "dark marks count" : "light marks count",
              ranged({ turned: event.target.checked }),
            )
          }
        />
        dark marks count, light ones do not
      </label>
      <Track
        {...numberOf("Range", "none_at")}
        value={range.none_at}
        onMove={(v) => show(ranged({ none_at: Math.min(v, range.full_at - 0.01) }))}
        onKeep={(v) => put("range", ranged({ none_at: Math.min(v, Number((range.full_at - 0.01).toFixed(2))) }))}
        onDrop={drop}
      />
      <Track
        {...numberOf("Range", "full_at")}
        value={range.full_at}
        onMove={(v) => show(ranged({ full_at: Math.max(v, range.none_at + 0.01) }))}
        onKeep={(v) => put("range", ranged({ full_at: Math.max(v, Number((range.none_at + 0.01).toFixed(2))) }))}
        onDrop={drop}
      />
      <Track
        {...numberOf("Range", "soft")}
        value={range.soft}
        onMove={(soft) => show(ranged({ soft }))}
        onKeep={(soft) => put("soft ends", ranged({ soft }))}
        onDrop={drop}
      />
      {source.kind === "made" && kind && (
        <>
          <h3 className="mt-1.5 border-t border-rule pt-1 font-medium">{kind.title}, as drawn</h3>
          {kind.controls.map((control) => {
            const value = source.controls[control.name] ?? control.usual;
            const told = (v: number) => ({
              source: { ...source, controls: { ...source.controls, [control.name]: v } },
            });
            return (
              <Track
                key={control.name}
                label={control.label}
                value={value}
                unit={control.unit}
                least={control.least}
                most={control.most}
                step={control.step}
                usual={control.usual}
                digits={control.step < 1 ? 2 : 0}
                hint={control.about}
                onMove={(v) => show(told(v))}
                onKeep={(v) => put(control.label, told(v))}
                onDrop={drop}
              />
            );
          })}
          <button
            type="button"
            className="key mt-1"
            title="Draws another of its kind"
            onClick={() => put("another drawing", { source: { ...source, seed: (source.seed * 7 + 13) % 9973 } })}
          >
            Another drawing
          </button>
        </>
      )}
    </section>
  );
}

const WIDE = 128;
const TALL = 46;

/** How much of the overlay has each value, and from where on it counts. */
function Histogram({ known, range }: { known: Known; range: Range }) {
  const most = Math.max(...known.counts, 1);
  const at = (v: number) => (range.turned ? 1 - v : v) * WIDE;
  return (
    <svg width={WIDE} height={TALL + 2} role="img" aria-label="Histogram of the overlay">
      {known.counts.map((n, k) => {
        const tall = n > 0 ? Math.max(1, Math.pow(n / most, 0.3) * TALL) : 0;
        return (
          <rect
            key={k}
            x={(k * WIDE) / known.counts.length}
            y={TALL - tall}
            width={WIDE / known.counts.length - 0.3}
            height={tall}
            fill="#5d5f61"
          />
        );
      })}
      <path d={`M0 ${TALL}h${WIDE}`} stroke="#1c1d1e" />
      <path d={`M${at(range.none_at)} ${TALL}L${at(range.full_at)} 2`} stroke="#bf3b1c" strokeWidth="1.5" fill="none" />
    </svg>
  );
}

/** How the overlay lies: over the ground, along the levels of a measure, or along a path. */
export function LiePanel({ wear }: { wear: Wear }) {
  const { put } = useWear(wear);
  const follows = wear.follows;
  const paths = useSite((s) => s.shown?.marks.paths ?? []);
  const range = useRange();
  const first = paths[0];
  return (
    <section aria-label="Fit of the wear">
      <Segments
        label="Follows"
        value={follows.kind}
        choices={[
          { value: "ground", label: "The ground", hint: "Repeated over the ground by its own tile" },
          { value: "levels", label: "Levels", hint: "Along contours, as falling water leaves it" },
          { value: "path", label: "A path", hint: first ? "Along a drawn path" : "Draw a path first" },
        ]}
        onChoose={(kind) => {
          if (kind === "ground") put("over the ground", { follows: { kind: "ground" } });
          else if (kind === "levels")
            put("along levels", { follows: { ...levelsOf("elevation"), from_m: Math.floor(range.lowest_m) } });
          else if (first)
            put(`along ${first.name}`, {
              follows: {
                kind: "path",
                path: first.id,
                called: first.name,
                width_m: numberOf("AlongPath", "width_m").usual,
                length_m: wear.lie.tile_m,
              },
            });
          else
            useSite
              .getState()
              .say("No path on this site yet. Draw one with the path tool (L), then let wear follow it.");
        }}
      />
      {follows.kind === "ground" && (
        <div className="grid gap-2">
          <div>
            <SizeTracks of={ofWear(wear)} />
          </div>
          <ProjectionTracks of={ofWear(wear)} />
          <div>
            <p className="text-xs">Against repeats</p>
            <RepeatsTracks of={ofWear(wear)} />
          </div>
          <PlaceTracks of={ofWear(wear)} />
        </div>
      )}
      {follows.kind === "levels" && <LevelsPart wear={wear} follows={follows} />}
      {follows.kind === "path" && <PathPart wear={wear} follows={follows} />}
    </section>
  );
}

/** How it begins to follow the levels of a measure. */
function levelsOf(measure: AlongLevels["measure"]): AlongLevels {
  const found = CATALOGUE.levels.find((one) => one.measure === measure);
  if (!found) throw new Error(`nothing tells how levels of ${measure} begin`);
  return found;
}

function LevelsPart({ wear, follows }: { wear: Wear; follows: AlongLevels }) {
  const { show, put, drop } = useWear(wear);
  const range = useRange();
  const part = (change: Partial<AlongLevels>) => ({ follows: { ...follows, ...change } });
  const level = Math.floor(range.lowest_m);
  const around = CATALOGUE.levelsAroundM;
  // from a little below all of the ground to its top; hollows are measured about nought
  const ends =
    follows.measure === "elevation"
      ? { least: level - around, most: Math.ceil(range.highest_m) + around, usual: level }
      : { least: -around, most: around, usual: levelsOf(follows.measure).from_m };
  const track = (
    field: "from_m" | "spacing_m" | "wobble_m" | "wobble_size_m" | "radius_m",
    of: Spanned = numberOf("AlongLevels", field),
  ) => (
    <Track
      key={field}
      {...of}
      value={follows[field]}
      onMove={(v) => show(part({ [field]: v }))}
      onKeep={(v) => put(of.label.toLowerCase(), part({ [field]: v }))}
      onDrop={drop}
    />
  );
  return (
    <div className="mt-1.5">
      <Segments
        label="Levels of"
        value={follows.measure}
        choices={[
          { value: "elevation", label: "Elevation", hint: "Level rings, as a falling shore leaves them" },
          { value: "relative-height", label: "Hollows", hint: "Height against its surroundings: rims of pools" },
        ]}
        onChoose={(measure) =>
          put(
            `levels of ${measure}`,
            part({
              measure,
              from_m: measure === "elevation" ? level : levelsOf(measure).from_m,
              spacing_m: levelsOf(measure).spacing_m,
              once: levelsOf(measure).once,
            }),
          )
        }
      />
      {track("from_m", { ...numberOf("AlongLevels", "from_m"), ...ends })}
      {track("spacing_m")}
      {follows.measure === "relative-height" && track("radius_m")}
      {track("wobble_m")}
      {track("wobble_size_m")}
      <label className="mt-1 flex items-center gap-1.5 text-xs">
        <input
          type="checkbox"
          aria-label="Once only"
          className="accent-ink"
          checked={follows.once}
          onChange={(event) =>
            put(event.target.checked ? "once only" : "again and again", part({ once: event.target.checked }))
          }
        />
        once only, not repeated above and below
      </label>
    </div>
  );
}

function PathPart({ wear, follows }: { wear: Wear; follows: AlongPath }) {
  const { show, put, drop } = useWear(wear);
  const paths = useSite((s) => s.shown?.marks.paths ?? []);
  const there = paths.some((one) => one.id === follows.path);
  const part = (change: Partial<AlongPath>) => ({ follows: { ...follows, ...change } });
  return (
    <div className="mt-1.5">
      {!there && (
        <p className="text-warn">The path {follows.called} is gone: the wear lies nowhere until it follows another.</p>
      )}
      <label className="grid h-[27px] grid-cols-[76px_1fr] items-center gap-2">
        <span>Path</span>
        <select
          aria-label="Path that it follows"
          className="field min-w-0 py-0"
          value={there ? follows.path : ""}
          onChange={(event) => {
            const path = paths.find((one) => one.id === event.target.value);
            if (path) put(`along ${path.name}`, part({ path: path.id, called: path.name }));
          }}
        >
          {!there && <option value="">{follows.called}, gone</option>}
          {paths.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      <Track
        {...numberOf("AlongPath", "width_m")}
        value={follows.width_m}
        onMove={(width_m) => show(part({ width_m }))}
        onKeep={(width_m) => put("width", part({ width_m }))}
        onDrop={drop}
      />
      <Track
        {...numberOf("AlongPath", "length_m")}
        value={follows.length_m}
        onMove={(length_m) => show(part({ length_m }))}
        onKeep={(length_m) => put("length", part({ length_m }))}
        onDrop={drop}
      />
      {there && (
        <button type="button" className="key mt-1" onClick={() => useTools.getState().draw(follows.path)}>
          Move its points
        </button>
      )}
    </div>
  );
}
