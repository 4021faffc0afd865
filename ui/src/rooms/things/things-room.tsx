/** The Things room: what is strewn over the site, in the three pictures, with how many that is. */

import { StripPanel } from "../../judging/strip-panel";
import { useEffect, useState } from "react";
import { CATALOGUE } from "../../generated/catalogue";
import type { StandName } from "../../api/types";
import { newId } from "../../parts/new-id";
import { shown } from "../../parts/number";
import { typing } from "../../state/keys";
import { useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { ShapingNote } from "../ground/shaping-note";
import { graze, SkyDial } from "../cover/light/sky-dial";
import { ModeBar } from "../cover/mode-bar";
import { ModeLegend } from "../cover/mode-legend";
import { PictureView } from "../cover/picture-view";
import { ToolBar } from "../cover/tool-bar";
import { TransectStrip } from "../cover/transect-strip";
import { ThingsBench } from "./things-bench";
import { isOfThings } from "./set/selected";
import { droppedToGround, duplicated } from "./set/set-things";
import { StrewColumn } from "./strew-column";
import { useHand } from "./use-hand";
import { useStrewFacts } from "./use-strew-facts";

const STANDS: readonly { name: StandName; label: string }[] = [
  { name: "far", label: "Far" },
  { name: "mid", label: "Mid" },
  { name: "near", label: "Near" },
];
const MODES = CATALOGUE.modes.filter((one) => one.mode === "lit" || one.about === "strew");

function useRoomKeys() {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const { mode, look, hold, keep, shown: recipe, selected, select } = useSite.getState();
      const key = event.key.toLowerCase();
      if (key === "b") hold(true);
      if (key === "g" && !event.repeat) graze();
      if (key === "escape") {
        useTools.getState().rest();
        useHand.setState({ inHand: null, picked: null, carrying: false, missed: false, lasso: [] });
      }
      if (key === "m") {
        const at = MODES.findIndex((one) => one.mode === mode);
        look(MODES[(at + 1) % MODES.length]?.mode ?? "lit");
      }
      const held = recipe?.set_things.find((one) => one.id === selected);
      if (held && key === "d" && !event.repeat) {
        const id = newId();
        if (event.shiftKey) {
          keep(`duplicated ${held.name}`, (now) => duplicated(now, held, id));
          select(id);
        } else keep(`${held.name}: dropped to the ground`, droppedToGround(held.id));
      }
      if (recipe && (key === "j" || key === "k")) {
        const all = [...recipe.set_things.toReversed(), ...recipe.strews];
        const at = all.findIndex((one) => one.id === selected);
        const next = all[Math.min(all.length - 1, Math.max(0, at + (key === "k" ? 1 : -1)))];
        if (next) select(next.id);
      }
    };
    const release = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === "b") useSite.getState().hold(false);
    };
    window.addEventListener("keydown", press);
    window.addEventListener("keyup", release);
    return () => {
      window.removeEventListener("keydown", press);
      window.removeEventListener("keyup", release);
    };
  }, []);
}

/** One comes in from another room: its looking mode and tool mean nothing here. */
function useArrival() {
  useEffect(() => {
    const { mode, look } = useSite.getState();
    if (MODES.every((one) => one.mode !== mode)) look("lit");
    useTools.getState().rest();
    return () => {
      useTools.getState().rest();
      useHand.setState({ inHand: null, picked: null, carrying: false, missed: false, lasso: [] });
      if (useSite.getState().mode !== "lit") useSite.getState().look("lit");
    };
  }, []);
  const first = useSite((s) => s.shown?.strews.at(-1)?.id);
  const there = useSite((s) => isOfThings(s.shown, s.selected));
  useEffect(() => {
    if (!there && first) useSite.getState().select(first);
  }, [there, first]);
}

export function ThingsRoom() {
  const open = useSite((s) => s.shown !== null);
  const trouble = useSite((s) => s.trouble);
  const [whole, setWhole] = useState<StandName | null>(null);
  const facts = useStrewFacts();
  const tool = useTools((s) => s.tool);
  const lasso = useHand((s) => s.lasso.length);
  const carrying = useHand((s) => s.carrying);
  const missed = useHand((s) => s.missed);
  useRoomKeys();
  useArrival();

  if (!open) {
    return (
      <main className="grid flex-1 place-items-center text-quiet">
        {trouble ? "This site is not here." : "Opening…"}
      </main>
    );
  }
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[228px_1fr]">
      <StrewColumn facts={facts} />
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(200px,1fr)_78px_auto]">
        <div
          className={`relative grid min-h-0 gap-2 bg-booth p-2 ${whole ? "grid-cols-1" : "grid-cols-[2fr_1fr_1fr]"}`}
        >
          {STANDS.filter((stand) => whole === null || whole === stand.name).map((stand) => (
            <PictureView
              key={stand.name}
              stand={stand.name}
              label={stand.label}
              whole={whole === stand.name}
              told="things"
              onWhole={() => setWhole(whole ? null : stand.name)}
            />
          ))}
          <ShapingNote />
          <StripPanel />
          <div
            className={`pointer-events-none absolute top-4 left-4 grid justify-items-start gap-1.5 *:pointer-events-auto ${whole ? "right-4" : "right-[calc(50%+10px)]"}`}
          >
            <ModeBar only={MODES} />
            <ModeLegend />
            {tool === "paint" && <ToolBar />}
            {(tool === "pick" || tool === "lasso" || tool === "set") && (
              <span role="status" className="figures bg-raised/95 px-2 py-[3px] text-xs">
                {tool === "set"
                  ? "Click where it is to stand · Esc lets go"
                  : tool === "lasso"
                    ? `Click the corners of the lasso on the ground · ${shown(lasso, 0)} so far · Esc ends it`
                    : carrying
                      ? "Click where it goes · Esc lets go"
                      : `${missed ? "No thing stands there" : "Click a thing to pick it"} · Esc ends it`}
              </span>
            )}
          </div>
          <div
            className={`absolute ${tool === "turn" ? "top-[44px]" : "top-[92px]"} ${whole ? "right-4" : "right-[calc(50%+10px)]"}`}
          >
            <SkyDial />
          </div>
        </div>
        <TransectStrip />
        <ThingsBench facts={facts} />
      </div>
    </main>
  );
}
