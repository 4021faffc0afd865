/** What a set is filed under: category, tags, collections, notes; where it is used; taking out, setting aside. */

import { useState } from "react";
import * as api from "../../api/stock";
import type { SetState } from "../../api/stock";
import { useSite } from "../../state/site";
import { useStock } from "../../state/stock";

function words(text: string): string[] {
  return [
    ...new Set(
      text
        .split(",")
        .map((one) => one.trim().slice(0, 40))
        .filter(Boolean),
    ),
  ];
}

/** A line of text that is kept when it is left or Enter is pressed; Esc gives up. */
function Kept({
  label,
  value,
  hint,
  long,
  onKeep,
}: {
  label: string;
  value: string;
  hint: string;
  long?: boolean;
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== value) onKeep(text);
    setText(null);
  };
  const common = {
    className: "field mt-0.5",
    value: text ?? value,
    placeholder: hint,
    "aria-label": label,
    onChange: (event: React.ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => setText(event.target.value),
    onBlur: keep,
  };
  return (
    <label className="block">
      <span className="heading block">{label}</span>
      {long ? (
        <textarea rows={3} {...common} onKeyDown={(event) => event.key === "Escape" && setText(null)} />
      ) : (
        <input
          {...common}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
            if (event.key === "Escape") setText(null);
          }}
        />
      )}
    </label>
  );
}

export function Filing({
  state,
  onReplace,
  onMakeAnew,
}: {
  state: SetState;
  onReplace: () => void;
  onMakeAnew: () => void;
}) {
  const { describe: keep, setAside, choose, reload } = useStock();
  const say = useSite((s) => s.say);
  const told = state.description;
  const remove = () => {
    api.remove(state.name).then(
      () => {
        void choose(null);
        void reload();
      },
      (error: unknown) => say(error instanceof Error ? error.message : String(error)),
    );
  };
  return (
    <div className="grid grid-cols-2 gap-x-6 gap-y-3">
      <div className="space-y-2">
        <label className="block">
          <span className="heading block">Category</span>
          <select
            className="field mt-0.5"
            value={told.category}
            onChange={(event) => {
              const category = api.CATEGORIES.find((one) => one === event.target.value);
              if (category) keep("filed elsewhere", { category });
            }}
          >
            {api.CATEGORIES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <Kept
          label="Tags"
          hint="damp, reservoir, bank"
          value={told.tags.join(", ")}
          onKeep={(text) => keep("tags", { tags: words(text) })}
        />
        <Kept
          label="Collections"
          hint="Vellin Water"
          value={told.collections.join(", ")}
          onKeep={(text) => keep("collections", { collections: words(text) })}
        />
        <Kept
          label="Notes"
          hint="where it came from, what it is good for"
          long
          value={told.notes}
          onKeep={(text) => keep("notes", { notes: text.slice(0, 4000) })}
        />
      </div>
      <div>
        <h3 className="heading mb-1">Used in</h3>
        {state.usedIn.length === 0 && <p className="text-quiet">No site uses it now.</p>}
        <ul aria-label="Used in">
          {state.usedIn.map((use) => (
            <li key={use.site}>
              <a className="underline decoration-dotted" href={`#/site/${use.site}/cover`}>
                {use.title}
              </a>
              : {use.layers.join(", ")}
            </li>
          ))}
        </ul>
        <h3 className="heading mt-3 mb-1">Files</h3>
        <ul className="figures text-xs">
          {Object.entries(told.maps).map(([role, map]) => (
            <li key={role} className="truncate" title={map.note}>
              {api.ROLE_TITLES[role]}:{" "}
              {map.origin === "brought" || map.origin === "unpacked" ? map.from_name || "brought in" : map.origin}
              {map.note && <span className="text-quiet"> · {map.note}</span>}
            </li>
          ))}
        </ul>
        <div className="mt-3 flex flex-wrap gap-1.5">
          <a className="key" href={api.outUrl(state.name)} download>
            Take out as a zip
          </a>
          <button type="button" className="key" onClick={onReplace} title="layers that use it follow">
            Replace its files
          </button>
          {told.made_by && (
            <button type="button" className="key" onClick={onMakeAnew}>
              Make it anew
            </button>
          )}
          <button
            type="button"
            className="key"
            title={state.usedIn.length > 0 ? "layers that use it keep it" : "it can be put back"}
            onClick={() => setAside(!state.setAside)}
          >
            {state.setAside ? "Put it back on the wall" : "Set it aside"}
          </button>
          {state.setAside && (
            <button type="button" className="key" onClick={remove}>
              Remove for good
            </button>
          )}
        </div>
        {state.setAside && (
          <p className="mt-1 text-quiet">It is set aside: not on the wall, still in every layer that uses it.</p>
        )}
      </div>
    </div>
  );
}
