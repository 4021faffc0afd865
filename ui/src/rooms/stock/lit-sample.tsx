/** The set on a small plane with its relief, drawn by the core: drag the dial to move the light. */

import { Trouble } from "../../parts/trouble";
import { useState } from "react";
import * as api from "../../api/stock";
import { SunDial } from "../../parts/sun-dial";
import { useLatest } from "../../parts/use-latest";
import { useLetGo } from "../../parts/use-picture";
import { finePixelsOf, pixelsOf } from "../../parts/screen";
import { useSize } from "../../parts/use-size";

const GRAZING = 9;
const HIGH = 62;

interface LitSampleProps {
  /** Names what is shown: another picture is asked for when it changes. */
  subject: string;
  acrossM: number;
  figure: boolean;
  label: string;
  ask: (view: api.SampleAsk) => Promise<string>;
}

export function LitSample({ subject, acrossM, figure, label, ask }: LitSampleProps) {
  const [sun, setSun] = useState({ bearing: 300, height: 32 });
  const [moving, setMoving] = useState(false);
  const { box, size } = useSize();
  const pixels = size && (moving ? pixelsOf(size) : finePixelsOf(size));
  const view = pixels && {
    width_px: pixels.width,
    height_px: pixels.height,
    across_m: acrossM,
    sun_bearing_deg: sun.bearing,
    sun_height_deg: sun.height,
    figure,
    resting: !moving,
  };
  const {
    value: url,
    current,
    trouble,
  } = useLatest(view ? `${subject} ${JSON.stringify(view)}` : null, () => {
    if (!view) throw new Error("no size");
    return ask(view);
  });
  useLetGo(url);
  const set = (height: number) => setSun({ ...sun, height });
  return (
    <figure
      ref={box}
      data-sample
      data-resting={current && !moving}
      className="relative min-h-0 min-w-0 overflow-hidden bg-booth"
    >
      {url && <img src={url} alt={label} draggable={false} className="absolute inset-0 size-full object-cover" />}
      {!url && !trouble && <p className="p-3">Drawing…</p>}
      <Trouble says={trouble} className="bg-raised p-2" />
      <div className="absolute top-2 right-2 flex flex-col items-end gap-1">
        <SunDial
          bearingDeg={sun.bearing}
          heightDeg={sun.height}
          onMove={(bearing, height) => {
            setMoving(true);
            setSun({ bearing, height });
          }}
          onKeep={() => setMoving(false)}
          onDrop={() => setMoving(false)}
        />
        <button
          type="button"
          className="figures bg-raised px-2 text-xs font-medium"
          onClick={() => set(sun.height > GRAZING ? GRAZING : HIGH)}
        >
          {sun.height > GRAZING ? "Grazing light" : "High light"}
        </button>
      </div>
    </figure>
  );
}
