import { shown } from "../../parts/number";

/** A value with as many digits as it deserves, and its unit. */
export function valueText(value: number, unit: string): string {
  const size = Math.abs(value);
  const gap = unit === "°" ? "" : " ";
  if (unit === "m²" && size >= 1e5) return `${shown(value / 1e6, size >= 1e7 ? 1 : 2)} km²`;
  const digits = size >= 100 ? 0 : size >= 10 ? 1 : size >= 0.1 ? 2 : size >= 0.01 ? 3 : size === 0 ? 0 : 4;
  return `${shown(value, digits)}${gap}${unit}`;
}
