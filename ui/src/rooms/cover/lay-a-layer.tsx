/** The stock beside the column: a set is laid by a press or by dragging it onto the ground. */

import { useEffect, useState } from "react";
import * as stock from "../../api/stock";
import type { SetLine } from "../../api/stock";
import { Panel } from "../../parts/panel";
import { shown } from "../../parts/number";
import { useSite } from "../../state/site";
import { lay } from "./lay";
import { startDrag } from "./set-drag";

/** On top of the ground's column, or where `on` says. */
export function LayALayer({ on = lay }: { on?: (set: SetLine) => void }) {
  const [open, setOpen] = useState(false);
  const [sets, setSets] = useState<SetLine[] | null>(null);
  const [text, setText] = useState("");
  const { say } = useSite.getState();
  useEffect(() => {
    if (!open) return;
    let gone = false;
    stock.find(new URLSearchParams({ text }).toString()).then(
      (found) => !gone && setSets(found.sets),
      (error: unknown) => say(String(error)),
    );
    return () => {
      gone = true;
    };
  }, [open, text, say]);

  return (
    <Panel
      title="Texture sets in the stock"
      width={300}
      side="right"
      open={open}
      onOpen={setOpen}
      trigger={
        <button type="button" className="key">
          Lay a layer
        </button>
      }
    >
      <input
        className="field mb-2"
        aria-label="Search the stock"
        placeholder="Search title, tag, note"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {sets?.length === 0 && (
        <p>
          {text
            ? "Nothing in the stock has these words."
            : "The stock is empty. Bring sets in or make some in the Stock room."}
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        {sets?.map((set) => (
          <button
            key={set.name}
            type="button"
            className="border border-rule text-left hover:border-ink"
            draggable
            title="Click to lay it on top, or drag it onto the column or a picture"
            onDragStart={(event) => startDrag(event, set)}
            onClick={() => {
              setOpen(false);
              on(set);
            }}
          >
            <img
              src={stock.swatchUrl(set.name, set.content)}
              alt=""
              loading="lazy"
              draggable={false}
              className="aspect-square w-full"
            />
            <span className="block px-1.5 pt-1 font-semibold">{set.title}</span>
            <span className="figures block px-1.5 pb-1 text-xs text-quiet">
              {shown(set.tileM, 1)} m · {set.sizePx} px
            </span>
          </button>
        ))}
      </div>
    </Panel>
  );
}
