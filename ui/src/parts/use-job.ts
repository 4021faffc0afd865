/** Follows a job on the server until it is over. */

import { useEffect } from "react";
import * as api from "../api/client";
import type { Job } from "../api/types";
import { useSite } from "../state/site";

const ASK_MS = 250;

/** Ask how far a job is while it runs; `onNext` must stay the same function from one drawing to the next. */
export function useJob<R>(job: Job<R> | null, onNext: (job: Job<R>) => void): void {
  const id = job?.state === "running" ? job.id : null;
  useEffect(() => {
    if (!id) return;
    const { say } = useSite.getState();
    const timer = window.setInterval(() => {
      api.job<R>(id).then(onNext, (error: unknown) => say(error instanceof Error ? error.message : String(error)));
    }, ASK_MS);
    return () => window.clearInterval(timer);
  }, [id, onNext]);
}
