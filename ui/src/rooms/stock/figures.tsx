/** What a set is worth in numbers: seams per map and axis, ranges, green axis, memory; findings with their mends. */

import type { MendAsk, SetState } from "../../api/stock";
import { ROLE_TITLES } from "../../api/stock";
import type { SetFacts } from "../../generated/stock";
import { shown } from "../../parts/number";
import { capital } from "../../parts/words";

export type MendName = SetFacts["findings"][number]["mend"];

function seamInk(ratio: number): string {
  return ratio >= 3 ? "font-semibold text-accent" : ratio >= 1.5 ? "font-semibold text-warn" : "";
}

/** The request that mends a finding at once; null where it needs choices first. */
export function quickMend(mend: MendName): { label: string; ask: MendAsk } | null {
  if (mend === "turn-green") return { label: "Turn green over", ask: { kind: "turn", role: "normal" } };
  if (mend === "invert-roughness") return { label: "It is gloss: invert it", ask: { kind: "turn", role: "roughness" } };
  if (mend === "invert-mask") return { label: "Turn dark and light", ask: { kind: "turn", role: "mask" } };
  return null;
}

export function Findings({
  state,
  onMend,
  onShowMend,
}: {
  state: SetState;
  onMend: (ask: MendAsk) => void;
  onShowMend: () => void;
}) {
  if (state.facts.findings.length === 0) return <p className="text-good">Nothing odd was found.</p>;
  return (
    <ul aria-label="Findings" className="space-y-1">
      {state.facts.findings.map((finding) => {
        const quick = quickMend(finding.mend);
        return (
          <li key={finding.text} className="flex items-start justify-between gap-3 border-l-4 border-warn pl-2">
            <span>{capital(finding.text)}.</span>
            {quick && (
              <button type="button" className="key shrink-0" onClick={() => onMend(quick.ask)}>
                {quick.label}
              </button>
            )}
            {!quick && finding.mend !== "none" && (
              <button type="button" className="key shrink-0" onClick={onShowMend}>
                Mend…
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Fact({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="contents">
      <dt className="text-quiet">{label}</dt>
      <dd className="figures">{children}</dd>
    </div>
  );
}

const percent = (share: number) =>
  share > 0 && share < 0.001 ? "under 0.1%" : `${shown(share * 100, share < 0.1 ? 1 : 0)}%`;

export function Figures({ state }: { state: SetState }) {
  const facts = state.facts;
  return (
    <div className="grid grid-cols-[1fr_218px] gap-4">
      <table className="figures h-fit w-full text-left">
        <thead>
          <tr className="heading">
            <th className="font-semibold">Map</th>
            <th>Pixels</th>
            <th>Bits</th>
            <th>Mean</th>
            <th title="step across the wrap edge against a usual step inside; 1 is seamless">Seam ↔</th>
            <th title="the same from bottom to top">Seam ↕</th>
          </tr>
        </thead>
        <tbody>
          {facts.maps.map((map) => (
            <tr key={map.role} className="border-t border-rule">
              <td>{ROLE_TITLES[map.role]}</td>
              <td>{map.width_px}</td>
              <td>{map.bits}</td>
              <td>{shown(map.mean, 2)}</td>
              <td className={seamInk(map.across.ratio)}>{shown(map.across.ratio, 2)}</td>
              <td className={seamInk(map.down.ratio)}>{shown(map.down.ratio, 2)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <dl className="grid h-fit grid-cols-[auto_1fr] gap-x-3">
        {facts.colour && <Fact label="Mean colour, linear">{facts.colour.map((v) => shown(v, 2)).join(" ")}</Fact>}
        {facts.colour && <Fact label="Darker than 0.02">{percent(facts.darker)}</Fact>}
        {facts.colour && <Fact label="Brighter than 0.9">{percent(facts.brighter)}</Fact>}
        {facts.rough_low !== null && facts.rough_high !== null && (
          <Fact label="Roughness">
            {shown(facts.rough_low, 2)} to {shown(facts.rough_high, 2)}
          </Fact>
        )}
        {facts.normal_length !== null && <Fact label="Normal length">{shown(facts.normal_length, 3)}</Fact>}
        {facts.tilt_deg !== null && <Fact label="Mean tilt">{shown(facts.tilt_deg, 0)}°</Fact>}
        {facts.green && (
          <Fact label="Green axis">
            <span title={facts.green.by}>
              {facts.green.points}, {shown(facts.green.confidence, 2)}
            </span>
          </Fact>
        )}
        {facts.height_used !== null && <Fact label="Height range used">{percent(facts.height_used)}</Fact>}
        <Fact label="Memory in a cover">{shown(facts.memory_bytes / 1e6, 0)} MB</Fact>
      </dl>
    </div>
  );
}
