/** A small way from a panel to what the guide says of it. */

import type { GuidePlace } from "./pages";
import { useGuide } from "./state";

export function GuideLink({ at, about }: { at: GuidePlace; about: string }) {
  return (
    <button
      type="button"
      aria-label={`Guide: ${about}`}
      title={`What the guide says: ${about}`}
      className="figures ml-1.5 inline-grid size-4 place-items-center rounded-full border border-quiet text-[11px] leading-none tracking-normal text-quiet hover:border-ink hover:text-ink"
      onClick={() => useGuide.getState().show(at)}
    >
      ?
    </button>
  );
}
