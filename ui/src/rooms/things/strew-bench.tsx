/** The bench of the selected strew: where it lies, how many that is, how its things stand, what they look like. */

import { numberOf } from "../../state/numbers";
import { GuideLink } from "../../guide/guide-link";
import { create } from "zustand";
import type { Strew } from "../../generated/recipe";
import { Folds } from "../../parts/folds";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { Segments } from "../../parts/segments";
import { inStrew, useSite } from "../../state/site";
import { AddClause } from "../cover/add-clause";
import { ClausePhrase } from "../cover/clause-phrase";
import { RuleMenu } from "../cover/rule-menu";
import { ByHandPart } from "./by-hand";
import { KindsPart } from "./kinds-part";
import { PartTrack, StrewNum } from "./number-rows";
import { SizeCurve } from "./size-curve";
import { counted, short } from "./strews";
import type { StrewsKnown } from "./use-strew-facts";

export function StrewBench({ facts }: { facts: StrewsKnown }) {
  const strew = useSite((s) => s.shown?.strews.find((one) => one.id === s.selected));
  const index = useSite((s) => s.shown?.strews.findIndex((one) => one.id === s.selected) ?? -1);
  if (!strew) {
    return (
      <section className="h-[292px] px-4 py-3 text-quiet">
        Select a strew in the column, or strew things: their rule, numbers and looks are set here.
      </section>
    );
  }
  return (
    <div className="grid h-[292px] grid-cols-[minmax(0,1fr)_244px_252px]">
      <section
        aria-label="Where"
        className="grid min-w-0 grid-cols-[minmax(0,1fr)_186px] gap-4 overflow-hidden border-r border-rule px-3.5 py-2.5"
      >
        <div key={strew.id} className="min-w-0 overflow-y-auto">
          <h2 className="heading mb-1">
            Where · strew {index + 1}
            <GuideLink at="things#strewing" about="strewing" />
          </h2>
          <WherePart strew={strew} />
        </div>
        <HowMany strew={strew} facts={facts} />
      </section>
      <StandsPart strew={strew} />
      <section aria-label="Looks" className="overflow-y-auto px-3.5 pt-2">
        <h2 className="heading mb-1">Looks</h2>
        <KindsPart strew={strew} />
        <PartTrack strew={strew} part="looks" field="hue" />
        <PartTrack strew={strew} part="looks" field="brightness" />
        <PartTrack strew={strew} part="looks" field="of_ground" />
        <PartTrack strew={strew} part="looks" field="foot_m" />
      </section>
    </div>
  );
}

function WherePart({ strew }: { strew: Strew }) {
  const { keep } = useSite.getState();
  const { clauses } = strew.rule;
  const standing = clauses.filter((one) => one.join !== "break-up");
  return (
    <>
      <p className="text-[15px] leading-[1.72]">
        <b>{strew.name}</b> lie <StrewNum strew={strew} field="per_100_m2" /> on 100 m², at least{" "}
        <StrewNum strew={strew} field="apart_m" /> apart,{" "}
        {standing.length === 0 ? "everywhere" : standing[0]?.kind === "measure" ? "on ground " : ""}
        {clauses.map((clause, k) => (
          <ClausePhrase
            key={`${clause.kind}-${k}`}
            layer={strew}
            clause={clause}
            at={{ k }}
            first={clause === standing[0]}
          />
        ))}
        .
      </p>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <AddClause layer={strew} />
        <RuleMenu layer={strew} opacity={1} />
        <ClustersPanel strew={strew} />
        <ClearPanel strew={strew} />
        <button
          type="button"
          className="key"
          title="Other places by the same rule"
          onClick={() =>
            keep(
              `${strew.name}: another seed`,
              inStrew(strew.id, (one) => ({ ...one, seed: (one.seed * 7 + 13) % 9973 })),
            )
          }
        >
          Another seed
        </button>
      </div>
      <ByHandPart strew={strew} />
    </>
  );
}

function ClustersPanel({ strew }: { strew: Strew }) {
  return (
    <Panel
      title={`Clusters of ${strew.name}`}
      width={290}
      side="top"
      trigger={
        <button type="button" className="key">
          Clusters{strew.clusters.clustered > 0 ? ` ${shown(strew.clusters.clustered * 100, 0)}%` : ""}
        </button>
      }
    >
      <PartTrack strew={strew} part="clusters" field="clustered" />
      <PartTrack strew={strew} part="clusters" field="size_m" />
      <PartTrack strew={strew} part="clusters" field="apart_m" />
    </Panel>
  );
}

/** Whether a strew keeps clear, in the end, of another: then that one cannot keep clear of it. */
function leadsTo(strews: readonly Strew[], from: string, to: string): boolean {
  const one = strews.find((other) => other.id === from);
  return from === to || (one?.clear_of.some((next) => leadsTo(strews, next, to)) ?? false);
}

function ClearPanel({ strew }: { strew: Strew }) {
  const strews = useSite((s) => s.shown?.strews ?? []);
  const { keep } = useSite.getState();
  const others = strews.filter((one) => one.id !== strew.id && !leadsTo(strews, one.id, strew.id));
  if (strews.length < 2) return null;
  return (
    <Panel
      title={`${strew.name} keep clear of`}
      width={240}
      side="top"
      trigger={
        <button type="button" className="key">
          Clear of {strew.clear_of.length}
        </button>
      }
    >
      {others.length === 0 && <p>All others keep clear of this one already.</p>}
      {others.map((other) => (
        <label key={other.id} className="flex items-center gap-1.5 py-0.5">
          <input
            type="checkbox"
            className="accent-ink"
            checked={strew.clear_of.includes(other.id)}
            onChange={(event) =>
              keep(
                `${strew.name} ${event.target.checked ? "keep clear" : "may lie within"} ${other.name}`,
                inStrew(strew.id, (one) => ({
                  ...one,
                  clear_of: event.target.checked
                    ? [...one.clear_of, other.id]
                    : one.clear_of.filter((id) => id !== other.id),
                })),
              )
            }
          />
          {other.name}
        </label>
      ))}
    </Panel>
  );
}

function HowMany({ strew, facts }: { strew: Strew; facts: StrewsKnown }) {
  const known = facts.of.get(strew.id);
  const { preview, keep, drop } = useSite.getState();
  const row = (label: string, value: string, warn = false) => (
    <div className="flex justify-between gap-2">
      <span>{label}</span>
      <b className={`text-right font-semibold ${warn ? "text-warn" : ""}`}>{value}</b>
    </div>
  );
  const cut = known ? known.wanted > strew.at_most : false;
  const crowded = known?.fits != null && strew.per_100_m2 > known.fits;
  const hands = known
    ? [
        known.moved > 0 ? `${known.moved} changed` : "",
        known.gone > 0 ? `${known.gone} away` : "",
        known.added > 0 ? `${known.added} more` : "",
      ].filter(Boolean)
    : [];
  const change = (at_most: number) => inStrew(strew.id, (one) => ({ ...one, at_most: Math.round(at_most) }));
  return (
    <div aria-label="How many" className="figures overflow-y-auto leading-[1.6]" role="group">
      <h2 className="heading mb-1">How many</h2>
      {known ? (
        <>
          {row("on the site", `${known.counted ? "" : "≈ "}${counted(known.count)}`)}
          {row("triangles, all", short(known.triangles))}
          {row("models", `${(known.bytes / 1e6).toFixed(1)} MB`)}
          {row("by hand", hands.join(", ") || "none")}
        </>
      ) : (
        <p className="text-quiet">counting…</p>
      )}
      <div className="flex justify-between gap-2">
        <span title="A ceiling: those that would be laid last are left out">At most</span>
        <Num
          {...numberOf("Strew", "at_most")}
          label={`${strew.name}, at most`}
          value={strew.at_most}
          step={Math.max(1, 10 ** Math.floor(Math.log10(Math.max(strew.at_most, 10)) - 1))}
          perPixel={Math.max(1, strew.at_most / 90)}
          onMove={(v) => preview(change(v))}
          onKeep={(v) => keep(`${strew.name}: ceiling`, change(v))}
          onDrop={drop}
        />
      </div>
      {cut && known && (
        <p className="mt-1 leading-tight text-warn">
          The ceiling leaves {counted(known.wanted - strew.at_most)} of {counted(known.wanted)} out.
        </p>
      )}
      {crowded && (
        <p className="mt-1 leading-tight text-warn">
          {shown(strew.apart_m, 2)} m apart lets at most {shown(known.fits ?? 0, 1)} on 100 m².
        </p>
      )}
    </div>
  );
}

const useOpen = create<{ open: string }>(() => ({ open: "size" }));

const TURNS: readonly { value: Strew["stands"]["turned"]; label: string; hint: string }[] = [
  { value: "any", label: "Any way", hint: "Turned by chance" },
  { value: "fall", label: "Along the fall", hint: "Its length points downhill" },
  { value: "path", label: "Along a path", hint: "Its length follows a path" },
];

function StandsPart({ strew }: { strew: Strew }) {
  const open = useOpen((s) => s.open);
  const { size, stands } = strew;
  return (
    <section aria-label="Stands" className="overflow-y-auto border-r border-rule px-3.5 pt-2">
      <h2 className="heading mb-1">Stands</h2>
      <Folds
        open={open}
        onOpen={(name) => useOpen.setState({ open: name })}
        folds={[
          {
            name: "size",
            title: "Size",
            told: `${shown(size.from_m, 2)}–${shown(size.to_m, 2)} m`,
            inside: (
              <>
                <PartTrack strew={strew} part="size" field="from_m" />
                <PartTrack strew={strew} part="size" field="to_m" />
                <SizeCurve size={size} />
                <PartTrack strew={strew} part="size" field="bias" />
              </>
            ),
          },
          {
            name: "height",
            title: "Size by height",
            told: size.at_foot > 0 ? `${shown(size.at_foot * 100, 0)}%, up to ${shown(size.top_m, 0)} m` : "no",
            inside: (
              <>
                <PartTrack strew={strew} part="size" field="at_foot" label="Falls" />
                <PartTrack strew={strew} part="size" field="foot_m" label="From" />
                <PartTrack strew={strew} part="size" field="top_m" label="To" />
              </>
            ),
          },
          {
            name: "ground",
            title: "In the ground",
            told: `${shown(stands.sunk_from * 100, 0)}–${shown(stands.sunk_to * 100, 0)}% sunk`,
            inside: (
              <>
                <PartTrack strew={strew} part="stands" field="sunk_from" />
                <PartTrack strew={strew} part="stands" field="sunk_to" />
                <PartTrack strew={strew} part="stands" field="leans" />
                <PartTrack strew={strew} part="stands" field="tilt_deg" />
              </>
            ),
          },
          {
            name: "turn",
            title: "Turned",
            told: TURNS.find((one) => one.value === stands.turned)?.label.toLowerCase() ?? "",
            inside: <TurnPart strew={strew} />,
          },
        ]}
      />
    </section>
  );
}

function TurnPart({ strew }: { strew: Strew }) {
  const paths = useSite((s) => s.shown?.marks.paths ?? []);
  const { keep } = useSite.getState();
  const put = (stands: Partial<Strew["stands"]>, what: string) =>
    keep(
      `${strew.name}: ${what}`,
      inStrew(strew.id, (one) => ({ ...one, stands: { ...one.stands, ...stands } })),
    );
  return (
    <div className="grid gap-1 py-1">
      <Segments
        label="Turned"
        value={strew.stands.turned}
        choices={TURNS.filter((one) => one.value !== "path" || paths.length > 0)}
        onChoose={(turned) =>
          put(
            { turned, ...(turned === "path" ? { path: strew.stands.path ?? paths[0]?.id ?? null } : {}) },
            "which way they lie",
          )
        }
      />
      {strew.stands.turned === "path" && (
        <select
          className="field"
          aria-label="Which path they follow"
          value={strew.stands.path ?? ""}
          onChange={(event) => put({ path: event.target.value }, "the path they follow")}
        >
          {paths.map((path) => (
            <option key={path.id} value={path.id}>
              {path.name}
            </option>
          ))}
        </select>
      )}
      {strew.stands.turned !== "any" && <PartTrack strew={strew} part="stands" field="jitter_deg" />}
      <PartTrack strew={strew} part="stands" field="turn_deg" />
    </div>
  );
}
