/** Suites: layers kept together under a name, laid on any site as they are or by the same shares of its ground. */

import { Trouble } from "../../parts/trouble";
import { useCallback, useEffect, useState } from "react";
import * as api from "../../api/suites";
import type { How, SuiteLine } from "../../api/suites";
import type { Job } from "../../api/types";
import type { Layer } from "../../generated/recipe";
import { ChooseFile } from "../../parts/choose-file";
import { Panel } from "../../parts/panel";
import { useJob } from "../../parts/use-job";
import { counted } from "../../parts/words";
import { useSite } from "../../state/site";

type Which = "layer" | "group" | "column";

/** What of the column is kept, from a layer that is selected. */
function chosen(layers: Layer[], selected: Layer | undefined, which: Which): Layer[] {
  if (which === "column" || !selected) return layers;
  return which === "group" ? layers.filter((one) => one.group === selected.group) : [selected];
}

export function SuitesPanel() {
  const [open, setOpen] = useState(false);
  const [suites, setSuites] = useState<SuiteLine[] | null>(null);
  const [told, setTold] = useState<string[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = useCallback(() => api.all().then(setSuites, (error: unknown) => setTrouble(words(error))), []);
  useEffect(() => {
    if (open) void read();
  }, [open, read]);

  /** Do something and tell what came of it; the list is read again. */
  const go = useCallback(
    (act: () => Promise<string[]>) => {
      setTrouble(null);
      act().then(
        (said) => {
          setTold(said);
          void read();
        },
        (error: unknown) => setTrouble(words(error)),
      );
    },
    [read],
  );
  return (
    <Panel
      title="Suites of layers"
      guide="judging#suites"
      width={372}
      side="right"
      open={open}
      onOpen={(now) => {
        setOpen(now);
        setTold([]);
        setTrouble(null);
      }}
      trigger={
        <button type="button" className="key" title="Keep layers with their rules and wear, and lay them on any site">
          Suites
        </button>
      }
    >
      <Trouble says={trouble} className="mb-2 text-warn" />
      {told.length > 0 && (
        <ul role="status" className="mb-2 list-inside list-disc">
          {told.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      {suites?.length === 0 && (
        <p className="mb-2">
          None kept yet. Keep a layer, its group or the whole column below: rules, fit, look and wear go along, and can
          be laid on any other site.
        </p>
      )}
      <ul aria-label="Kept suites" className="grid gap-2">
        {suites?.map((suite) => (
          <Suite key={suite.id} suite={suite} go={go} />
        ))}
      </ul>
      <Keep go={go} />
      <BringIn go={go} />
    </Panel>
  );
}

const words = (error: unknown) => (error instanceof Error ? error.message : String(error));

interface Acting {
  go: (act: () => Promise<string[]>) => void;
}

function Suite({ suite, go }: { suite: SuiteLine } & Acting) {
  const { keep, select } = useSite.getState();

  async function lay(how: How) {
    const { shown, selected } = useSite.getState();
    if (!shown) return [];
    const above = shown.layers.some((one) => one.id === selected) ? selected : null;
    const laid = await api.lay(shown, suite.id, above, how);
    const { layers, wears } = laid.recipe;
    keep(laid.label, (recipe) => ({ ...recipe, layers, wears }));
    select(laid.layers.at(-1) ?? null);
    return [`${suite.name}: ${counted(suite.layers.length, "layer")} laid`, ...laid.notes];
  }
  return (
    <li className="min-w-0 border border-rule p-2">
      <div className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1 truncate font-semibold">{suite.name}</span>
        <span className="figures text-xs text-quiet">
          {counted(suite.layers.length, "layer")}
          {suite.wears > 0 && ` · ${counted(suite.wears, "wear")}`}
        </span>
      </div>
      <p className="truncate text-xs text-quiet" title={suite.layers.join(", ")}>
        {suite.ofSite && `${suite.ofSite}: `}
        {suite.layers.join(", ")}
      </p>
      <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
        <button
          type="button"
          className="key"
          aria-label={`Lay ${suite.name} as it is`}
          onClick={() => go(() => lay("limits"))}
        >
          Lay as it is
        </button>
        <button
          type="button"
          className="key"
          aria-label={`Lay ${suite.name} by this ground`}
          disabled={suite.measured === 0}
          title={
            suite.measured === 0
              ? "No limit of its rules is a measure that can follow the ground"
              : "Each limit goes to where as much of this ground lies beyond it as of the ground it was kept from"
          }
          onClick={() => go(() => lay("quantiles"))}
        >
          Lay by this ground
        </button>
        <span className="flex-1" />
        <a className="underline" href={api.packUrl(suite.id)} download aria-label={`Take out ${suite.name}`}>
          Take out
        </a>
        <button
          type="button"
          className="underline"
          aria-label={`Forget ${suite.name}`}
          onClick={() =>
            go(async () => {
              await api.forget(suite.id);
              return [`${suite.name} is forgotten; sites that it was laid on stay as they are`];
            })
          }
        >
          Forget
        </button>
      </div>
    </li>
  );
}

/** A layer, its group or all of the column, under a name. */
function Keep({ go }: Acting) {
  const layers = useSite((s) => s.shown?.layers ?? []);
  const selected = useSite((s) => s.shown?.layers.find((one) => one.id === s.selected));
  const title = useSite((s) => s.state?.title ?? "");
  const [which, setWhich] = useState<Which>("layer");
  const [name, setName] = useState<string | null>(null);
  const kept = chosen(layers, selected, which);
  const usual = which === "column" || !selected ? title : which === "group" ? selected.group : selected.name;
  if (layers.length === 0) return null;
  return (
    <form
      className="mt-3 grid gap-1.5 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        go(async () => {
          const { shown } = useSite.getState();
          if (!shown) return [];
          const line = await api.keep(
            shown,
            kept.map((one) => one.id),
            (name ?? usual).trim(),
            title,
          );
          setName(null);
          return [`Kept ${counted(line.layers.length, "layer")} as ${line.name}`];
        });
      }}
    >
      <div className="flex flex-wrap gap-x-3 gap-y-1" role="radiogroup" aria-label="What is kept">
        {(
          [
            ["layer", selected ? selected.name : ""],
            ["group", selected?.group ? `the group ${selected.group}` : ""],
            ["column", `the whole column, ${counted(layers.length, "layer")}`],
          ] as const
        )
          .filter(([, says]) => says !== "")
          .map(([one, says]) => (
            <label key={one} className="flex items-center gap-1.5">
              <input
                type="radio"
                name="kept"
                checked={one === which || (!selected && one === "column")}
                onChange={() => setWhich(one)}
              />
              {says}
            </label>
          ))}
      </div>
      <div className="flex gap-1.5">
        <input
          className="field min-w-0 flex-1"
          aria-label="Name of the suite"
          maxLength={80}
          value={name ?? usual}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <button type="submit" className="key" disabled={(name ?? usual).trim() === ""}>
          Keep as a suite
        </button>
      </div>
    </form>
  );
}

function BringIn({ go }: Acting) {
  const [job, setJob] = useState<Job<SuiteLine> | null>(null);
  const onNext = useCallback(
    (next: Job<SuiteLine>) => {
      setJob(next);
      if (next.state === "done") {
        go(() => Promise.resolve([`${next.result.name} was brought in, with its texture sets`]));
      } else if (next.state === "failed") {
        go(() => Promise.reject(new Error(next.message)));
      }
    },
    [go],
  );
  useJob(job, onNext);
  return (
    <ChooseFile
      label="A packed suite"
      accept=".zip"
      className="mt-2 underline"
      disabled={job?.state === "running"}
      onFile={(file) =>
        go(async () => {
          setJob(await api.bring(file));
          return [];
        })
      }
    >
      {job?.state === "running" ? "Bringing it in…" : "Bring in a suite that was taken out"}
    </ChooseFile>
  );
}
