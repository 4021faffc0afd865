/** The things of a strew: how much of it each is, their seeds and numbers, others beside them. */

import { CATALOGUE } from "../../generated/catalogue";
import type { Strew, Thing } from "../../generated/recipe";
import { Num } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { Track } from "../../parts/track";
import { numberOf } from "../../state/numbers";
import { inStrew, useSite } from "../../state/site";
import { kindOf, tidied, withThing } from "./strews";
import { ThingsPanel } from "./strew-things";
import { ThingPicture } from "./thing-picture";

export function KindsPart({ strew }: { strew: Strew }) {
  const things = useSite((s) => s.shown?.things ?? []);
  const { preview, keep, drop } = useSite.getState();
  const weigh = (thing: string, weight: number) =>
    inStrew(strew.id, (one) => ({
      ...one,
      kinds: one.kinds.map((kind) => (kind.thing === thing ? { ...kind, weight } : kind)),
    }));
  return (
    <div className="mb-1">
      {strew.kinds.map((kind) => {
        const thing = things.find((one) => one.id === kind.thing);
        if (!thing) return null;
        return (
          <div key={kind.thing} className="flex h-[25px] items-center gap-1.5">
            <ThingPanel thing={thing} strew={strew} />
            <span className="flex-1" />
            <Num
              {...numberOf("Mixed", "weight")}
              label={`How much ${thing.name}`}
              value={kind.weight}
              perPixel={0.05}
              onMove={(v) => preview(weigh(kind.thing, v))}
              onKeep={(v) => keep(`${strew.name}: how much ${thing.name}`, weigh(kind.thing, v))}
              onDrop={drop}
            />
            {strew.kinds.length > 1 && (
              <button
                type="button"
                className="text-xs underline"
                aria-label={`Take ${thing.name} out`}
                onClick={() =>
                  keep(`${strew.name}: without ${thing.name}`, (recipe) =>
                    tidied(
                      inStrew(strew.id, (one) => ({
                        ...one,
                        kinds: one.kinds.filter((other) => other.thing !== kind.thing),
                        added: one.added.filter((other) => other.thing !== kind.thing),
                      }))(recipe),
                    ),
                  )
                }
              >
                out
              </button>
            )}
          </div>
        );
      })}
      {strew.kinds.length < CATALOGUE.most.kinds && (
        <ThingsPanel
          title={`Another thing for ${strew.name}`}
          side="top"
          trigger={
            <button type="button" className="key mt-0.5">
              Mix in another thing
            </button>
          }
          onChoose={(thing) =>
            keep(`${strew.name}: ${thing.name} mixed in`, (recipe) => {
              const held = withThing(recipe, thing);
              return inStrew(strew.id, (one) =>
                one.kinds.some((kind) => kind.thing === held.id)
                  ? one
                  : { ...one, kinds: [...one.kinds, { thing: held.id, weight: 1 }] },
              )(held.recipe);
            })
          }
        />
      )}
    </div>
  );
}

/** A thing of this site: its picture, its seed, how many variants, and its kind's numbers. */
function ThingPanel({ thing, strew }: { thing: Thing; strew: Strew }) {
  const { preview, keep, drop } = useSite.getState();
  const kind = kindOf(thing);
  const { source } = thing;
  const put = (next: Thing["source"]) => (recipe: NonNullable<ReturnType<typeof useSite.getState>["shown"]>) => ({
    ...recipe,
    things: recipe.things.map((one) => (one.id === thing.id ? { ...one, source: next } : one)),
  });
  return (
    <Panel
      title={thing.name}
      width={340}
      side="top"
      trigger={
        <button
          type="button"
          className="min-w-0 truncate font-semibold underline decoration-rule decoration-2 underline-offset-4 hover:decoration-ink"
          title={`Its picture, seed and numbers, as it is strewn in ${strew.name}`}
        >
          {thing.name}
        </button>
      }
    >
      <ThingPicture thing={thing} figure className="mb-2 w-full" />
      {source.kind === "drawn" && kind ? (
        <>
          {kind.controls.map((control) => {
            const value = source.controls[control.name] ?? control.usual;
            const change = (v: number) => put({ ...source, controls: { ...source.controls, [control.name]: v } });
            return (
              <Track
                key={control.name}
                label={control.label}
                hint={control.about}
                unit={control.unit}
                least={control.least}
                most={control.most}
                step={control.step}
                digits={control.step >= 1 ? 0 : 2}
                usual={control.usual}
                value={value}
                onMove={(v) => preview(change(v))}
                onKeep={(v) => keep(`${thing.name}: ${control.label.toLowerCase()}`, change(v))}
                onDrop={drop}
              />
            );
          })}
          <Track
            {...numberOf("DrawnThing", "variants")}
            value={source.variants}
            onMove={(variants) => preview(put({ ...source, variants }))}
            onKeep={(variants) => keep(`${thing.name}: variants`, put({ ...source, variants }))}
            onDrop={drop}
          />
          <button
            type="button"
            className="key mt-1"
            onClick={() => keep(`${thing.name}: another seed`, put({ ...source, seed: (source.seed * 7 + 13) % 9973 }))}
          >
            Another seed
          </button>
        </>
      ) : (
        source.kind === "brought" && (
          <p className="figures text-quiet">
            {source.file_name}, {source.longest_m.toPrecision(3)} m on its longest side as it came
          </p>
        )
      )}
    </Panel>
  );
}
