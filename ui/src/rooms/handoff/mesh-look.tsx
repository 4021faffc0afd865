/** A mesh before it is written: its triangles, turned by hand, and how many they are at each level. */

import { useRef, useState, type KeyboardEvent } from "react";
import * as api from "../../api/handoff";
import type { MeshEntry, MeshLook as Looked, Sheet } from "../../api/handoff";
import { Segments } from "../../parts/segments";
import { useLatest } from "../../parts/use-latest";
import { usePicture } from "../../parts/use-picture";
import { useSite } from "../../state/site";
import { useAsked } from "./sheets";

const WIDE = 336;
const HIGH = 232;
const TURN_DEG = 15;

interface MeshLookProps {
  sheet: Sheet;
  entry: MeshEntry;
}

export function MeshLook({ sheet, entry }: MeshLookProps) {
  const [wire, setWire] = useState(true);
  const [level, setLevel] = useState(0);
  const [at, setAt] = useState({ bearing: 25, tilt: 38, near: 1 });
  const shownLevel = Math.min(level, entry.levels - 1);
  const looked = useLookedAt(sheet, entry, {
    level: shownLevel,
    bearing_deg: at.bearing,
    tilt_deg: at.tilt,
    nearness: at.near,
    wire,
    width_px: WIDE,
    height_px: HIGH,
  });
  const of = looked.value?.level;
  return (
    <section aria-label="The mesh" className="flex min-h-0 flex-col overflow-y-auto border-l border-rule px-3 py-2.5">
      <h2 className="heading mb-1.5 flex items-center justify-between">
        As it leaves
        <Segments
          label="How the mesh is drawn"
          value={wire ? "wire" : "shaded"}
          choices={[
            { value: "wire", label: "triangles" },
            { value: "shaded", label: "shaded" },
          ]}
          onChoose={(next) => setWire(next === "wire")}
        />
      </h2>
      <Turned
        picture={looked.value?.picture ?? null}
        trouble={looked.trouble}
        name={`${entry.file}, level ${shownLevel}`}
        onTurn={(dx, dy) =>
          setAt((one) => ({ ...one, bearing: one.bearing + dx, tilt: Math.min(85, Math.max(5, one.tilt + dy)) }))
        }
        onNear={(by) => setAt((one) => ({ ...one, near: Math.min(20, Math.max(0.5, one.near * by)) }))}
      />
      {entry.levels > 1 && (
        <div className="mt-1.5">
          <Segments
            label="Level of detail"
            value={String(shownLevel)}
            choices={Array.from({ length: entry.levels }, (_, k) => ({ value: String(k), label: String(k) }))}
            onChoose={(next) => setLevel(Number(next))}
          />
        </div>
      )}
      {of && (
        <p className="figures mt-1 flex flex-wrap justify-between gap-x-3 select-text" data-mesh-told>
          <span>
            <b className="font-semibold">{of.triangles.toLocaleString("en")}</b> triangles
          </span>
          <span>{of.vertices.toLocaleString("en")} vertices</span>
          <span>
            within <b className="font-semibold">{Number(of.toldM.toPrecision(3))} m</b>
          </span>
        </p>
      )}
    </section>
  );
}

function useLookedAt(sheet: Sheet, entry: MeshEntry, seen: api.MeshSeen) {
  const site = useSite((s) => s.state?.id ?? null);
  const moving = useSite((s) => s.moving);
  const changes = useAsked(sheet);
  const key = site && !moving ? `${changes} ${entry.id} ${JSON.stringify(seen)}` : null;
  return useLatest<Looked>(key, () => {
    const now = useSite.getState().shown;
    if (!site || !now) throw new Error("no site");
    return api.lookAtMesh(site, now, sheet.id, entry.id, seen);
  });
}

interface TurnedProps {
  picture: string | null;
  trouble: string | null;
  name: string;
  onTurn: (dx: number, dy: number) => void;
  onNear: (by: number) => void;
}

function Turned({ picture, trouble, name, onTurn, onNear }: TurnedProps) {
  const drag = useRef<{ x: number; y: number } | null>(null);
  const image = usePicture(picture);
  function keyed(event: KeyboardEvent) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (way) onTurn((way[0] ?? 0) * TURN_DEG, (way[1] ?? 0) * 5);
    else if (event.key === "+" || event.key === "=") onNear(1.4);
    else if (event.key === "-") onNear(1 / 1.4);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  return (
    <div
      role="application"
      aria-label="The mesh: drag or use the arrows to turn it, plus and minus to come nearer"
      tabIndex={0}
      className="shrink-0 cursor-grab overflow-hidden border border-ink bg-booth"
      style={{ width: WIDE + 2, height: HIGH + 2 }}
      onKeyDown={keyed}
      onWheel={(event) => onNear(event.deltaY < 0 ? 1.2 : 1 / 1.2)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={(event) => {
        const from = drag.current;
        if (!from) return;
        onTurn((event.clientX - from.x) * 0.5, (event.clientY - from.y) * 0.3);
        drag.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerUp={() => {
        drag.current = null;
      }}
    >
      {image ? (
        <img src={image} alt={name} width={WIDE} height={HIGH} draggable={false} className="block" />
      ) : (
        <p className="p-2 text-quiet">{trouble ?? "Counting triangles…"}</p>
      )}
    </div>
  );
}
