/** The ground in numbers. */

import { GuideLink } from "../../guide/guide-link";
import { shown } from "../../parts/number";
import { useReady, useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { sizeText } from "../../true-size";
import { KeptGround } from "./kept-ground";

const PLATEAU = 0.005;

export function FactsPanel() {
  const facts = useShaping((s) => s.facts);
  const ready = useReady();
  const ground = useSite((s) => s.shown?.ground);
  if (!ground) return <section aria-label="Facts" />;
  const cell = facts ? Math.max(facts.cellXM, facts.cellYM) : 0;
  const rows: [string, string][] = facts
    ? [
        ["size", sizeText(ground.width_m, ground.depth_m)],
        [ground.upright ? "comes out" : "elevation", `${shown(facts.lowestM, 1)} to ${shown(facts.highestM, 1)} m`],
        ["range", `${shown(facts.highestM - facts.lowestM, 1)} m`],
        ["samples", `${facts.cols} × ${facts.rows}${ready ? "" : " (preview)"}`],
        ["cell", cell >= 1 ? `${shown(cell, 2)} m` : `${shown(cell * 100, 1)} cm`],
        ["slope", `mean ${shown(facts.meanDeg, 0)}°, most ${shown(facts.steepestDeg, 0)}°`],
        ["at lowest", `${shown(facts.shareLowest * 100, 2)}%`],
        ["at highest", `${shown(facts.shareHighest * 100, 2)}%`],
      ]
    : [];
  const clipped = facts !== null && facts.highestM > facts.lowestM && facts.shareHighest > PLATEAU;
  return (
    <section aria-label="Facts" className="overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-1">
        Facts
        <GuideLink at="ground#a-height-file" about="heights and facts" />
      </h2>
      <dl className="figures grid grid-cols-[auto_1fr] gap-x-3 gap-y-[2px]">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-quiet">{name}</dt>
            <dd className="font-medium">{value}</dd>
          </div>
        ))}
      </dl>
      {clipped && <p className="mt-1 text-warn">A plateau: many samples lie exactly at the highest elevation.</p>}
      <KeptGround />
    </section>
  );
}
