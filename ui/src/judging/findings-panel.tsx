/** What is odd about the site, in one list: shown, mended as one step, or waved through with a word. */

import { Trouble } from "../parts/trouble";
import { useState } from "react";
import * as api from "../api/judging";
import type { Recipe } from "../generated/recipe";
import { Panel } from "../parts/panel";
import { useSite } from "../state/site";
import { useFindings, useJudging } from "./use-findings";

const waved =
  (id: string, word: string | null) =>
  (recipe: Recipe): Recipe => {
    const others = recipe.waved.filter((one) => one.id !== id);
    return { ...recipe, waved: word === null ? others : [...others, { id, word }] };
  };

/** Bring the part that a finding is about to the bench, and mark where it is worst. */
function show(one: api.Finding) {
  const { shown, select } = useSite.getState();
  const parts = [...(shown?.layers ?? []), ...(shown?.wears ?? [])];
  if (parts.some((part) => part.id === one.about)) select(one.about);
  useJudging.setState({
    shown: one.eastM !== null && one.northM !== null ? { east: one.eastM, north: one.northM, title: one.title } : null,
  });
}

function OneFinding({ one }: { one: api.Finding }) {
  const [word, setWord] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const keep = useSite((s) => s.keep);
  const busy = useSite((s) => s.keeping);
  const placed = one.eastM !== null;
  const there = useSite((s) =>
    [...(s.shown?.layers ?? []), ...(s.shown?.wears ?? [])].some((part) => part.id === one.about),
  );
  const named = `${one.title}${one.name ? `, ${one.name}` : ""}`;

  async function mend() {
    const { state } = useSite.getState();
    if (!state) return;
    try {
      const { label, recipe } = await api.mend(state.title, state.recipe, one.id);
      keep(label, () => recipe);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  }

  return (
    <li className={`border-t border-rule py-2 ${one.waved !== null ? "text-quiet" : ""}`} data-finding={one.kind}>
      <p>
        <b className="font-semibold">{one.title}</b>
        {one.name && <span className="text-quiet"> · {one.name}</span>}
      </p>
      <p className="figures">{one.text}</p>
      <p className="text-quiet">{one.why}</p>
      <Trouble says={trouble} />
      {one.waved !== null ? (
        <p className="mt-1 flex items-baseline justify-between gap-2">
          <span>Waved through{one.waved ? `: ${one.waved}` : ""}</span>
          <button
            type="button"
            className="underline decoration-dotted"
            onClick={() => keep(`${named}: looked at again`, waved(one.id, null))}
          >
            Look at it again
          </button>
        </p>
      ) : word !== null ? (
        <form
          className="mt-1 flex gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            keep(`${named}: waved through`, waved(one.id, word.trim()));
          }}
        >
          <input
            className="field min-w-0 flex-1"
            aria-label="Why it is right as it is"
            placeholder="Why it is right as it is"
            maxLength={200}
            autoFocus
            value={word}
            onChange={(event) => setWord(event.target.value)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape") setWord(null);
            }}
          />
          <button type="submit" className="key">
            Wave through
          </button>
        </form>
      ) : (
        <p className="mt-1 flex flex-wrap gap-1.5">
          {one.mend && (
            <button
              type="button"
              className="key"
              disabled={busy}
              title="One step, undone like any"
              onClick={() => void mend()}
            >
              {one.mend[0]?.toUpperCase()}
              {one.mend.slice(1)}
            </button>
          )}
          {(placed || there) && (
            <button
              type="button"
              className="key"
              title={placed ? "Marks in the pictures where it is worst" : "Brings it to the bench"}
              onClick={() => show(one)}
            >
              Show
            </button>
          )}
          <button type="button" className="key" onClick={() => setWord("")}>
            It is right…
          </button>
        </p>
      )}
    </li>
  );
}

export function FindingsPanel() {
  const { findings, open, current, trouble } = useFindings();
  const dear = useJudging((s) => s.dear);
  const [shown, setShown] = useState(false);
  return (
    <Panel
      title="Findings"
      guide="judging#findings"
      width={380}
      open={shown}
      onOpen={(next) => {
        setShown(next);
        if (!next) useJudging.setState({ shown: null });
      }}
      trigger={
        <button
          type="button"
          className="key"
          data-findings={current ? "current" : "older"}
          title="What is odd about this site"
        >
          {open === 0 ? "No findings" : `${open} ${open === 1 ? "finding" : "findings"}`}
        </button>
      }
    >
      <Trouble says={trouble} />
      {findings.length === 0 && !trouble && (
        <p className="text-quiet">{current ? "Nothing odd was found." : "Looking at the site…"}</p>
      )}
      <ul aria-label="Findings">
        {findings.map((one) => (
          <OneFinding key={one.id} one={one} />
        ))}
      </ul>
      {!dear ? (
        <button
          type="button"
          className="key mt-2"
          title="Looks at each layer from above: some seconds"
          onClick={() => useJudging.setState({ dear: true })}
        >
          Look for repeats as well
        </button>
      ) : (
        !current && <p className="mt-2 text-quiet">Looking for repeats…</p>
      )}
    </Panel>
  );
}
