/** The Cover room: three pictures of one cover, the column, the transect and the bench. */

import { References } from "../../judging/references";
import { StripPanel } from "../../judging/strip-panel";
import { useEffect, useRef, useState } from "react";
import type { StandName } from "../../api/types";
import { typing } from "../../state/keys";
import { useSite } from "../../state/site";
import { Bench } from "./bench";
import { Column } from "./column";
import { ModeBar, useModes } from "./mode-bar";
import { ModeLegend } from "./mode-legend";
import { PictureView } from "./picture-view";
import { graze, SkyDial } from "./light/sky-dial";
import { TransectStrip } from "./transect-strip";
import { ShapingNote } from "../ground/shaping-note";
import { useReliefWatch } from "./relief-panel";
import { ProbeCard } from "./probe-card";
import { ToolBar } from "./tool-bar";
import { useFactsWatch } from "./use-facts";
import type { Recipe } from "../../generated/recipe";
import { useTools } from "../../state/tools";

const STANDS: readonly { name: StandName; label: string }[] = [
  { name: "far", label: "Far" },
  { name: "mid", label: "Mid" },
  { name: "near", label: "Near" },
];

/** T paints, P probes, F moves a texture, L moves a path, Esc turns again, [ and ] change the brush, I shows the layer alone. */
function toolKey(key: string, recipe: Recipe | null) {
  const { brush, take, rest, mask, path, solo } = useTools.getState();
  const marks = recipe?.marks;
  switch (key.toLowerCase()) {
    case "t":
      useTools.setState({
        tool: "paint",
        mask: marks?.masks.some((one) => one.id === mask) ? mask : (marks?.masks.at(-1)?.id ?? null),
      });
      break;
    case "l":
      useTools.setState({
        tool: "path",
        path: marks?.paths.some((one) => one.id === path) ? path : (marks?.paths.at(-1)?.id ?? null),
      });
      break;
    case "p":
      take("probe");
      break;
    case "f":
      take("fit");
      break;
    case "escape":
      rest();
      break;
    case "i":
      useTools.setState({ solo: solo === null ? useSite.getState().selected : null });
      break;
    case "[":
    case "]": {
      const size_m = Number((brush.size_m * (key === "]" ? 1.25 : 0.8)).toPrecision(3));
      useTools.setState({ brush: { ...brush, size_m: Math.min(4000, Math.max(0.05, size_m)) } });
      break;
    }
  }
}

function useRoomKeys() {
  const offered = useModes();
  const modes = useRef(offered);
  useEffect(() => {
    modes.current = offered;
  }, [offered]);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const { mode, look, hold, shown, selected, select } = useSite.getState();
      const key = event.key.toLowerCase();
      if (key === "b") hold(true);
      if (key === "w") useSite.setState({ without: true });
      if (key === "c") useSite.setState({ showCompared: true });
      if (key === "o") useSite.setState({ showOther: true });
      if (key === "g" && !event.repeat) graze();
      toolKey(event.key, shown);
      if (key === "m") {
        const offered = modes.current;
        const at = offered.findIndex((one) => one.mode === mode);
        look(offered[(at + 1) % offered.length]?.mode ?? "lit");
      }
      if (shown && (key === "j" || key === "k")) {
        const at = shown.layers.findIndex((layer) => layer.id === selected);
        const next = shown.layers[Math.min(shown.layers.length - 1, Math.max(0, at + (key === "k" ? 1 : -1)))];
        if (next) select(next.id);
      }
    };
    const release = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      if (key === "b") useSite.getState().hold(false);
      if (key === "w") useSite.setState({ without: false });
      if (key === "c") useSite.setState({ showCompared: false });
      if (key === "o") useSite.setState({ showOther: false });
    };
    window.addEventListener("keydown", press);
    window.addEventListener("keyup", release);
    return () => {
      window.removeEventListener("keydown", press);
      window.removeEventListener("keyup", release);
    };
  }, []);
}

/** What is asked about the cover for the whole room; by itself, so that the room is not drawn anew for it. */
function Watches() {
  useFactsWatch();
  useReliefWatch();
  return null;
}

export function CoverRoom() {
  const open = useSite((s) => s.shown !== null);
  const trouble = useSite((s) => s.trouble);
  const [whole, setWhole] = useState<StandName | null>(null);
  const tool = useTools((s) => s.tool);
  useRoomKeys();

  if (!open) {
    return (
      <main className="grid flex-1 place-items-center text-quiet">
        {trouble ? "This site is not here." : "Opening…"}
      </main>
    );
  }
  const columns = whole ? "grid-cols-1" : "grid-cols-[2fr_1fr_1fr]";
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[228px_1fr]">
      <Watches />
      <Column />
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(200px,1fr)_78px_auto]">
        <div className="flex min-h-0 bg-booth">
          <div className={`relative grid min-h-0 min-w-0 flex-1 gap-2 p-2 ${columns}`}>
            {STANDS.filter((stand) => whole === null || whole === stand.name).map((stand) => (
              <PictureView
                key={stand.name}
                stand={stand.name}
                label={stand.label}
                whole={whole === stand.name}
                onWhole={() => setWhole(whole ? null : stand.name)}
              />
            ))}
            <ShapingNote />
            <StripPanel />
            <div
              className={`pointer-events-none absolute top-4 left-4 grid justify-items-start gap-1.5 *:pointer-events-auto ${whole ? "right-4" : "right-[calc(50%+10px)]"}`}
            >
              <ModeBar />
              <ModeLegend />
              <ToolBar />
            </div>
            <ProbeCard />
            <div
              className={`absolute ${tool === "paint" || tool === "path" ? "top-[134px]" : tool === "fit" ? "top-[92px]" : "top-[44px]"} ${whole ? "right-4" : "right-[calc(50%+10px)]"}`}
            >
              <SkyDial />
            </div>
          </div>
          <References />
        </div>
        <TransectStrip />
        <Bench />
      </div>
    </main>
  );
}
