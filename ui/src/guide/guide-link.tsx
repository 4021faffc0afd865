/** A small way from a panel to what the guide says of it. */

import type { GuidePlace } from "./pages";
import { useGuide } from "./state";

export function GuideLink({ at, about }: { at: GuidePlace; about: string }) {
  return (
    <button
      type="button"
      aria-label={`Guide: ${about}`}
      title={`What the guide says: ${about}`}
      className="group -my-1.5 ml-0.5 inline-grid size-6 place-items-center align-middle"
      onClick={() => useGuide.getState().show(at)}
    >
      <span
        aria-hidden
        className="figures grid size-4 place-items-center rounded-full border border-quiet text-[11px] leading-none tracking-normal text-quiet group-hover:border-ink group-hover:text-ink"
      >
        ?
      </span>
    </button>
  );
}
