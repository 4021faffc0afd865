/** What can be strewn: kinds that are drawn, and things that are kept, each with its picture. */

import { useEffect, useState } from "react";
import * as api from "../../api/things";
import { CATALOGUE } from "../../generated/catalogue";
import type { Strew, Thing } from "../../generated/recipe";
import { Panel } from "../../parts/panel";
import { useSite } from "../../state/site";
import { ThingPicture } from "./thing-picture";

interface ThingsPanelProps {
  trigger: React.ReactNode;
  title: string;
  side: "right" | "top";
  onChoose: (thing: Thing, begins: Strew) => void;
}

/** A sheet of all things; one is chosen by a press. */
export function ThingsPanel({ trigger, title, side, onChoose }: ThingsPanelProps) {
  const [open, setOpen] = useState(false);
  const [kept, setKept] = useState<api.ThingLine[]>([]);
  const { say } = useSite.getState();
  useEffect(() => {
    if (!open) return;
    let gone = false;
    api.keptThings().then(
      (found) => !gone && setKept(found),
      (error: unknown) => say(String(error)),
    );
    return () => {
      gone = true;
    };
  }, [open, say]);
  const one = (thing: Thing, begins: Strew, key: string) => (
    <button
      key={key}
      type="button"
      className="border border-rule text-left hover:border-ink"
      onClick={() => {
        setOpen(false);
        onChoose(thing, begins);
      }}
    >
      <ThingPicture thing={thing} className="h-[72px] w-full" />
      <span className="block px-1.5 pt-0.5 font-semibold">{thing.name}</span>
      <span className="figures block px-1.5 pb-1 text-xs text-quiet">
        {begins.size.from_m}–{begins.size.to_m} m
      </span>
    </button>
  );
  return (
    <Panel title={title} width={430} side={side} open={open} onOpen={setOpen} trigger={trigger}>
      {kept.length > 0 && (
        <>
          <h4 className="mb-1 text-quiet">Kept in the stock</h4>
          <div className="mb-2 grid grid-cols-3 gap-2">
            {kept.map((line) => one({ ...line.thing, name: line.thing.name }, line.begins, line.id))}
          </div>
        </>
      )}
      <h4 className="mb-1 text-quiet">Drawn here</h4>
      <div className="grid grid-cols-3 gap-2">
        {CATALOGUE.things.map((kind) => one(kind.thing, kind.strew, kind.what))}
      </div>
    </Panel>
  );
}
