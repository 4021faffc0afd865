/** What a first start still has to do, told while it goes on by itself. */

import { Trouble } from "./parts/trouble";
import { useEffect, useState } from "react";
import * as api from "./api/client";
import type { ReadinessState } from "./generated/answers";
import { useSite } from "./state/site";

const EVERY_MS = 1000;

/** Asks how far the start is until it is done; what it changes is looked at anew. */
export function useReadiness(): ReadinessState | null {
  const [told, setTold] = useState<ReadinessState | null>(null);
  useEffect(() => {
    let timer = 0;
    let ended = false;
    const ask = () => {
      api.readiness().then(
        (next) => {
          if (ended) return;
          setTold(next);
          useSite.setState((s) => (s.changes === next.changes ? s : { changes: next.changes }));
          if (next.stages.some((one) => one.state === "waiting" || one.state === "running") && !next.trouble)
            timer = window.setTimeout(ask, EVERY_MS);
        },
        () => {
          if (!ended) timer = window.setTimeout(ask, EVERY_MS * 3);
        },
      );
    };
    ask();
    return () => {
      ended = true;
      window.clearTimeout(timer);
    };
  }, []);
  return told;
}

export function GettingReady() {
  const told = useReadiness();
  const left = told?.stages.filter((one) => one.state !== "done") ?? [];
  if (!told || left.length === 0) return null;
  return (
    <section role="status" aria-label="Getting ready" className="border-b border-rule bg-raised px-3.5 py-1.5">
      <ul className="flex flex-wrap items-center gap-x-5 gap-y-1">
        {told.stages.map((one) => (
          <li key={one.title} className="flex items-center gap-2">
            <span className={one.state === "running" ? "font-semibold" : "text-quiet"}>{one.title}</span>
            {one.state === "running" && (
              <>
                <progress className="h-1.5 w-24" aria-label={one.title} max={1} value={one.shareDone} />
                <span className="figures text-quiet">{one.said}</span>
              </>
            )}
            {one.state === "done" && <span className="text-good">done</span>}
          </li>
        ))}
      </ul>
      <Trouble says={told.trouble} className="mt-1 text-warn" />
    </section>
  );
}
