/** What the hand does in the pictures: turn them, paint on the ground, move a path, ask what lies there. */

import { NameField } from "../../parts/name-field";
import { useAxes } from "../../state/axes";
import { numberOf, percentOf } from "../../state/numbers";
import { useState } from "react";
import * as api from "../../api/client";
import type { DrawnPath, Recipe, Thing } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { useSite } from "../../state/site";
import { useTools, type Brush } from "../../state/tools";
import { largestM, thingPainted, withoutPaintOn } from "../things/set/thing-marks";
import { readers } from "./new-marks";

export function ToolBar() {
  const { tool, take } = useTools();
  const recipe = useSite((s) => s.shown);
  if (!recipe) return null;
  const { masks, paths } = recipe.marks;
  function choose(next: typeof tool) {
    if (next === "paint")
      useTools.setState((s) => ({
        tool: "paint",
        mask:
          masks.some((one) => one.id === s.mask) || thingPainted(recipe, s.mask) ? s.mask : (masks.at(-1)?.id ?? null),
      }));
    else if (next === "path")
      useTools.setState((s) => ({
        tool: "path",
        path: paths.some((one) => one.id === s.path) ? s.path : (paths.at(-1)?.id ?? null),
      }));
    else take(next);
  }
  return (
    <div className="flex flex-wrap items-start gap-2">
      <div className="bg-raised/95">
        <Segments
          label="Hand"
          value={tool}
          choices={[
            { value: "turn", label: "Turn", hint: "Drag turns and tips a picture (Esc)" },
            { value: "probe", label: "Probe", hint: "Click says what lies there and why (P)" },
            { value: "paint", label: "Paint", hint: "Paint a mask on the ground (T)" },
            {
              value: "fit",
              label: "Fit",
              hint: "Drag the selected layer's texture on the ground; with Shift turn it (F)",
            },
            { value: "path", label: "Path", hint: "Move the points of a path (L)" },
          ]}
          onChoose={choose}
        />
      </div>
      {tool === "paint" && <PaintBar />}
      {tool === "path" && <PathBar />}
      {tool === "fit" && <FitBar />}
      {tool === "probe" && (
        <span className="figures bg-raised/95 px-2 py-[3px] text-xs">click a place in any picture</span>
      )}
    </div>
  );
}

function FitBar() {
  const axes = useAxes();
  const layer = useSite((s) => s.shown?.layers.find((one) => one.id === s.selected));
  if (!layer)
    return (
      <span className="figures bg-raised/95 px-2 py-[3px] text-xs">Select a layer first: its texture is dragged.</span>
    );
  const { fit } = layer;
  return (
    <span className="figures bg-raised/95 px-2 py-[3px] text-xs">
      drag it on the ground, Shift turns · {shown(fit.offset_east_m, 2)} m {axes.afterEast},{" "}
      {shown(fit.offset_north_m, 2)} m {axes.afterNorth}, {shown(fit.turn_deg, 0)}°
    </span>
  );
}

function PaintBar() {
  const { brush, mask } = useTools();
  const recipe = useSite((s) => s.shown);
  const thing = thingPainted(recipe, mask);
  const masks = thing?.cover.masks ?? recipe?.marks.masks ?? [];
  const current = masks.find((one) => one.id === mask);
  const set = (change: Partial<Brush>) => useTools.setState((s) => ({ brush: { ...s.brush, ...change } }));
  const across = Math.max(recipe?.ground.width_m ?? 100, recipe?.ground.depth_m ?? 100);
  const reach = recipe && thing ? 2 * largestM(recipe, thing) : across;
  if (!current) {
    return (
      <span className="figures bg-raised/95 px-2 py-[3px] text-xs">
        No mask yet: add one to a layer's rule by Add a clause, Paint in.
      </span>
    );
  }
  const share = (field: "strength" | "soft" | "flow") => {
    const { label, ...of } = percentOf("MaskStroke", field);
    return (
      <span title={of.hint}>
        {label}{" "}
        <Num
          {...of}
          label={`Brush ${label}`}
          value={Math.round(brush[field] * 100)}
          onMove={(v) => set({ [field]: v / 100 })}
          onKeep={(v) => set({ [field]: v / 100 })}
          onDrop={() => undefined}
        />
      </span>
    );
  };
  return (
    <div
      role="toolbar"
      aria-label="Brush"
      title="Shift draws straight lines, [ and ] change the size, the other button turns the picture"
      className="figures flex flex-wrap items-center gap-x-3 gap-y-1 bg-raised/95 px-2 py-[2px] text-xs"
    >
      <MarkChoice kind="masks" id={current.id} on={thing} onChoose={(id) => useTools.setState({ mask: id })} />
      <Segments
        label="Brush"
        value={brush.tool}
        choices={[
          { value: "add", label: "Add" },
          { value: "take", label: "Take away" },
          ...(thing ? [] : [{ value: "smooth", label: "Smooth" } as const]),
        ]}
        onChoose={(tool) => set({ tool })}
      />
      <span>
        size{" "}
        <Num
          {...numberOf("MaskStroke", "size_m")}
          label="Brush size"
          value={brush.size_m}
          most={reach}
          step={brush.size_m < 5 ? 0.05 : 0.5}
          digits={brush.size_m < 5 ? 2 : 1}
          perPixel={Math.max(0.02, brush.size_m / 90)}
          onMove={(size_m) => set({ size_m })}
          onKeep={(size_m) => set({ size_m })}
          onDrop={() => undefined}
        />
      </span>
      {share("strength")}
      {share("soft")}
      {share("flow")}
    </div>
  );
}

function PathBar() {
  const id = useTools((s) => s.path);
  const recipe = useSite((s) => s.shown);
  const path = recipe?.marks.paths.find((one) => one.id === id);
  const { preview, keep, drop } = useSite.getState();
  if (!path)
    return (
      <span className="figures bg-raised/95 px-2 py-[3px] text-xs">
        No path yet: add one to a layer's rule by Add a clause, Along a path.
      </span>
    );
  const number = (field: "width_m" | "soft_m" | "wobble_m" | "wobble_size_m") => {
    const { label, ...of } = numberOf("DrawnPath", field);
    return (
      <span key={field}>
        {label}{" "}
        <Num
          {...of}
          label={`Path ${label}`}
          value={path[field]}
          step={path[field] < 2 ? 0.01 : of.step}
          digits={path[field] < 2 ? 2 : of.digits}
          perPixel={Math.max(0.01, path[field] / 90)}
          onMove={(v) => preview(withPath(path.id, { [field]: v }))}
          onKeep={(v) => keep(`${path.name}: ${label} ${shown(v, 2)} m`, withPath(path.id, { [field]: v }))}
          onDrop={drop}
        />
      </span>
    );
  };
  return (
    <div
      role="toolbar"
      aria-label="Path"
      title="Drag points; a click on the ground adds one at the end, a double-click on the line one between"
      className="figures flex flex-wrap items-center gap-x-3 gap-y-1 bg-raised/95 px-2 py-[2px] text-xs"
    >
      <MarkChoice kind="paths" id={path.id} onChoose={(next) => useTools.setState({ path: next })} />
      {number("width_m")}
      {number("soft_m")}
      {number("wobble_m")}
      {number("wobble_size_m")}
      <button
        type="button"
        className="underline"
        onClick={() => keep(`${path.name}: another wobble`, withPath(path.id, { seed: (path.seed * 7 + 13) % 9973 }))}
      >
        another wobble
      </button>
    </div>
  );
}

export function withPath(id: string, change: Partial<DrawnPath>) {
  return (recipe: Recipe) => ({
    ...recipe,
    marks: { ...recipe.marks, paths: recipe.marks.paths.map((one) => (one.id === id ? { ...one, ...change } : one)) },
  });
}

interface ChoiceProps {
  kind: "masks" | "paths";
  id: string;
  /** The thing that the masks are painted on. */
  on?: Thing | null;
  onChoose: (id: string) => void;
}

/** Which mask or path is at hand; it is named, or taken away, here. */
function MarkChoice({ kind, id, on, onChoose }: ChoiceProps) {
  const recipe = useSite((s) => s.shown);
  const { keep, through } = useSite.getState();
  const [naming, setNaming] = useState(false);
  if (!recipe) return null;
  const all: readonly { id: string; name: string }[] = on ? on.cover.masks : recipe.marks[kind];
  const current = all.find((one) => one.id === id);
  const what = kind === "masks" ? "mask" : "path";
  const used = readers(recipe, id);
  if (naming) {
    return (
      <NameField
        label={`Name of the ${what}`}
        name={current?.name ?? ""}
        className="w-[150px]"
        onName={(plain) => through(`named ${plain}`, (state) => api.namePart(state.id, state.revision, id, plain))}
        onDone={() => setNaming(false)}
      />
    );
  }
  return (
    <span className="flex items-center gap-1.5">
      <select
        className="max-w-[150px] border-b border-ink bg-transparent font-semibold"
        aria-label={`Which ${what}`}
        value={id}
        onChange={(event) => onChoose(event.target.value)}
      >
        {all.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
      <button type="button" className="underline" onClick={() => setNaming(true)}>
        name
      </button>
      <button
        type="button"
        className="underline"
        title={
          used.length > 0
            ? `Read by ${used.join(", ")}: their clauses would have to be mended`
            : `No rule reads this ${what}`
        }
        onClick={() => {
          const without = (one: Recipe): Recipe => ({
            ...one,
            marks: { ...one.marks, [kind]: one.marks[kind].filter((mark) => mark.id !== id) },
          });
          keep(`took the ${what} ${current?.name ?? ""} away`, on ? withoutPaintOn(on, id) : without);
          useTools.getState().rest();
        }}
      >
        take away{used.length > 0 ? ` (read by ${used.length})` : ""}
      </button>
    </span>
  );
}
