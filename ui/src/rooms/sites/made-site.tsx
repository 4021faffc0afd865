/** A new site without a file: a terrain made by steps, or a level slab. */

import { useState } from "react";
import * as api from "../../api/client";
import type { Ground } from "../../generated/recipe";
import { Segments } from "../../parts/segments";
import { complaint } from "../../true-size";
import { BeginEmpty } from "./begin-empty";
import { newStep } from "../ground/step-kinds";

type Way = "terrain" | "slab";
const SAMPLES = ["257", "513", "1025", "2049", "4097"] as const;

async function groundOf(way: Way, width: number, depth: number, samples: number): Promise<Ground> {
  const bare: Ground = {
    width_m: width,
    depth_m: depth,
    source: { kind: "flat", samples, level_m: 0 },
    steps: [],
    picture: null,
  };
  if (way === "slab") return bare;
  const { begin } = await api.groundFacts(bare, true);
  return { ...bare, steps: [newStep("form", begin), newStep("rivers", begin)] };
}

export function MadeSite({ onDone }: { onDone: () => void }) {
  const [way, setWay] = useState<Way>("terrain");
  const [title, setTitle] = useState("New terrain");
  const [width, setWidth] = useState("1000");
  const [depth, setDepth] = useState("1000");
  const [samples, setSamples] = useState<(typeof SAMPLES)[number]>("1025");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [empty, setEmpty] = useState(false);
  const number = (text: string) => (text.trim() === "" ? NaN : Number(text.replace(",", ".")));
  const size = { width_m: number(width), depth_m: number(depth), lowest_m: 0, highest_m: 1 };
  const wrong = complaint(size);
  const cell = Math.max(size.width_m, size.depth_m) / (Number(samples) - 1);

  function make() {
    if (wrong) return;
    setBusy(true);
    groundOf(way, size.width_m, size.depth_m, Number(samples))
      .then((ground) => api.newSite({ title, ground, empty }))
      .then(
        (made) => {
          window.location.hash = `#/site/${made.id}/ground`;
        },
        (error: unknown) => {
          setTrouble(error instanceof Error ? error.message : String(error));
          setBusy(false);
        },
      );
  }

  const field = (label: string, value: string, set: (text: string) => void) => (
    <label className="block">
      <span className="heading block">{label}</span>
      <input className="field mt-0.5" value={value} onChange={(event) => set(event.target.value)} />
    </label>
  );
  return (
    <form
      aria-label="New made site"
      className="plate mb-6 max-w-[760px] p-4"
      onSubmit={(event) => {
        event.preventDefault();
        make();
      }}
    >
      <div className="mb-3 max-w-80">
        <Segments
          label="What to make"
          value={way}
          choices={[
            { value: "terrain", label: "Terrain" },
            { value: "slab", label: "Level slab" },
          ]}
          onChoose={(next) => {
            setWay(next);
            if (title === "New terrain" || title === "New slab")
              setTitle(next === "terrain" ? "New terrain" : "New slab");
            if (next === "slab" && width === "1000") {
              setWidth("24");
              setDepth("16");
            }
          }}
        />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <div className="col-span-2">{field("Name of the site", title, setTitle)}</div>
        {field("Width, east–west (m)", width, setWidth)}
        {field("Depth, north–south (m)", depth, setDepth)}
      </div>
      <h3 className="heading mt-3 mb-1">Samples along the longer side</h3>
      <div className="max-w-96">
        <Segments
          label="Samples"
          value={samples}
          choices={SAMPLES.map((one) => ({ value: one, label: one }))}
          onChoose={setSamples}
        />
      </div>
      <p className="mt-2 text-quiet">
        {wrong ?? `One sample every ${cell >= 1 ? `${cell.toFixed(2)} m` : `${(cell * 100).toFixed(1)} cm`}.`}{" "}
        {way === "terrain"
          ? "It begins with a rolling form and rivers; everything can be changed in the Ground room."
          : "A floor, a yard, a wall laid down: nothing but its cover."}
      </p>
      {trouble && (
        <p role="alert" className="mt-2 border-l-4 border-accent pl-2">
          {trouble}
        </p>
      )}
      <BeginEmpty empty={empty} onChange={setEmpty} />
      <div className="mt-3 flex gap-2">
        <button type="submit" className="key-strong" disabled={busy || wrong !== null}>
          {busy ? "Shaping the ground…" : "Make the site"}
        </button>
        <button type="button" className="key" onClick={onDone}>
          Not now
        </button>
      </div>
    </form>
  );
}
