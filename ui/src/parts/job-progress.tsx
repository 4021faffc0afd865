/** How far a long piece of work is, how long is left. */

import type { Job } from "../api/types";
import { shown } from "./number";

export function leftText(job: Job): string {
  return job.secondsLeft === null ? "starting…" : `about ${shown(Math.max(1, job.secondsLeft), 0)} s left`;
}

export function JobProgress({ job, doneText }: { job: Job; doneText: string }) {
  const text = { running: leftText(job), done: doneText, cancelled: job.message, failed: job.message }[job.state];
  return (
    <div role="status">
      <div className="h-3 border border-ink">
        <div className="h-full bg-ink" style={{ width: `${job.shareDone * 100}%` }} />
      </div>
      <p className="figures mt-1">
        {job.state === "running" ? `${shown(job.shareDone * 100, 0)}% · ` : ""}
        {text}
      </p>
    </div>
  );
}
