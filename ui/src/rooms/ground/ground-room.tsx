/** The Ground room: the shape, from above and in perspective; the steps that make it; its numbers. */

import type { Draped } from "../../api/types";
import { GROUND_MEASURES } from "../../state/measures";
import { useStepReady } from "./use-step-ready";
import { useEffect, useMemo } from "react";
import { StripPanel } from "../../judging/strip-panel";
import { typing } from "../../state/keys";
import { useSite } from "../../state/site";
import { useGroundRoom, useShownMeasure } from "../../state/steps";
import { PictureView } from "../cover/picture-view";
import { SkyDial } from "../cover/light/sky-dial";
import { CutStrip } from "./cut-strip";
import { FactsPanel } from "./facts-panel";
import { HistogramPanel } from "./histogram-panel";
import { ReliefMap } from "./relief-map";
import { ShapingNote } from "./shaping-note";
import { StepList } from "./step-list";
import { StepPanel } from "./step-panel";

function useMeasureKey() {
  const kinds = GROUND_MEASURES;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey || event.key.toLowerCase() !== "m") return;
      const names: (Draped | null)[] = [null, ...kinds.map((kind) => kind.name)];
      const at = names.indexOf(useGroundRoom.getState().measure);
      useGroundRoom.setState({ measure: names[(at + 1) % names.length] ?? null, radiusM: null });
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [kinds]);
}

/** By itself, so that the room is not drawn anew for it. */
function StepReady() {
  useStepReady();
  return null;
}

export function GroundRoom() {
  const open = useSite((s) => s.shown !== null);
  const trouble = useSite((s) => s.trouble);
  const measure = useShownMeasure();
  const radiusM = useGroundRoom((s) => s.radiusM);
  const bare = useMemo(() => ({ measure, radiusM }), [measure, radiusM]);
  useMeasureKey();

  if (!open) {
    return (
      <main className="grid flex-1 place-items-center text-quiet">
        {trouble ? "This site is not here." : "Opening…"}
      </main>
    );
  }
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[236px_1fr]">
      <StepReady />
      <StepList />
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(200px,1fr)_84px_250px]">
        <div className="relative grid min-h-0 grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-2 bg-booth p-2">
          <ReliefMap />
          <div className="relative grid min-h-0 min-w-0">
            <PictureView stand="far" label="Far" whole={false} bare={bare} />
            <div className="absolute top-2 right-2">
              <SkyDial />
            </div>
          </div>
          <ShapingNote />
          <StripPanel first="far" bare={bare} />
        </div>
        <CutStrip />
        <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_264px_212px]">
          <StepPanel />
          <HistogramPanel />
          <FactsPanel />
        </div>
      </div>
    </main>
  );
}
