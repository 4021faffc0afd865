/** Wear in the column: thin bands across the strata that it touches, to select, move, name and hide. */

import { newId } from "../../../parts/new-id";
import { useState } from "react";
import * as client from "../../../api/client";
import * as api from "../../../api/wear";
import type { Wear } from "../../../generated/recipe";
import { DragHandle } from "../../../parts/drag-handle";
import { MoreMenu } from "../../../parts/more-menu";
import { NameField } from "../../../parts/name-field";
import { inWear, useSite } from "../../../state/site";
import { OverlayPicture } from "./overlay-picture";
import { shifted } from "./wear-order";

interface BandProps {
  wear: Wear;
  onDrag: (clientY: number) => void;
  onDrop: (done: boolean) => void;
}

export function WearBand({ wear, onDrag, onDrop }: BandProps) {
  const selected = useSite((s) => s.selected === wear.id);
  const { select, keep, through } = useSite.getState();
  const [naming, setNaming] = useState(false);

  const take = (plain: string) =>
    through(`named ${plain}`, (state) => client.namePart(state.id, state.revision, wear.id, plain));
  return (
    <div
      data-wear={wear.id}
      className={`relative flex h-[25px] touch-none border border-b-0 border-ink bg-raised select-none ${selected ? "z-10 outline-2 outline-offset-1 outline-accent" : ""}`}
    >
      <DragHandle
        className="grid w-[31px] place-items-center border-r border-ink text-[11px]"
        label={`Wear ${wear.name}${selected ? ", selected" : ""}. Alt with the arrow keys moves it.`}
        hint={`${wear.name}: drag onto another layer, Alt+↑ or Alt+↓ moves it`}
        pressed={selected}
        onSelect={() => select(wear.id)}
        onShift={(way) => keep(`moved ${wear.name}`, (recipe) => shifted(recipe, wear.id, way === -1 ? 1 : -1))}
        onDrag={onDrag}
        onDrop={onDrop}
      >
        ~
      </DragHandle>
      <div
        className="relative flex min-w-0 flex-1 items-center gap-1 overflow-hidden px-1.5"
        onClick={() => select(wear.id)}
      >
        <OverlayPicture
          source={wear.source}
          turned={wear.range.turned}
          px={96}
          className={`absolute inset-0 size-full object-cover ${wear.on ? "opacity-60" : "opacity-15"}`}
        />
        {naming ? (
          <NameField
            label="Name of the wear"
            name={wear.name}
            className="relative min-w-0 py-0"
            onName={take}
            onDone={() => setNaming(false)}
          />
        ) : (
          <button
            type="button"
            className={`relative min-h-6 truncate bg-raised px-[5px] text-xs leading-[18px] font-semibold ${wear.on ? "" : "line-through"}`}
            title="Double-click to name it"
            onClick={() => select(wear.id)}
            onDoubleClick={() => setNaming(true)}
          >
            {wear.name}
          </button>
        )}
        <span className="flex-1" />
        {selected && <WearMenu wear={wear} onName={() => setNaming(true)} />}
      </div>
    </div>
  );
}

function WearMenu({ wear, onName }: { wear: Wear; onName: () => void }) {
  const [name, setName] = useState("");
  const [told, setTold] = useState<string | null>(null);
  const { keep, select } = useSite.getState();
  const actions: readonly [string, () => void][] = [
    [
      wear.on ? "Hide" : "Show",
      () =>
        keep(
          `${wear.on ? "hid" : "showed"} ${wear.name}`,
          inWear(wear.id, (one) => ({ ...one, on: !one.on })),
        ),
    ],
    ["Name it", onName],
    [
      "Duplicate",
      () => {
        const copy = { ...wear, id: newId(), name: `${wear.name.slice(0, 72)}, copy` };
        keep(`duplicated ${wear.name}`, (recipe) => ({
          ...recipe,
          wears: recipe.wears.toSpliced(recipe.wears.findIndex((one) => one.id === wear.id) + 1, 0, copy),
        }));
        select(copy.id);
      },
    ],
    [
      "Remove",
      () =>
        keep(`removed ${wear.name}`, (recipe) => ({
          ...recipe,
          wears: recipe.wears.filter((one) => one.id !== wear.id),
        })),
    ],
  ];
  async function keepIt() {
    const called = (name.trim() || wear.name).slice(0, 80);
    try {
      await api.keep(called, wear);
      setTold(`Kept as ${called}, for any site.`);
    } catch (error) {
      setTold(error instanceof Error ? error.message : String(error));
    }
  }
  return (
    <MoreMenu name={wear.name} width={210} actions={actions}>
      {() => (
        <form
          className="mt-1 grid gap-1 border-t border-rule pt-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            void keepIt();
          }}
        >
          <label className="text-quiet" htmlFor="wear-kept">
            Keep for other sites as
          </label>
          <input
            id="wear-kept"
            className="field"
            value={name}
            maxLength={80}
            placeholder={wear.name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.stopPropagation()}
          />
          <button
            type="submit"
            className="key"
            title="With its effects, fit and range; clauses on marks of this site are left out"
          >
            Keep it
          </button>
          {told && (
            <p role="status" className="text-xs">
              {told}
            </p>
          )}
        </form>
      )}
    </MoreMenu>
  );
}
