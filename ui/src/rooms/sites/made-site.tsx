/** A new site without a file: a terrain made by steps, a level slab, or a face that stands upright. */

import { Trouble } from "../../parts/trouble";
import { useState } from "react";
import * as api from "../../api/client";
import type { Ground } from "../../generated/recipe";
import { Segments } from "../../parts/segments";
import { complaint } from "../../true-size";
import { usualsOf } from "../../state/numbers";
import { BeginEmpty } from "./begin-empty";
import { openMade } from "./open-made";
import { newStep } from "../ground/step-kinds";

type Way = "terrain" | "slab" | "face";
const TITLES: Record<Way, string> = { terrain: "New terrain", slab: "New slab", face: "New face" };
const SIZES: Record<Way, [string, string]> = { terrain: ["1000", "1000"], slab: ["24", "16"], face: ["24", "8"] };
const SAMPLES = ["257", "513", "1025", "2049", "4097"] as const;

async function groundOf(way: Way, width: number, depth: number, samples: number): Promise<Ground> {
  const bare: Ground = {
    width_m: width,
    depth_m: depth,
    source: { kind: "flat", samples, level_m: 0 },
    steps: [],
    picture: null,
    upright: way === "face" ? usualsOf("Upright", ["faces_deg", "foot_m"]) : null,
  };
  if (way !== "terrain") return bare;
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
    const ground = groundOf(way, size.width_m, size.depth_m, Number(samples));
    openMade(
      ground.then((made) => api.newSite({ title, ground: made, empty })),
      "ground",
      (text) => {
        setTrouble(text);
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
            { value: "face", label: "Upright face" },
          ]}
          onChoose={(next) => {
            setWay(next);
            // what was typed is kept; what was only proposed follows
            if (title === TITLES[way]) setTitle(TITLES[next]);
            if (width === SIZES[way][0] && depth === SIZES[way][1]) {
              setWidth(SIZES[next][0]);
              setDepth(SIZES[next][1]);
            }
          }}
        />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <div className="col-span-2">{field("Name of the site", title, setTitle)}</div>
        {field(way === "face" ? "Width, along it (m)" : "Width, east–west (m)", width, setWidth)}
        {field(way === "face" ? "Height (m)" : "Depth, north–south (m)", depth, setDepth)}
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
          : way === "slab"
            ? "A floor, a yard: nothing but its cover."
            : "A wall or a cliff: it looks south at first; where it looks is set in the Ground room."}
      </p>
      <Trouble says={trouble} className="mt-2 border-l-4 border-accent pl-2" />
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
