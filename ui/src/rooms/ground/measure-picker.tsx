/** What the map and the picture show: plain relief, or a measure in its unit. */

import type { Draped } from "../../api/types";
import { GROUND_MEASURES } from "../../state/measures";
import { numberOf } from "../../state/numbers";
import { useState } from "react";
import { Num } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { useSite } from "../../state/site";
import { useGroundRoom } from "../../state/steps";

export function MeasurePicker() {
  const kinds = GROUND_MEASURES;
  const [open, setOpen] = useState(false);
  const measure = useGroundRoom((s) => s.measure);
  const radiusM = useGroundRoom((s) => s.radiusM);
  const picture = useSite((s) => s.shown?.ground.picture ?? null);
  const kind = kinds.find((one) => one.name === measure);
  const choose = (name: Draped | null) => {
    useGroundRoom.setState({ measure: name, radiusM: null });
    setOpen(false);
  };
  const setRadius = (value: number) => useGroundRoom.setState({ radiusM: value });
  return (
    <div className="figures flex items-center gap-2 bg-raised/95 text-xs font-medium">
      <Panel
        title="Shown on the ground"
        width={350}
        open={open}
        onOpen={setOpen}
        trigger={
          <button
            type="button"
            className="px-2 py-[3px] font-semibold shadow-[inset_0_-2px_var(--color-accent)]"
            title="What is shown (M for the next)"
          >
            {kind ? `${kind.title}, ${kind.unit}` : measure === "image" ? "Colour image" : "Relief"}
          </button>
        }
      >
        <div className="grid">
          <button
            type="button"
            aria-pressed={measure === null}
            className="border-b border-rule px-1 py-[4px] text-left hover:bg-sheet"
            onClick={() => choose(null)}
          >
            <b className="font-semibold">Relief</b> <span className="text-quiet">shaded, with contours</span>
          </button>
          {picture && (
            <button
              type="button"
              aria-pressed={measure === "image"}
              className="border-b border-rule px-1 py-[4px] text-left hover:bg-sheet"
              onClick={() => choose("image")}
            >
              <b className="font-semibold">Colour image</b> <span className="text-quiet">{picture.file_name}</span>
            </button>
          )}
          {kinds.map((one) => (
            <button
              key={one.name}
              type="button"
              aria-pressed={measure === one.name}
              className="border-b border-rule px-1 py-[4px] text-left hover:bg-sheet"
              onClick={() => choose(one.name)}
            >
              <b className="font-semibold">{one.title}</b> <span className="text-quiet">{one.about}</span>
            </button>
          ))}
        </div>
      </Panel>
      {kind && kind.radiusM !== null && (
        <span className="pr-2">
          within{" "}
          <Num
            {...numberOf("MeasureClause", "radius_m")}
            label="Radius of the measure"
            value={radiusM ?? kind.radiusM}
            onMove={setRadius}
            onKeep={setRadius}
            onDrop={() => undefined}
          />
        </span>
      )}
    </div>
  );
}
