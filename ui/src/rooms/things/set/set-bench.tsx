/** The bench of a thing that was set by hand: where and how it stands, how it is turned and stretched, its cover. */

import { GuideLink } from "../../../guide/guide-link";
import type { SetThing } from "../../../generated/recipe";
import { Panel } from "../../../parts/panel";
import { Num, shown } from "../../../parts/number";
import { Track } from "../../../parts/track";
import { asLabel, useAxes } from "../../../state/axes";
import { numberOf, type NumbersField } from "../../../state/numbers";
import { inSet, useSite } from "../../../state/site";
import { useState } from "react";
import { CoverList } from "./cover-list";
import { alongPath, droppedToGround } from "./set-things";

const APART = numberOf("ViewNumbers", "apart_m");

type Field = NumbersField<"SetThing"> & keyof SetThing;

export function SetBench({ one }: { one: SetThing }) {
  const thing = useSite((s) => s.shown?.things.find((other) => other.id === one.thing));
  if (!thing) return null;
  const track = (field: Field) => <SetTrack key={field} one={one} field={field} />;
  return (
    <div className="grid h-[292px] grid-cols-[250px_250px_minmax(0,1fr)]">
      <section aria-label="Stands" className="overflow-y-auto border-r border-rule px-3.5 py-2">
        <h2 className="heading mb-1">
          Stands · {one.name}
          <GuideLink at="things#set-by-hand" about="things set by hand" />
        </h2>
        {track("east_m")}
        {track("north_m")}
        {track("size_m")}
        {track("sunk")}
        {track("leans")}
        {track("joins_m")}
        {track("of_ground")}
        <Ground one={one} />
      </section>
      <section aria-label="Turned and stretched" className="overflow-y-auto border-r border-rule px-3.5 py-2">
        <h2 className="heading mb-1">Turned and stretched</h2>
        {track("turn_deg")}
        {track("nod_deg")}
        {track("roll_deg")}
        {track("along")}
        {track("across")}
        {track("high")}
        <Mirrored one={one} />
        <Stretched one={one} />
        <Path one={one} />
      </section>
      <CoverList thing={thing} sizeM={one.size_m} />
    </div>
  );
}

function SetTrack({ one, field }: { one: SetThing; field: Field }) {
  const { preview, keep, drop } = useSite.getState();
  const { width_m, depth_m } = useSite((s) => s.shown?.ground) ?? { width_m: 1, depth_m: 1 };
  const axes = useAxes();
  const spanned = numberOf("SetThing", field);
  const named = field === "east_m" ? axes.east : field === "north_m" ? axes.north : null;
  const of = named ? { ...spanned, label: asLabel(named) } : spanned;
  const most = field === "east_m" ? width_m : field === "north_m" ? depth_m : of.most;
  const change = (v: number) => inSet(one.id, (now) => ({ ...now, [field]: v }));
  return (
    <Track
      {...of}
      most={most}
      value={one[field]}
      onMove={(v) => preview(change(v))}
      onKeep={(v) => keep(`${one.name}: ${of.label.toLowerCase()}`, change(v))}
      onDrop={drop}
    />
  );
}

/** Whether it goes with the ground; one that does not keeps the elevation of its foot. */
function Ground({ one }: { one: SetThing }) {
  const { preview, keep, drop } = useSite.getState();
  const change = (part: Partial<SetThing>) => inSet(one.id, (now) => ({ ...now, ...part }));
  return (
    <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-ink"
          checked={one.follows}
          onChange={(event) =>
            keep(
              `${one.name}: ${event.target.checked ? "dropped to the ground" : "held where it is"}`,
              event.target.checked ? droppedToGround(one.id) : change({ follows: false }),
            )
          }
        />
        Stands on the ground
      </label>
      {!one.follows && (
        <span className="figures">
          foot at{" "}
          <Num
            {...numberOf("SetThing", "foot_m")}
            label={`${one.name}, elevation of its foot`}
            value={one.foot_m}
            onMove={(foot_m) => preview(change({ foot_m }))}
            onKeep={(foot_m) => keep(`${one.name}: elevation of its foot`, change({ foot_m }))}
            onDrop={drop}
          />
        </span>
      )}
    </div>
  );
}

/** Whether its left is its right. */
function Mirrored({ one }: { one: SetThing }) {
  const { keep } = useSite.getState();
  return (
    <label className="mt-1 flex items-center gap-1.5" title="Its left is its right, as in a mirror along its length">
      <input
        type="checkbox"
        className="accent-ink"
        checked={one.mirrored}
        onChange={({ target }) =>
          keep(
            `${one.name}: ${target.checked ? "mirrored" : "no longer mirrored"}`,
            inSet(one.id, (now) => ({ ...now, mirrored: target.checked })),
          )
        }
      />
      Mirrored
    </label>
  );
}

/** How far its shape is stretched: textures in its own axes are not, those over its own coordinates are. */
function Stretched({ one }: { one: SetThing }) {
  const { keep } = useSite.getState();
  const factors = [one.along, one.across, one.high];
  const by = Math.max(...factors) / Math.min(...factors);
  if (by < 1.001) return null;
  return (
    <p className={`figures mt-1 flex items-center gap-2 ${by > 1.5 ? "text-warn" : "text-quiet"}`}>
      stretched {shown(by, 2)} to 1
      <button
        type="button"
        className="underline"
        onClick={() =>
          keep(
            `${one.name}: not stretched`,
            inSet(one.id, (now) => ({ ...now, along: 1, across: 1, high: 1 })),
          )
        }
      >
        as it was
      </button>
    </p>
  );
}

function Path({ one }: { one: SetThing }) {
  const paths = useSite((s) => s.shown?.marks.paths ?? []);
  const [apart, setApart] = useState(APART.usual);
  const { keep } = useSite.getState();
  if (paths.length === 0) return null;
  return (
    <div className="mt-1.5">
      <Panel
        title={`Copies of ${one.name} along a path`}
        width={280}
        side="top"
        trigger={
          <button type="button" className="key">
            In a row along a path
          </button>
        }
      >
        <p className="figures mb-2">
          one every <Num {...APART} value={apart} onMove={setApart} onKeep={setApart} onDrop={() => undefined} />
        </p>
        <div className="grid gap-1">
          {paths.map((path) => (
            <button
              key={path.id}
              type="button"
              className="key text-left"
              onClick={() => keep(`${one.name}: a row along ${path.name}`, (r) => alongPath(r, one, path.id, apart))}
            >
              {path.name}
            </button>
          ))}
        </div>
      </Panel>
    </div>
  );
}
