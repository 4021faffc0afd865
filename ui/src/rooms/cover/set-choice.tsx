/** A set of the stock chosen from a list. */

import { useEffect, useState } from "react";
import * as stock from "../../api/stock";
import type { SetLine } from "../../api/stock";

/** A choice of one set of the stock, or of what is there without one. */
export function SetChoice({
  label,
  own,
  value,
  onChoose,
}: {
  label: string;
  own: string;
  value: string | null;
  onChoose: (set: string | null, title: string, tileM?: number) => void;
}) {
  const [sets, setSets] = useState<SetLine[]>([]);
  useEffect(() => {
    let gone = false;
    stock.sets().then(
      (found) => !gone && setSets(found),
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, []);
  return (
    <label className="grid h-[27px] grid-cols-[76px_1fr] items-center gap-2">
      <span>{label}</span>
      <select
        aria-label={label}
        className="field min-w-0 py-0"
        value={value ?? ""}
        onChange={(event) => {
          const set = sets.find((one) => one.name === event.target.value);
          onChoose(set?.name ?? null, set?.title ?? own, set?.tileM);
        }}
      >
        <option value="">{own}</option>
        {sets.map((set) => (
          <option key={set.name} value={set.name}>
            {set.title}
          </option>
        ))}
      </select>
    </label>
  );
}
