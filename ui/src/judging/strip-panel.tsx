/** The strip: one view with several values of a number side by side, or of two as a sheet; one is taken as one step. */

import { Trouble } from "../parts/trouble";
import { useEffect, useRef, useState } from "react";
import { stripPicture } from "../api/judging";
import { ServerError } from "../api/client";
import type { StandName } from "../api/types";
import { withUnit } from "../parts/number";
import { Segments } from "../parts/segments";
import { useSite } from "../state/site";
import { questionOf, type Bare } from "../rooms/cover/use-picture";
import { InMemory } from "./in-memory";
import { cellsOf, nearestFirst, siteWith, useStrip, type Asked, type Cell, type LaidOut } from "./strip";

const STRIP = { wide: 196, tall: 150 };
const SHEET = { wide: 196, tall: 80 };
const MOST_TRIES = 5;
const STANDS: readonly { value: StandName; label: string }[] = [
  { value: "far", label: "Far" },
  { value: "mid", label: "Mid" },
  { value: "near", label: "Near" },
];
const named = (cell: Cell) => `${cell.value} ${cell.other ?? ""}`;
const told = (of: Asked, value: number) => withUnit(value, of.digits ?? 2, of.unit);

/** Pictures of the site that is open: of the stand that is chosen, as the room shows it. */
function ofSite(bare: Bare | undefined): (asked: Asked, second: Asked | null) => LaidOut {
  return (asked, second) => {
    const { shown } = useSite.getState();
    const { stand } = useStrip.getState();
    return {
      key: JSON.stringify([stand, bare]),
      stands: true,
      resting: [false, true],
      picture: (cell, size, resting, signal) => {
        const question = shown && questionOf(siteWith(shown, cell, asked, second), stand, { size, bare });
        return question && stripPicture({ ...question, resting }, signal);
      },
      takeBoth: (cell) => {
        if (!second) return;
        const label = `${asked.label} ${told(asked, cell.value)}, ${second.label} ${told(second, cell.other ?? 0)}`;
        useSite.getState().keep(label, (recipe) => siteWith(recipe, cell, asked, second));
      },
    };
  };
}

/** A picture for each, the nearest to what is first: all of them coarse and at half the size, then as they are at rest. */
function usePictures(cells: readonly Cell[], asked: Asked, second: Asked | null, of: LaidOut) {
  const [made, setMade] = useState<ReadonlyMap<string, Blob>>(new Map());
  const [trouble, setTrouble] = useState<string | null>(null);
  const key = JSON.stringify([cells, of.key, asked.label, second?.label]);
  useEffect(() => {
    const leaving = new AbortController();
    const gone = () => leaving.signal.aborted;
    const { wide, tall } = second ? SHEET : STRIP;
    const found = new Map<string, Blob>();

    async function one(cell: Cell, resting: boolean) {
      const size = resting ? { width: wide, height: tall } : { width: wide / 2, height: tall / 2 };
      for (let tries = 0; tries < MOST_TRIES && !gone(); tries++) {
        try {
          const picture = await of.picture(cell, size, resting, leaving.signal);
          if (!picture || gone()) return;
          found.set(named(cell), picture);
          setMade(new Map(found));
          return;
        } catch (error) {
          // another question of this window took its place
          if (!(error instanceof ServerError && error.status === 410)) throw error;
        }
      }
    }
    async function all() {
      for (const resting of of.resting)
        for (const cell of nearestFirst(cells, asked, second)) if (!gone()) await one(cell, resting);
    }
    all().catch((error: unknown) => {
      if (!gone()) setTrouble(error instanceof Error ? error.message : String(error));
    });
    return () => leaving.abort();
    // the key says which pictures are wanted
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { made, trouble };
}

interface StripPanelProps {
  /** Which picture the room is most about. */
  first?: StandName;
  bare?: Bare;
  /** What is laid out where it is not the site. */
  of?: (asked: Asked, second: Asked | null) => LaidOut;
}

/** Its place in a room with pictures. */
export function StripPanel({ first = "near", bare, of }: StripPanelProps) {
  const { asked, second } = useStrip();
  useEffect(() => {
    useStrip.setState({ here: true, stand: first });
    return () => useStrip.setState({ here: false, asked: null, second: null });
  }, [first]);
  if (!asked) return null;
  return (
    <Strip
      key={`${asked.label} ${second?.label ?? ""}`}
      asked={asked}
      second={second}
      of={(of ?? ofSite(bare))(asked, second)}
    />
  );
}

interface StripProps {
  asked: Asked;
  second: Asked | null;
  of: LaidOut;
}

function Strip({ asked, second, of }: StripProps) {
  const spread = useStrip((s) => s.spread);
  const cells = cellsOf(asked, second, spread);
  const { made, trouble } = usePictures(cells, asked, second, of);
  const now: Cell = { value: asked.value, other: second?.value ?? null };
  const [chosen, setChosen] = useState(now);
  const whole = useRef<HTMLElement>(null);
  useEffect(() => whole.current?.focus(), []);
  const close = () => useStrip.setState({ asked: null, second: null });
  const take = (cell: Cell) => {
    if (second) of.takeBoth(cell);
    else asked.onKeep(cell.value);
    close();
  };
  const across = cells.filter((cell) => cell.other === cells[0]?.other).length;
  const at = Math.max(
    0,
    cells.findIndex((cell) => named(cell) === named(chosen)),
  );
  const step = (key: string) =>
    key === "ArrowLeft" && at % across > 0
      ? -1
      : key === "ArrowRight" && at % across < across - 1
        ? 1
        : key === "ArrowUp"
          ? -across
          : key === "ArrowDown"
            ? across
            : 0;
  return (
    <section
      ref={whole}
      tabIndex={0}
      aria-label={second ? `Sheet of ${asked.label} and ${second.label}` : `Five of ${asked.label}`}
      className={`plate z-20 p-2 ${second ? "fixed top-[50px] right-2 left-[236px]" : "absolute inset-x-3 bottom-3"}`}
      onKeyDown={(event) => {
        const { key } = event;
        if (!key.startsWith("Arrow") && key !== "Enter" && key !== "Escape") return;
        if (event.target instanceof HTMLButtonElement && key === "Enter") return;
        event.preventDefault();
        event.stopPropagation();
        if (key === "Enter") take(cells[at] ?? now);
        else if (key === "Escape") close();
        else setChosen(cells[at + step(key)] ?? chosen);
      }}
    >
      <Head asked={asked} second={second} stands={of.stands} onClose={close} />
      <Trouble says={trouble} />
      <ul className="grid gap-1.5" style={{ gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` }}>
        {cells.map((cell) => (
          <OneOf
            key={named(cell)}
            label={`${asked.label} ${told(asked, cell.value)}${second ? `, ${second.label} ${told(second, cell.other ?? 0)}` : ""}`}
            says={second ? `${told(asked, cell.value)} · ${told(second, cell.other ?? 0)}` : told(asked, cell.value)}
            tall={(second ? SHEET : STRIP).tall}
            isNow={named(cell) === named(now)}
            isChosen={named(cell) === named(cells[at] ?? now)}
            picture={made.get(named(cell)) ?? null}
            onTake={() => take(cell)}
          />
        ))}
      </ul>
    </section>
  );
}

interface HeadProps {
  asked: Asked;
  second: Asked | null;
  stands: boolean;
  onClose: () => void;
}

function Head({ asked, second, stands, onClose }: HeadProps) {
  const { spread, stand } = useStrip();
  return (
    <div className="mb-1.5 flex items-center gap-3">
      <b className="font-semibold whitespace-nowrap">
        {asked.label}
        {second && <span className="font-normal"> across, </span>}
        {second?.label}
        {second && <span className="font-normal"> down</span>}
      </b>
      {stands && (
        <Segments
          label="Which picture"
          value={stand}
          choices={STANDS}
          onChoose={(next) => useStrip.setState({ stand: next })}
        />
      )}
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
      <span className="min-w-0 flex-1 truncate text-quiet">
        {second ? "" : "S on another number: a sheet of both · "}arrows choose, Enter takes, Esc leaves all as it is
      </span>
      <button type="button" className="key" onClick={onClose}>
        Close
      </button>
    </div>
  );
}

interface OneOfProps {
  label: string;
  says: string;
  tall: number;
  isNow: boolean;
  isChosen: boolean;
  picture: Blob | null;
  onTake: () => void;
}

function OneOf({ label, says, tall, isNow, isChosen, picture, onTake }: OneOfProps) {
  return (
    <li className="min-w-0">
      <button
        type="button"
        aria-label={label}
        aria-current={isChosen ? "true" : undefined}
        className={`relative block w-full border ${isChosen ? "border-ink outline-2 outline-accent" : "border-rule"}`}
        style={{ height: tall }}
        onClick={onTake}
      >
        {picture ? <InMemory picture={picture} alt="" /> : <span className="text-quiet">taking…</span>}
        <span className="figures absolute bottom-0 left-0 bg-raised/95 px-1.5 font-semibold">
          {says}
          {isNow && <span className="font-normal text-quiet"> now</span>}
        </span>
      </button>
    </li>
  );
}
