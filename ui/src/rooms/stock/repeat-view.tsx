/** The set repeated, seen from above: near and from afar, with the measure of how far it shows. */

import { useState } from "react";
import { swatchUrl, type SetState } from "../../api/stock";
import { shown } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { SeamMarks } from "./seam-marks";

type Times = "1" | "3" | "5" | "16";
const VISIBLE = 0.85;

export function RepeatView({ state }: { state: SetState }) {
  const [times, setTimes] = useState<Times>("3");
  const far = times === "16";
  const measure = far || times === "5" ? state.facts.repetition_far : state.facts.repetition_near;
  return (
    <figure className="relative min-h-0 min-w-0 overflow-hidden bg-booth" data-repeat={times}>
      <div
        className={
          times === "1" ? "absolute inset-y-0 left-1/2 aspect-square h-full -translate-x-1/2" : "absolute inset-0"
        }
        role="img"
        aria-label={`${state.description.title}, ${times} by ${times} repeats`}
        style={{
          backgroundImage: `url(${swatchUrl(state.name, state.content)})`,
          backgroundSize: `${100 / Number(times)}% auto`,
        }}
      >
        {times === "1" && <SeamMarks maps={state.facts.maps} />}
      </div>
      <figcaption className="absolute inset-x-2 bottom-2 flex items-end justify-between gap-2">
        <span
          className={`figures bg-raised px-2 py-[1px] text-xs font-semibold ${far && measure > VISIBLE ? "text-warn" : ""}`}
        >
          repetition {shown(measure, 2)} of 1, {far || times === "5" ? "from afar" : "near"}
        </span>
        <span className="bg-raised">
          <Segments
            label="Repeats"
            value={times}
            onChoose={setTimes}
            choices={[
              { value: "1", label: "1×1", hint: "one repeat, the worst stretch of each seam marked" },
              { value: "3", label: "3×3" },
              { value: "5", label: "5×5" },
              { value: "16", label: "far", hint: "16 by 16 repeats" },
            ]}
          />
        </span>
      </figcaption>
    </figure>
  );
}
