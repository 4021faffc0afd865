/** How often each size is, drawn from the smallest to the largest. */

import type { Strew } from "../../generated/recipe";

const WIDTH = 200;
const HEIGHT = 26;

export function SizeCurve({ size }: { size: Strew["size"] }) {
  const steps = 40;
  const points = Array.from({ length: steps + 1 }, (_, k) => {
    const t = k / steps;
    return `${(t * WIDTH).toFixed(1)} ${(HEIGHT - (1 - t) ** size.bias * (HEIGHT - 2)).toFixed(1)}`;
  });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="h-[26px] w-full"
      role="img"
      aria-label={`Sizes from ${size.from_m} to ${size.to_m} m, ${size.bias > 0.05 ? "small ones more often" : "all alike"}`}
    >
      <path d={`M0 ${HEIGHT}L${points.join("L")}L${WIDTH} ${HEIGHT}z`} fill="#8b8780" />
    </svg>
  );
}
