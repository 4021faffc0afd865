/** Things that were set by hand: each with its kind's picture; one more is put into the hand and dropped in a picture. */

import { useState } from "react";
import { newId } from "../../../parts/new-id";
import { MoreMenu } from "../../../parts/more-menu";
import { NameField } from "../../../parts/name-field";
import type { SetThing } from "../../../generated/recipe";
import * as api from "../../../api/client";
import { inSet, useSite } from "../../../state/site";
import { useTools } from "../../../state/tools";
import { ThingsPanel } from "../strew-things";
import { ThingPicture } from "../thing-picture";
import { useHand } from "../use-hand";
import { asItsOwn, duplicated, withoutSet } from "./set-things";

export function SetList() {
  const set = useSite((s) => s.shown?.set_things ?? []);
  const inHand = useHand((s) => s.inHand);
  return (
    <section aria-label="Set by hand">
      <h2 className="heading mb-1.5">Set by hand</h2>
      <ol className="border-b border-ink">
        {set.map((one) => (
          <Row key={one.id} one={one} />
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <ThingsPanel
          title="Set a thing"
          side="right"
          trigger={
            <button type="button" className="key" aria-pressed={inHand !== null}>
              {inHand ? `${inHand.thing.name} in hand` : "Set a thing"}
            </button>
          }
          onChoose={(thing, begins) => {
            useHand.setState({ inHand: { thing, begins }, picked: null, carrying: false });
            useTools.setState({ tool: "set" });
          }}
        />
      </div>
    </section>
  );
}

function Row({ one }: { one: SetThing }) {
  const selected = useSite((s) => s.selected === one.id);
  const thing = useSite((s) => s.shown?.things.find((other) => other.id === one.thing));
  const { keep, select, through } = useSite.getState();
  const [naming, setNaming] = useState(false);
  if (!thing) return null;
  const many = () =>
    (useSite.getState().shown?.set_things.filter((other) => other.thing === one.thing).length ?? 0) > 1;
  return (
    <li
      className={`relative flex h-10 items-center border border-b-0 border-ink bg-raised pr-1 ${selected ? "z-10 outline-2 outline-offset-1 outline-accent" : ""} ${one.on ? "" : "opacity-55"}`}
    >
      <ThingPicture thing={thing} className="h-full w-12 shrink-0 border-r border-ink" />
      {naming ? (
        <NameField
          label="Name of the thing"
          name={one.name}
          className="ml-1.5 min-w-0 font-semibold"
          onName={(name) => through(`named ${name}`, (state) => api.namePart(state.id, state.revision, one.id, name))}
          onDone={() => setNaming(false)}
        />
      ) : (
        <button
          type="button"
          className="h-full min-w-0 flex-1 truncate px-1.5 text-left font-semibold"
          aria-pressed={selected}
          title="Double-click to name it"
          onClick={() => select(one.id)}
          onDoubleClick={() => setNaming(true)}
        >
          {one.name}
        </button>
      )}
      <MoreMenu
        name={one.name}
        width={190}
        actions={[
          [
            one.on ? "Hide" : "Show",
            () =>
              keep(
                `${one.on ? "hid" : "showed"} ${one.name}`,
                inSet(one.id, (now) => ({ ...now, on: !now.on })),
              ),
          ],
          ["Name it", () => setNaming(true)],
          [
            "Duplicate",
            () => {
              const id = newId();
              keep(`duplicated ${one.name}`, (recipe) => duplicated(recipe, one, id));
              select(id);
            },
          ],
          ...(many()
            ? ([["Give it a cover of its own", () => keep(`${one.name}: its own cover`, (r) => asItsOwn(r, one))]] as [
                string,
                () => void,
              ][])
            : []),
          ["Remove", () => keep(`removed ${one.name}`, (recipe) => withoutSet(recipe, one.id))],
        ]}
      />
    </li>
  );
}
