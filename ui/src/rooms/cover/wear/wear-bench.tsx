/** The strip of controls for the selected wear: where it lies, where it comes from, how it lies, what it does. */

import { GuideLink } from "../../../guide/guide-link";
import { numberOf } from "../../../state/numbers";
import { Tabs } from "radix-ui";
import type { ReactNode } from "react";
import type { ByRelief, Thing, Wear } from "../../../generated/recipe";
import { Segments } from "../../../parts/segments";
import { Track } from "../../../parts/track";
import { useSite } from "../../../state/site";
import { RuleSentence } from "../rule-sentence";
import { EffectsPanel } from "./effects-panel";
import { LiePanel, SourcePanel, useWear } from "./source-panel";
import { columnOf, standsOn } from "./wear-order";

const TAB =
  "heading border-b-2 border-transparent pb-0.5 data-[state=active]:border-ink data-[state=inactive]:font-normal";

interface WearBenchProps {
  wear: Wear;
  /** The thing that it lies on; left out, the ground. */
  on?: Thing;
  /** What leads back to that thing. */
  back?: ReactNode;
}

export function WearBench({ wear, on, back }: WearBenchProps) {
  return (
    // as high as the other benches of its room: pictures stay where they are
    <div className={`grid ${on ? "h-[292px]" : "h-[282px]"} grid-cols-[minmax(0,1fr)_300px_300px]`}>
      <section aria-label="Where" className="min-h-0 min-w-0 overflow-y-auto border-r border-rule px-3.5 py-2.5">
        <h2 className="heading mb-1">
          {back}
          {on ? `Where · wear on ${on.name}` : "Where · wear"}
          <GuideLink at="wear#where" about="where wear lies" />
        </h2>
        <RuleSentence layer={wear} opacity={wear.strength} first={false} />
        <OverPart wear={wear} on={on} />
        <ReliefPart wear={wear} />
      </section>
      <Tabs.Root defaultValue="source" className="flex min-h-0 flex-col border-r border-rule px-3.5 pt-2">
        <Tabs.List aria-label="Source and fit" className="mb-1 flex gap-4">
          <Tabs.Trigger value="source" className={TAB}>
            Source
          </Tabs.Trigger>
          <Tabs.Trigger value="fit" className={TAB}>
            Fit
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value="source" className="min-h-0 flex-1 overflow-y-auto pb-2" tabIndex={-1}>
          <SourcePanel wear={wear} />
        </Tabs.Content>
        <Tabs.Content value="fit" className="min-h-0 flex-1 overflow-y-auto pb-2" tabIndex={-1}>
          <LiePanel wear={wear} />
        </Tabs.Content>
      </Tabs.Root>
      <EffectsPanel wear={wear} />
    </div>
  );
}

/** Which of the layers under it a wear changes. */
function OverPart({ wear, on }: { wear: Wear; on?: Thing | undefined }) {
  const recipe = useSite((s) => s.shown);
  const { put } = useWear(wear);
  const column = on ? columnOf(on) : recipe;
  if (!column) return null;
  const place = standsOn(column, wear);
  const under = column.layers.slice(0, column.layers.findIndex((one) => one.id === place) + 1);
  const chosen = under.filter((one) => wear.over.includes(one.id));
  const toggle = (id: string) => (wear.over.includes(id) ? wear.over.filter((one) => one !== id) : [...wear.over, id]);
  return (
    <div className="mt-2 border-t border-rule pt-1.5">
      <p>
        Over{" "}
        <b>
          {wear.over.length === 0
            ? "all layers under it"
            : chosen.map((one) => one.name).join(", ") || "layers that are not under it"}
        </b>
        {wear.effects.worn_through !== null && wear.over.length === 0 && (
          <span className="text-quiet">; wears through {under.at(-1)?.name ?? "nothing"}</span>
        )}
      </p>
      <div role="group" aria-label="Layers it lies over" className="mt-1 flex flex-wrap gap-1">
        <button
          type="button"
          className="key"
          aria-pressed={wear.over.length === 0}
          onClick={() => put("over all layers", { over: [] })}
        >
          All
        </button>
        {under.toReversed().map((one) => (
          <button
            key={one.id}
            type="button"
            className="key"
            aria-pressed={wear.over.includes(one.id)}
            onClick={() => put(`over ${one.name}`, { over: toggle(one.id) })}
          >
            {one.name}
          </button>
        ))}
      </div>
    </div>
  );
}

/** Whether it lies in the hollows of the relief under it, or on what stands out. */
function ReliefPart({ wear }: { wear: Wear }) {
  const { show, put, drop } = useWear(wear);
  const part = (change: Partial<ByRelief>) => ({ by_relief: { ...wear.by_relief, ...change } });
  return (
    <div className="mt-2 border-t border-rule pt-1.5">
      <Segments
        label="By the relief under it"
        value={wear.by_relief.where}
        choices={[
          { value: "everywhere", label: "Everywhere", hint: "Whatever the relief under it" },
          { value: "hollows", label: "Only in hollows", hint: "Dirt and film gather there" },
          { value: "raised", label: "Only on edges and raised parts", hint: "Feet and wheels rub there" },
        ]}
        onChoose={(where) => put(`by relief: ${where}`, part({ where }))}
      />
      {wear.by_relief.where !== "everywhere" && (
        <div className="max-w-[340px]">
          <Track
            {...numberOf("ByRelief", "level")}
            value={wear.by_relief.level}
            onMove={(level) => show(part({ level }))}
            onKeep={(level) => put("level of relief", part({ level }))}
            onDrop={drop}
          />
          <Track
            {...numberOf("ByRelief", "soft")}
            value={wear.by_relief.soft}
            onMove={(soft) => show(part({ soft }))}
            onKeep={(soft) => put("softness by relief", part({ soft }))}
            onDrop={drop}
          />
        </div>
      )}
    </div>
  );
}
