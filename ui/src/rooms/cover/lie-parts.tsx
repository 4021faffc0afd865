/** The controls of how an image lies: tile, turn, projection, against repeats, place; of layers and of wear alike. */

import { asLabel, useAxes } from "../../state/axes";
import { numberOf, percentOf } from "../../state/numbers";
import type { ReactNode } from "react";
import type { Lie, Repeats } from "../../generated/recipe";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import type { Lying } from "./lie";
import type { PartTrack } from "./use-tracks";

/** A change of how something lies, kept under a name. */
export function useLie(of: Lying) {
  const { preview, keep, drop } = useSite.getState();
  return {
    show: (part: Partial<Lie>) => preview(of.change(part)),
    keep: (what: string, part: Partial<Lie>) => keep(`${of.name}: ${what}`, of.change(part)),
    drop,
  };
}

type NumberOf = { [K in keyof Lie]: Lie[K] extends number | null ? K : never }[keyof Lie];

export function useLieTrack(of: Lying) {
  const lie = useLie(of);
  return function track({ field, ...rest }: PartTrack<NumberOf>) {
    return (
      <Track
        key={field}
        {...rest}
        value={of.lie[field] ?? 0}
        onMove={(value) => lie.show({ [field]: value })}
        onKeep={(value) => lie.keep(rest.label.toLowerCase(), { [field]: value })}
        onDrop={lie.drop}
      />
    );
  };
}

export function SizeTracks({ of, children }: { of: Lying; children?: ReactNode }) {
  const track = useLieTrack(of);
  const lie = useLie(of);
  const { tile_m, tile_down_m, mirror } = of.lie;
  return (
    <>
      {track({
        field: "tile_m",
        ...numberOf("Lie", "tile_m"),
        ...(tile_down_m === null ? {} : { label: "Tile across" }),
      })}
      {tile_down_m !== null &&
        track({
          field: "tile_down_m",
          ...numberOf("Lie", "tile_m"),
          label: "Tile down",
          usual: tile_m,
          hint: "Metres per repeat down the texture",
        })}
      {track({ field: "turn_deg", ...numberOf("Lie", "turn_deg") })}
      {children}
      <div className="mt-0.5 mb-1 flex flex-wrap gap-x-3 text-xs">
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            aria-label="Both ways alike"
            className="accent-ink"
            checked={tile_down_m === null}
            onChange={(event) =>
              lie.keep(event.target.checked ? "one tile size" : "tile sizes apart", {
                tile_down_m: event.target.checked ? null : tile_m,
              })
            }
          />
          both ways alike
        </label>
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            aria-label="Mirrored"
            className="accent-ink"
            checked={mirror}
            onChange={(event) => lie.keep("mirror", { mirror: event.target.checked })}
          />
          mirrored
        </label>
      </div>
    </>
  );
}

export function ProjectionTracks({ of, children }: { of: Lying; children?: ReactNode }) {
  const track = useLieTrack(of);
  const lie = useLie(of);
  const { projection } = of.lie;
  return (
    <div>
      <Segments
        label="Projection"
        value={projection}
        choices={[
          {
            value: "above",
            label: "Above",
            hint: "Straight down: for flat ground; it smears where the ground is steep",
          },
          { value: "triplanar", label: "Triplanar", hint: "On three planes, each where the ground faces it" },
          { value: "downhill", label: "Downhill", hint: "Down the texture is down the slope: for scree and runs" },
          { value: "side", label: "Side", hint: "From one side, for a wall" },
        ]}
        onChoose={(next) => lie.keep(`projected ${next}`, { projection: next })}
      />
      {projection === "triplanar" && (
        <>
          {track({ field: "plane_edge", ...numberOf("Lie", "plane_edge") })}
          {track({ field: "steep_turn_east_deg", ...numberOf("Lie", "steep_turn_east_deg") })}
          {track({ field: "steep_turn_north_deg", ...numberOf("Lie", "steep_turn_north_deg") })}
          {children}
        </>
      )}
      {projection === "side" && track({ field: "side_deg", ...numberOf("Lie", "side_deg") })}
    </div>
  );
}

export function RepeatsTracks({ of, children }: { of: Lying; children?: ReactNode }) {
  const lie = useLie(of);
  const { repeats } = of.lie;
  const part = (change: Partial<Repeats>) => ({ repeats: { ...repeats, ...change } });
  return (
    <div>
      <Segments
        label="Against repeats"
        value={repeats.kind}
        choices={[
          { value: "none", label: "Off", hint: "Tile by tile as it is" },
          { value: "shift", label: "Shift", hint: "Patches are shifted: directions stay, as bedded rock needs" },
          { value: "turn", label: "Turn", hint: "Patches are shifted and turned: for gravel, grass, mud" },
          { value: "second", label: "2nd scale", hint: "A larger copy is mixed in from afar" },
        ]}
        onChoose={(kind) => lie.keep(`against repeats: ${kind}`, part({ kind }))}
      />
      {repeats.kind !== "none" && (
        <Track
          {...percentOf("Repeats", "strength")}
          value={Math.round(repeats.strength * 100)}
          onMove={(v) => lie.show(part({ strength: v / 100 }))}
          onKeep={(v) => lie.keep("strength against repeats", part({ strength: v / 100 }))}
          onDrop={lie.drop}
        />
      )}
      {repeats.kind === "second" && (
        <Track
          {...numberOf("Repeats", "second_scale")}
          value={repeats.second_scale}
          onMove={(v) => lie.show(part({ second_scale: v }))}
          onKeep={(v) => lie.keep("scale of the larger copy", part({ second_scale: v }))}
          onDrop={lie.drop}
        />
      )}
      {children}
    </div>
  );
}

export function PlaceTracks({ of, children }: { of: Lying; children?: ReactNode }) {
  const track = useLieTrack(of);
  const tool = useTools((s) => s.tool);
  const axes = useAxes();
  const steep = of.lie.projection === "triplanar" || of.lie.projection === "side";
  return (
    <div>
      {track({ field: "offset_east_m", ...numberOf("Lie", "offset_east_m"), label: asLabel(axes.east) })}
      {track({ field: "offset_north_m", ...numberOf("Lie", "offset_north_m"), label: asLabel(axes.north) })}
      {steep && track({ field: "offset_up_m", ...numberOf("Lie", "offset_up_m"), label: asLabel(axes.up) })}
      <div className="mt-1 flex gap-2">
        <button
          type="button"
          className="key flex-1 px-1"
          aria-pressed={tool === "fit"}
          title="Drag the texture where it lies, in any picture; with Shift turn it (F)"
          onClick={() => useTools.getState().take(tool === "fit" ? "turn" : "fit")}
        >
          {tool === "fit" ? "Let go" : "Move on ground"}
        </button>
        {children}
      </div>
    </div>
  );
}
