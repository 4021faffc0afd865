/** Says that the ground is still being shaped, how far it is, and lets it be cancelled. */

import { leftText } from "../../parts/job-progress";
import { shown } from "../../parts/number";
import { useShaping } from "../../state/ground";
import { useSite } from "../../state/site";

export function ShapingNote() {
  const { job, ready, trouble, cancel, again } = useShaping();
  const step = useSite((s) => s.step);
  const canUndo = useSite((s) => s.state?.undo !== null);
  if (ready || (!job && !trouble)) return null;
  const running = job?.state === "running";
  if (running && job.shareDone === 0 && job.secondsLeft === null && !trouble) return null;
  return (
    <div
      role="status"
      className="plate figures absolute top-14 left-1/2 z-20 flex -translate-x-1/2 items-center gap-3 px-3 py-1.5"
    >
      {running ? (
        <>
          <span>
            Shaping the ground in full: {shown(job.shareDone * 100, 0)}%, {leftText(job)}. A preview is shown.
          </span>
          <span className="h-2 w-24 border border-ink">
            <span className="block h-full bg-ink" style={{ width: `${job.shareDone * 100}%` }} />
          </span>
          <button type="button" className="key" onClick={cancel}>
            Cancel
          </button>
        </>
      ) : (
        <>
          <span className="max-w-xl">{trouble ?? "Shaping was cancelled; a preview is shown."}</span>
          <button type="button" className="key" onClick={again}>
            Shape it in full
          </button>
          {canUndo && (
            <button type="button" className="key" onClick={() => step("undo")}>
              Undo the last edit
            </button>
          )}
        </>
      )}
    </div>
  );
}
