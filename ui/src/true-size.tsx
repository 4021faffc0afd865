/** The site's true size and range: changed at any time without loss, since heights are kept as they came. */

import { Trouble } from "./parts/trouble";
import { useState } from "react";
import type { Ground, Recipe } from "./generated/recipe";
import { metresBetween, shown } from "./parts/number";
import { Panel } from "./parts/panel";
import type { TrueSize as TrueSizeFields } from "./api/client";
import { useRange } from "./state/ground";
import { useSite } from "./state/site";

type Field = "width_m" | "depth_m" | "lowest_m" | "highest_m";

const sizesOf = (ground: Ground): { field: Field; label: string }[] => [
  { field: "width_m", label: ground.upright ? "Width, along it" : "Width, east–west" },
  { field: "depth_m", label: ground.upright ? "Height" : "Depth, north–south" },
];
const HEIGHT: readonly { field: Field; label: string }[] = [
  { field: "lowest_m", label: "Lowest value of the file" },
  { field: "highest_m", label: "Highest value of the file" },
];

export function sizeText(width: number, depth: number): string {
  const km = Math.max(width, depth) >= 1000;
  const one = (v: number) => (km ? shown(v / 1000, v % 1000 === 0 ? 0 : 1) : shown(v, v % 1 === 0 ? 0 : 1));
  return `${one(width)} × ${one(depth)} ${km ? "km" : "m"}`;
}

/** The ground at another size; the peg keeps its place on it. */
function resized(recipe: Recipe, to: TrueSizeFields): Recipe {
  const { peg, ground } = recipe;
  const source =
    ground.source.kind === "file"
      ? { ...ground.source, lowest_m: to.lowest_m, highest_m: to.highest_m }
      : ground.source;
  return {
    ...recipe,
    ground: { ...ground, width_m: to.width_m, depth_m: to.depth_m, source },
    peg: {
      east_m: (peg.east_m / ground.width_m) * to.width_m,
      north_m: (peg.north_m / ground.depth_m) * to.depth_m,
    },
  };
}

function sizeOf(ground: Ground): TrueSizeFields {
  const { source } = ground;
  return {
    width_m: ground.width_m,
    depth_m: ground.depth_m,
    lowest_m: source.kind === "file" ? source.lowest_m : source.level_m,
    highest_m: source.kind === "file" ? source.highest_m : source.level_m + 1,
  };
}

export function complaint(size: TrueSizeFields): string | null {
  if (!Object.values(size).every((value) => Number.isFinite(value))) return "expected numbers";
  if (size.width_m <= 0 || size.depth_m <= 0) return "expected a width and a depth above 0 m";
  if (size.width_m > 200_000 || size.depth_m > 200_000) return "expected at most 200 km";
  if (size.highest_m <= size.lowest_m) return "expected the highest above the lowest";
  return null;
}

export function TrueSize() {
  const ground = useSite((s) => s.state?.recipe.ground);
  const range = useRange();
  const [open, setOpen] = useState(false);
  if (!ground) return null;
  return (
    <Panel
      title="True size"
      width={310}
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="figures min-w-0 shrink-[4] truncate text-quiet"
          title="Change the true size of the ground"
        >
          {sizeText(ground.width_m, ground.depth_m)} · {metresBetween(range.lowest_m, range.highest_m)}
        </button>
      }
    >
      <SizeForm key={Object.values(sizeOf(ground)).join(" ")} ground={ground} onDone={() => setOpen(false)} />
    </Panel>
  );
}

function SizeForm({ ground, onDone }: { ground: Ground; onDone: () => void }) {
  const now = sizeOf(ground);
  const [typed, setTyped] = useState<Record<Field, string>>({
    width_m: String(now.width_m),
    depth_m: String(now.depth_m),
    lowest_m: String(now.lowest_m),
    highest_m: String(now.highest_m),
  });
  const { keep } = useSite.getState();
  const number = (field: Field) => (typed[field].trim() === "" ? NaN : Number(typed[field].replace(",", ".")));
  const wanted: TrueSizeFields = {
    width_m: number("width_m"),
    depth_m: number("depth_m"),
    lowest_m: number("lowest_m"),
    highest_m: number("highest_m"),
  };
  const wrong = complaint(wanted);
  const fields = ground.source.kind === "file" ? [...sizesOf(ground), ...HEIGHT] : sizesOf(ground);
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
      {fields.map(({ field, label }) => (
        <label key={field} className="contents">
          <span>{label}</span>
          <input
            className="field"
            value={typed[field]}
            onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
          />
          <span className="text-quiet">m</span>
        </label>
      ))}
      <Trouble says={wrong} className="col-span-3 border-l-4 border-accent pl-2" />
      <button type="submit" className="key-strong col-span-3 mt-1" disabled={wrong !== null}>
        Change the size
      </button>
    </form>
  );
}
