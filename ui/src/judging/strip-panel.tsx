/** The strip: one view with several values of a number side by side; a click or Enter takes one, as one step. */

import { useEffect, useRef, useState } from "react";
import { picturesBeside } from "../api/judging";
import { ServerError } from "../api/client";
import type { StandName } from "../api/types";
import { shown as number } from "../parts/number";
import { Segments } from "../parts/segments";
import { changeOf, useSite } from "../state/site";
import { InMemory } from "./in-memory";
import { fiveOf, useStrip, type Asked } from "./strip";

const WIDE = 196;
const TALL = 150;
const STANDS: readonly { value: StandName; label: string }[] = [
  { value: "far", label: "Far" },
  { value: "mid", label: "Mid" },
  { value: "near", label: "Near" },
];

/** A picture for each value, one after the other, the middle one first. */
function usePictures(asked: Asked, values: readonly number[], stand: StandName) {
  const [made, setMade] = useState<ReadonlyMap<number, Blob>>(new Map());
  const [trouble, setTrouble] = useState<string | null>(null);
  const key = JSON.stringify([values, stand, asked.label]);
  useEffect(() => {
    let left = false;
    const gone = () => left;
    const recipe = useSite.getState().shown;
    const order = values.toSorted((a, b) => Math.abs(a - asked.value) - Math.abs(b - asked.value));
    async function take() {
      if (!recipe) return;
      const found = new Map<number, Blob>();
      for (const value of order) {
        for (let tries = 0; tries < 5 && !gone(); tries++) {
          try {
            const other = changeOf(() => asked.onMove(value))?.(recipe) ?? recipe;
            found.set(value, (await picturesBeside(recipe, other, stand, [WIDE, TALL], false)).picture);
            break;
          } catch (error) {
            // another question of this window took its place
            if (error instanceof ServerError && error.status === 410) continue;
            if (!gone()) setTrouble(error instanceof Error ? error.message : String(error));
            return;
          }
        }
        if (gone()) return;
        setMade(new Map(found));
      }
    }
    void take();
    return () => {
      left = true;
    };
    // the key says which pictures are wanted
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { made, trouble };
}

export function StripPanel() {
  const asked = useStrip((s) => s.asked);
  useEffect(() => {
    useStrip.setState({ here: true });
    return () => useStrip.setState({ here: false, asked: null });
  }, []);
  return asked && <Strip key={asked.label} asked={asked} />;
}

function Strip({ asked }: { asked: Asked }) {
  const { spread, stand } = useStrip();
  const values = fiveOf(asked, spread);
  const { made, trouble } = usePictures(asked, values, stand);
  const [chosen, setChosen] = useState(asked.value);
  const whole = useRef<HTMLElement>(null);
  useEffect(() => whole.current?.focus(), []);
  const close = () => useStrip.setState({ asked: null });
  const take = (value: number) => {
    asked.onKeep(value);
    close();
  };
  const told = (value: number) => `${number(value, asked.digits ?? 2)} ${asked.unit}`.trim();
  const at = Math.max(0, values.indexOf(chosen));
  return (
    <section
      ref={whole}
      tabIndex={0}
      aria-label={`Five of ${asked.label}`}
      className="plate absolute inset-x-3 bottom-3 z-20 p-2"
      onKeyDown={(event) => {
        const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
        if (by === 0 && event.key !== "Enter" && event.key !== "Escape") return;
        if (event.target instanceof HTMLButtonElement && event.key === "Enter") return;
        event.preventDefault();
        event.stopPropagation();
        if (event.key === "Enter") take(values[at] ?? asked.value);
        else if (event.key === "Escape") close();
        else setChosen(values[Math.min(values.length - 1, Math.max(0, at + by))] ?? asked.value);
      }}
    >
      <div className="mb-1.5 flex items-center gap-3">
        <b className="font-semibold">{asked.label}</b>
        <Segments
          label="Which picture"
          value={stand}
          choices={STANDS}
          onChoose={(next) => useStrip.setState({ stand: next })}
        />
        <label className="flex items-center gap-1.5">
          <span className="text-quiet">apart</span>
          <input
            type="range"
            className="accent-ink"
            aria-label="How far apart the values are"
            min={0.1}
            max={3}
            step={0.1}
            value={spread}
            onChange={(event) => useStrip.setState({ spread: Number(event.target.value) })}
            onKeyDown={(event) => event.stopPropagation()}
          />
        </label>
        <span className="flex-1 text-quiet">arrows choose, Enter takes, Esc leaves all as it is</span>
        <button type="button" className="key" onClick={close}>
          Close
        </button>
      </div>
      {trouble && (
        <p role="alert" className="text-warn">
          {trouble}
        </p>
      )}
      <ul className="flex gap-2">
        {values.map((value) => {
          const picture = made.get(value);
          return (
            <li key={value} className="min-w-0 flex-1">
              <button
                type="button"
                aria-label={`${asked.label} ${told(value)}`}
                aria-current={value === values[at] ? "true" : undefined}
                className={`relative block w-full border ${value === values[at] ? "border-ink outline-2 outline-accent" : "border-rule"}`}
                style={{ height: TALL }}
                onClick={() => take(value)}
              >
                {picture ? <InMemory picture={picture} alt="" /> : <span className="text-quiet">taking…</span>}
                <span className="figures absolute bottom-0 left-0 bg-raised/95 px-1.5 font-semibold">
                  {told(value)}
                  {value === asked.value && <span className="font-normal text-quiet"> now</span>}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
