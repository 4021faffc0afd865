/** Mending: make seamless, even the light, derive what is missing, reduce; what changed is said and can be undone. */

import { useState } from "react";
import { CATALOGUE } from "../../generated/catalogue";
import type { MendAsk, SetState } from "../../api/stock";
import { ROLE_TITLES } from "../../api/stock";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";

/** The maps that are pictures in colours: they cannot be turned over. */
const COLOURED = new Set(CATALOGUE.roles.filter((one) => one.coloured).map((one) => one.role));

type Source = Extract<MendAsk, { kind: "derive" }>["source"];
type Derived = Extract<MendAsk, { kind: "derive" }>["role"];

const WAYS: readonly { role: Derived; source: Source; label: string }[] = [
  { role: "normal", source: "height", label: "Normal from height" },
  { role: "height", source: "normal", label: "Height from normal" },
  { role: "occlusion", source: "height", label: "Occlusion from height" },
  { role: "roughness", source: "colour", label: "Roughness from colour" },
  { role: "roughness", source: "constant", label: "Roughness, one value" },
];

interface MendPanelProps {
  state: SetState;
  busy: boolean;
  neededPx: number | null;
  onMend: (ask: MendAsk) => void;
}

export function MendPanel({ state, busy, neededPx, onMend }: MendPanelProps) {
  const [way, setWay] = useState<"cut" | "blend">("cut");
  const [overlap, setOverlap] = useState(15);
  const [strength, setStrength] = useState(80);
  const [broad, setBroad] = useState(15);
  const [dark, setDark] = useState(0.6);
  const [light, setLight] = useState(0.85);
  const maps = state.description.maps;
  const largest = Math.max(...state.facts.maps.map((map) => map.width_px));
  const sizes = [2048, 1024, 512, 256].filter((px) => px < largest);
  const possible = WAYS.filter((one) => one.source === "constant" || maps[one.source]);
  const number = (
    label: string,
    value: number,
    set: (value: number) => void,
    unit: string,
    range: [number, number, number],
    usual: number,
    hint: string,
  ) => (
    <Track
      label={label}
      hint={hint}
      value={value}
      unit={unit}
      least={range[0]}
      most={range[1]}
      step={range[2]}
      digits={range[2] < 1 ? 2 : 0}
      usual={usual}
      onMove={set}
      onKeep={set}
      onDrop={() => undefined}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-x-6 gap-y-3">
      <section aria-label="Make seamless">
        <h3 className="heading mb-1">Make seamless</h3>
        <Segments
          label="Way"
          value={way}
          onChoose={setWay}
          choices={[
            { value: "cut", label: "Cut", hint: "along the line on which the overlapping strips differ least" },
            {
              value: "blend",
              label: "Blend by height",
              hint: "the higher of the overlapping strips comes through first",
            },
          ]}
        />
        {number(
          "Overlap",
          overlap,
          setOverlap,
          "%",
          [2, 50, 1],
          15,
          "the set becomes smaller by this much, at the same scale",
        )}
        <button
          type="button"
          className="key"
          disabled={busy}
          onClick={() => onMend({ kind: "seamless", way, overlap: overlap / 100 })}
        >
          Make seamless
        </button>
      </section>
      <section aria-label="Even out the light">
        <h3 className="heading mb-1">Even out the light</h3>
        {number(
          "Strength",
          strength,
          setStrength,
          "%",
          [5, 100, 5],
          80,
          "how much of the broad light and dark goes; the mean colour stays",
        )}
        {number("Broader than", broad, setBroad, "%", [3, 60, 1], 15, "of the tile: what counts as broad")}
        <button
          type="button"
          className="key"
          disabled={busy || !maps.colour}
          onClick={() => onMend({ kind: "even-light", strength: strength / 100, broader_than: broad / 100 })}
        >
          Even out
        </button>
      </section>
      <section aria-label="Derive">
        <h3 className="heading mb-1">Derive a map</h3>
        <div className="flex flex-wrap gap-1.5">
          {possible.map((one) => (
            <button
              key={one.label}
              type="button"
              className="key"
              disabled={busy}
              title={maps[one.role] ? `replaces the ${one.role} map it has` : `it has no ${one.role} map yet`}
              onClick={() => onMend({ kind: "derive", role: one.role, source: one.source, dark, light })}
            >
              {one.label}
            </button>
          ))}
        </div>
        {number("Roughness", dark, setDark, "", [0, 1, 0.01], 0.6, "of dark places, or of all")}
        {number("… of light", light, setLight, "", [0, 1, 0.01], 0.85, "roughness of light places")}
      </section>
      <section aria-label="Size and maps">
        <h3 className="heading mb-1">Reduce the size</h3>
        <div className="flex flex-wrap gap-1.5">
          {sizes.map((px) => (
            <button
              key={px}
              type="button"
              className="key"
              disabled={busy}
              onClick={() => onMend({ kind: "reduce", px })}
            >
              {px} px{px === neededPx ? " (enough)" : ""}
            </button>
          ))}
          {sizes.length === 0 && <span className="text-quiet">It is small already.</span>}
        </div>
        <h3 className="heading mt-3 mb-1">Turn over or leave out</h3>
        <ul>
          {state.facts.maps.map((map) => (
            <li key={map.role} className="flex items-baseline gap-2">
              <span className="w-24">{ROLE_TITLES[map.role]}</span>
              {!COLOURED.has(map.role) && (
                <button
                  type="button"
                  className="underline decoration-dotted"
                  disabled={busy}
                  onClick={() => onMend({ kind: "turn", role: map.role })}
                >
                  {map.role === "normal" ? "turn green" : "turn over"}
                </button>
              )}
              {state.facts.maps.length > 1 && (
                <button
                  type="button"
                  className="underline decoration-dotted"
                  disabled={busy}
                  onClick={() => onMend({ kind: "drop", role: map.role })}
                >
                  leave out
                </button>
              )}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
