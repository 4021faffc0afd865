/** Where the finding that is shown is worst, in a picture. */

import * as api from "../api/client";
import type { PictureAsked } from "../api/types";
import { useLatest } from "../parts/use-latest";
import { useJudging } from "./use-findings";

interface FindingMarkProps {
  request: () => PictureAsked | null;
  viewKey: string;
  size: { width: number; height: number };
}

export function FindingMark({ request, viewKey, size }: FindingMarkProps) {
  const shown = useJudging((s) => s.shown);
  const { value } = useLatest(shown ? `${viewKey} ${shown.east} ${shown.north}` : null, () => {
    const asked = request();
    if (!asked || !shown) throw new Error("no picture yet");
    const at: [number, number] = [shown.east, shown.north];
    return api.projected(asked, [[at, at]]);
  });
  const spot = value?.lines[0]?.[0];
  if (!shown || !spot || Math.abs(spot[0] - 0.5) > 0.5 || Math.abs(spot[1] - 0.5) > 0.5) return null;
  const [x, y] = [spot[0] * size.width, spot[1] * size.height];
  return (
    <svg
      className="pointer-events-none absolute inset-0 size-full"
      role="img"
      aria-label={`${shown.title}: worst here`}
    >
      <g transform={`translate(${x} ${y})`} fill="none">
        <circle r="17" stroke="#fff" strokeWidth="5" />
        <circle r="17" stroke="#1c1d1e" strokeWidth="2" strokeDasharray="6 4" />
        <path d="M0-30v10M0 20v10M-30 0h10M20 0h10" stroke="#fff" strokeWidth="5" />
        <path d="M0-30v10M0 20v10M-30 0h10M20 0h10" stroke="#1c1d1e" strokeWidth="2" />
      </g>
    </svg>
  );
}
