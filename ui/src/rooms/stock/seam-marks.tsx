/** The worst stretch of each seam, framed at the edge of a picture of one whole repeat. */

import type { SetFacts } from "../../generated/stock";
import { shown } from "../../parts/number";

type MapFacts = SetFacts["maps"][number];

const TOLD = 1.5;

export function SeamMarks({ maps }: { maps: MapFacts[] }) {
  return (["across", "down"] as const).map((axis) => {
    const [most] = maps.filter((map) => map[axis].ratio >= TOLD).sort((a, b) => b[axis].ratio - a[axis].ratio);
    if (!most) return null;
    const seam = most[axis];
    const along = { from: `${seam.worst_from * 100}%`, long: `${(seam.worst_to - seam.worst_from) * 100}%` };
    return (
      <span
        key={axis}
        data-worst={axis}
        title={`worst stretch of the seam, in ${most.role}: ${shown(seam.worst_ratio, 1)} times a usual step`}
        className="absolute border-2 border-accent"
        style={
          axis === "across"
            ? { left: 0, width: 8, top: along.from, height: along.long }
            : { top: 0, height: 8, left: along.from, width: along.long }
        }
      />
    );
  });
}
