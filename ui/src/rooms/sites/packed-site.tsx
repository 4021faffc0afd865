/** A packed site that was dropped: what it holds is said before it is opened. */

import { useCallback, useEffect, useState } from "react";
import * as api from "../../api/packs";
import { cancelJob } from "../../api/client";
import type { PackFacts } from "../../api/packs";
import type { Job, SiteState } from "../../api/types";
import { JobProgress } from "../../parts/job-progress";
import { useJob } from "../../parts/use-job";
import { sizeText } from "../../true-size";

export const isPack = (file: File) => file.name.toLowerCase().endsWith(".zip");

export function PackedSite({ file, onDone }: { file: File; onDone: () => void }) {
  const [facts, setFacts] = useState<PackFacts | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [job, setJob] = useState<Job<SiteState> | null>(null);
  useEffect(() => {
    let gone = false;
    api.bringPack(file).then(
      (found) => (gone ? void api.letPackGo(found.pack) : setFacts(found)),
      (error: unknown) => !gone && setTrouble(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      gone = true;
    };
  }, [file]);
  const onJob = useCallback(
    (next: Job<SiteState>) => {
      setJob(next);
      if (next.state === "failed") setTrouble(next.message);
      if (next.state !== "done") return;
      onDone();
      window.location.hash = `#/site/${next.result.id}/cover`;
    },
    [onDone],
  );
  useJob(job, onJob);
  const leave = () => {
    if (facts) void api.letPackGo(facts.pack).catch(() => undefined);
    onDone();
  };
  return (
    <section aria-label="A packed site" className="plate mb-5 p-4">
      <h2 className="mb-2 text-lg font-semibold">{facts ? facts.title : file.name}</h2>
      {facts ? (
        <dl className="figures grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
          <dt className="text-quiet">ground</dt>
          <dd>
            {sizeText(facts.widthM, facts.depthM)}, {facts.steps} {facts.steps === 1 ? "step" : "steps"}
          </dd>
          <dt className="text-quiet">cover</dt>
          <dd>
            {facts.layers} {facts.layers === 1 ? "layer" : "layers"}, {facts.wears}{" "}
            {facts.wears === 1 ? "wear" : "wears"}
          </dd>
          <dt className="text-quiet">sets</dt>
          <dd>
            {facts.sets.join(", ") || "none"}
            {facts.knownSets > 0 && <span className="text-quiet"> · {facts.knownSets} in the stock already</span>}
          </dd>
          <dt className="text-quiet">files</dt>
          <dd>
            {facts.files}, {(facts.bytes / 1e6).toFixed(1)} MB · packed by {facts.madeBy}
          </dd>
        </dl>
      ) : (
        <p className={trouble ? "text-warn" : "text-quiet"} role={trouble ? "alert" : undefined}>
          {trouble ?? "Looking through it…"}
        </p>
      )}
      {facts && trouble && (
        <p className="mt-2 text-warn" role="alert">
          {trouble}
        </p>
      )}
      <div className="mt-3 flex items-center gap-2">
        {job?.state === "running" ? (
          <>
            <span className="w-64">
              <JobProgress job={job} doneText="" />
            </span>
            <button type="button" className="key" onClick={() => void cancelJob(job.id).catch(() => undefined)}>
              Cancel
            </button>
          </>
        ) : (
          <>
            {facts && (
              <button
                type="button"
                className="key-strong"
                onClick={() =>
                  void api
                    .openPack(facts.pack)
                    .then(setJob, (error: unknown) =>
                      setTrouble(error instanceof Error ? error.message : String(error)),
                    )
                }
              >
                Open it here
              </button>
            )}
            <button type="button" className="key" onClick={leave}>
              Leave it
            </button>
          </>
        )}
      </div>
    </section>
  );
}
