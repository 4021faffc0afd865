/** The wall of swatches: one square of each set, lit, with its name, size and what is odd about it. */

import { useRef } from "react";
import { ROLE_TITLES, swatchUrl, type SetLine } from "../../api/stock";
import { shown } from "../../parts/number";
import { useStock } from "../../state/stock";

export function metres(value: number): string {
  return value < 1 ? `${shown(value * 100, value < 0.1 ? 1 : 0)} cm` : `${Number(value.toFixed(2))} m`;
}

const SHOWS = 3;

function Swatch({ line, on, onChoose }: { line: SetLine; on: boolean; onChoose: () => void }) {
  return (
    <li className="contents">
      <button
        type="button"
        aria-pressed={on}
        title={`${line.title}: ${line.roles.map((role) => ROLE_TITLES[role]?.toLowerCase()).join(", ")}`}
        onClick={onChoose}
        className={`relative block text-left ${on ? "outline-[3px] outline-accent" : "hover:outline-2 hover:outline-ink"}`}
      >
        <img
          src={swatchUrl(line.name, line.content)}
          alt=""
          loading="lazy"
          width={512}
          height={512}
          draggable={false}
          className="aspect-square w-full bg-booth"
        />
        {(line.seam >= SHOWS || line.findings > 0) && (
          <span className="figures absolute top-1 right-1 bg-raised px-1.5 text-xs font-semibold text-warn">
            {line.seam >= SHOWS
              ? `seam ${shown(line.seam, 1)}`
              : `${line.findings} ${line.findings === 1 ? "finding" : "findings"}`}
          </span>
        )}
        <span className="block truncate bg-raised px-2 pt-1 font-semibold">{line.title}</span>
        <span className="figures block truncate bg-raised px-2 pb-1 text-xs text-quiet">
          {line.sizePx} px · {metres(line.tileM)}
        </span>
      </button>
    </li>
  );
}

export function Wall() {
  const { found, chosen, wish, choose } = useStock();
  const list = useRef<HTMLUListElement>(null);
  const lines = found?.sets ?? [];

  function walk(event: React.KeyboardEvent) {
    const buttons = [...(list.current?.querySelectorAll("button") ?? [])];
    const at = buttons.findIndex((button) => button === document.activeElement);
    if (at < 0) return;
    const across = getComputedStyle(list.current as Element).gridTemplateColumns.split(" ").length;
    const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: across, ArrowUp: -across }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    buttons[Math.min(buttons.length - 1, Math.max(0, at + by))]?.focus();
  }

  if (!found) return <p className="p-6 text-quiet">Looking through the stock…</p>;
  if (lines.length === 0) {
    return (
      <p className="m-4 border border-dashed border-ink p-8 text-center text-base">
        {found.total === 0 && !wish.aside
          ? "No texture sets yet. Drop a zip, a folder or images anywhere here, fetch a pack from the supplier, or make a set."
          : wish.aside && found.total === 0
            ? "Nothing is set aside."
            : "No set fits all of this. Take a filter off on the left, or search for other words."}
      </p>
    );
  }
  return (
    <ul
      ref={list}
      aria-label="Sets"
      onKeyDown={walk}
      className="grid grid-cols-[repeat(auto-fill,minmax(116px,1fr))] gap-3 p-3"
    >
      {lines.map((line) => (
        <Swatch key={line.name} line={line} on={chosen?.name === line.name} onChoose={() => void choose(line.name)} />
      ))}
    </ul>
  );
}
