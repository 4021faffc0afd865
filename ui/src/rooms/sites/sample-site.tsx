/** One press lays out a site to learn from; it says how far it is, how long is left, and can be cancelled. */

import { useCallback, useState } from "react";
import * as api from "../../api/client";
import type { Job, SiteState } from "../../api/types";
import { JobProgress } from "../../parts/job-progress";
import { useJob } from "../../parts/use-job";
import { useSite } from "../../state/site";

export function SampleSite({ onDone }: { onDone: () => void }) {
  const [job, setJob] = useState<Job<SiteState> | null>(null);
  const say = useSite((s) => s.say);
  const next = useCallback(
    (told: Job<SiteState>) => {
      setJob(told);
      if (told.state === "failed") say(told.message);
      if (told.state === "done") onDone();
    },
    [say, onDone],
  );
  useJob(job, next);

  if (job?.state === "running") {
    return (
      <span className="flex w-64 items-center gap-2">
        <span className="flex-1">
          <JobProgress job={job} doneText="" />
        </span>
        <button type="button" className="key" onClick={() => void api.cancelJob(job.id).catch(() => undefined)}>
          Cancel
        </button>
      </span>
    );
  }
  return (
    <button
      type="button"
      className="key"
      title="Hallin Delph, a quarry with benches, tips, a sump and a haul road: taken apart, it shows how a site is made"
      onClick={() =>
        void api
          .sampleSite()
          .then(setJob, (error: unknown) => say(error instanceof Error ? error.message : String(error)))
      }
    >
      A quarry to learn from
    </button>
  );
}
