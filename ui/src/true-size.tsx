/** The site's true size and range: changed at any time without loss, since heights are kept as they came. */

import { useState } from "react";
import type { Ground, Recipe } from "./generated/recipe";
import { shown } from "./parts/number";
import { Panel } from "./parts/panel";
import { useSite } from "./state/site";

type Field = "width_m" | "depth_m" | "lowest_m" | "highest_m";

const FIELDS: readonly { field: Field; label: string }[] = [
  { field: "width_m", label: "Width, east–west" },
  { field: "depth_m", label: "Depth, north–south" },
  { field: "lowest_m", label: "Lowest elevation" },
  { field: "highest_m", label: "Highest elevation" },
];

export function sizeText(width: number, depth: number): string {
  const km = Math.max(width, depth) >= 1000;
  const one = (v: number) => (km ? shown(v / 1000, v % 1000 === 0 ? 0 : 1) : shown(v, v % 1 === 0 ? 0 : 1));
  return `${one(width)} × ${one(depth)} ${km ? "km" : "m"}`;
}

/** The ground at another size; the peg keeps its place on it. */
function resized(recipe: Recipe, change: Partial<Ground>): Recipe {
  const ground = { ...recipe.ground, ...change };
  const { peg } = recipe;
  return {
    ...recipe,
    ground,
    peg: {
      east_m: (peg.east_m / recipe.ground.width_m) * ground.width_m,
      north_m: (peg.north_m / recipe.ground.depth_m) * ground.depth_m,
    },
  };
}

function complaint(ground: Ground): string | null {
  if (!FIELDS.every(({ field }) => Number.isFinite(ground[field]))) return "expected four numbers";
  if (ground.width_m <= 0 || ground.depth_m <= 0) return "expected a width and a depth above 0 m";
  if (ground.width_m > 200_000 || ground.depth_m > 200_000) return "expected at most 200 km";
  if (ground.highest_m <= ground.lowest_m) return "expected the highest above the lowest";
  return null;
}

export function TrueSize() {
  const ground = useSite((s) => s.state?.recipe.ground);
  const [open, setOpen] = useState(false);
  if (!ground) return null;
  return (
    <Panel
      title="True size"
      width={300}
      open={open}
      onOpen={setOpen}
      trigger={
        <button type="button" className="figures whitespace-nowrap text-quiet" title="Change the true size of the ground">
          {sizeText(ground.width_m, ground.depth_m)} · {shown(ground.lowest_m, 0)}–{shown(ground.highest_m, 0)} m
        </button>
      }
    >
      <SizeForm key={FIELDS.map(({ field }) => ground[field]).join(" ")} ground={ground} onDone={() => setOpen(false)} />
    </Panel>
  );
}

function SizeForm({ ground, onDone }: { ground: Ground; onDone: () => void }) {
  const [typed, setTyped] = useState<Record<Field, string>>({
    width_m: String(ground.width_m),
    depth_m: String(ground.depth_m),
    lowest_m: String(ground.lowest_m),
    highest_m: String(ground.highest_m),
  });
  const { keep } = useSite.getState();
  const number = (field: Field) => (typed[field].trim() === "" ? NaN : Number(typed[field].replace(",", ".")));
  const wanted: Ground = {
    ...ground,
    width_m: number("width_m"),
    depth_m: number("depth_m"),
    lowest_m: number("lowest_m"),
    highest_m: number("highest_m"),
  };
  const wrong = complaint(wanted);
  return (
    <form
      className="grid grid-cols-[1fr_96px_auto] items-center gap-x-2 gap-y-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        keep("changed the true size", (recipe) => resized(recipe, wanted));
        onDone();
      }}
    >
      {FIELDS.map(({ field, label }) => (
        <label key={field} className="contents">
          <span>{label}</span>
          <input className="field" value={typed[field]} onChange={(event) => setTyped({ ...typed, [field]: event.target.value })} />
          <span className="text-quiet">m</span>
        </label>
      ))}
      {wrong && (
        <p role="alert" className="col-span-3 border-l-4 border-accent pl-2">
          {wrong}
        </p>
      )}
      <button type="submit" className="key-strong col-span-3 mt-1" disabled={wrong !== null}>
        Change the size
      </button>
    </form>
  );
}
