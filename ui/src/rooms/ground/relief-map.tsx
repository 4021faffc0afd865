/** The relief map: looked at, measured, cut by a line, worked on with the brush, laid out with courses. */

import { numberOf } from "../../state/numbers";
import { useAxes } from "../../state/axes";
import { GROUND_MEASURES } from "../../state/measures";
import type { Place } from "./place";
import { useRef, useState } from "react";
import * as api from "../../api/client";
import type { MapAnswer } from "../../api/client";
import { Num, shown } from "../../parts/number";
import { useLatest } from "../../parts/use-latest";
import { useLetGo } from "../../parts/use-picture";
import { useSize } from "../../parts/use-size";
import { useRange } from "../../state/ground";
import { useSite } from "../../state/site";
import { useGroundRoom, useSelectedStep, useShownMeasure } from "../../state/steps";
import { pictureDrawn } from "../cover/use-picture";
import { CourseMarks } from "./course-marks";
import { MeasurePicker } from "./measure-picker";
import { useAsk } from "./use-ask";
import { useStroke } from "./use-stroke";
import { valueText } from "./values";

const BAR = 24;

/** A contour interval that gives about fifteen lines. */
function usualContour(rise: number): number {
  const rough = rise / 15;
  const tens = 10 ** Math.floor(Math.log10(Math.max(rough, 1e-3)));
  const factor = [1, 2, 5, 10].find((f) => f * tens >= rough) ?? 10;
  return Number((factor * tens).toPrecision(3));
}

export function ReliefMap() {
  const { box, size } = useSize();
  const ground = useSite((s) => s.shown?.ground);
  if (!ground) return <div ref={box} />;
  const room = size ? { width: size.width, height: size.height - BAR } : null;
  const scale = room ? Math.min(room.width / ground.width_m, room.height / ground.depth_m) : 0;
  const width = Math.max(16, Math.floor(ground.width_m * scale));
  const height = Math.max(16, Math.floor(ground.depth_m * scale));
  return (
    <div ref={box} className="relative flex min-h-0 min-w-0 flex-col items-center overflow-hidden">
      {room && <MapSheet width={width} height={height} />}
    </div>
  );
}

function MapSheet({ width, height }: { width: number; height: number }) {
  const ground = useSite((s) => s.shown?.ground);
  const measure = useShownMeasure();
  const radiusM = useGroundRoom((s) => s.radiusM);
  const chosen = useGroundRoom((s) => s.contourM);
  const range = useRange();
  const contour = chosen ?? usualContour(range.highest_m - range.lowest_m);
  const asked = useAsk(measure, radiusM);
  const [pointed, setPointed] = useState<Place | null>(null);
  const {
    value: map,
    current,
    trouble,
  } = useLatest<MapAnswer>(asked ? `${asked.key} ${width} ${height} ${contour}` : null, async () => {
    // the picture first: the map follows a hand as often
    if (useSite.getState().moving) await pictureDrawn();
    const { shown, moving } = useSite.getState();
    if (!asked || !shown) throw new Error("no ground");
    const { preview, measure, radius_m } = asked.ask;
    return api.groundMap({ recipe: shown, moving, preview, measure, radius_m }, { width, height }, contour);
  });
  useLetGo(map?.url ?? null);
  const kinds = GROUND_MEASURES;
  const kind = kinds.find((one) => one.name === measure);
  if (!ground) return null;
  return (
    <>
      <div
        className="relative"
        style={{ width, height }}
        data-map
        data-resting={current && asked?.ask.preview === false}
      >
        {map ? (
          <img
            src={map.url}
            alt={kind ? `${kind.title} of the ground from above` : "Relief of the ground from above"}
            width={width}
            height={height}
            draggable={false}
            className="absolute inset-0"
          />
        ) : (
          <p className="grid size-full place-items-center">{trouble ?? "Drawing the map…"}</p>
        )}
        <MapHands width={width} height={height} onPoint={setPointed} />
        <div className="absolute top-2 left-2">
          <MeasurePicker />
        </div>
        <span
          className="figures absolute top-2 right-2 bg-raised/85 px-1.5 text-[11px]"
          title={ground.upright ? "Up the face is up, as one sees it who stands before it" : "North is up"}
        >
          {ground.upright ? "up ↑" : "N ↑"}
        </span>
        <ScaleBar perMetre={width / ground.width_m} />
      </div>
      <div
        className="figures flex h-6 w-full items-center gap-3 bg-raised/90 px-2 text-xs font-medium whitespace-nowrap"
        style={{ maxWidth: Math.max(width, 380) }}
      >
        {kind && map?.low !== null && map?.high !== undefined && map.high !== null ? (
          <Legend scale={kind.scale} low={valueText(map.low, kind.unit)} high={valueText(map.high, kind.unit)} />
        ) : (
          <span>
            contours every{" "}
            <Num
              {...numberOf("ViewNumbers", "contour_m")}
              value={contour}
              step={contour >= 10 ? 1 : contour >= 1 ? 0.5 : 0.05}
              digits={contour >= 10 ? 0 : contour >= 1 ? 1 : 2}
              onMove={(value) => useGroundRoom.setState({ contourM: value })}
              onKeep={(value) => useGroundRoom.setState({ contourM: value })}
              onDrop={() => undefined}
            />
          </span>
        )}
        <Pointed place={pointed} unit={kind?.unit ?? null} />
      </div>
    </>
  );
}

function Legend({ scale, low, high }: { scale: string; low: string; high: string }) {
  return (
    <span className="flex items-center gap-1.5">
      {low}
      <img
        src={`/api/ramps/${scale.replace(" ", "-")}.png`}
        alt=""
        width={90}
        height={9}
        className="border border-ink"
      />
      {high}
    </span>
  );
}

function Pointed({ place, unit }: { place: Place | null; unit: string | null }) {
  const measure = useShownMeasure();
  const radiusM = useGroundRoom((s) => s.radiusM);
  const asked = useAsk(measure, radiusM);
  const axes = useAxes();
  const key = asked && place ? `${asked.key} ${place.east} ${place.north}` : null;
  const { value } = useLatest(key, () => {
    if (!asked || !place) throw new Error("no place");
    return api.groundAt(asked.ask, place.east, place.north);
  });
  if (!place) return <span className="ml-auto text-quiet">point at the map for its values</span>;
  return (
    <span className="ml-auto" data-pointed>
      {shown(place.east, 0)} {axes.afterEast} {shown(place.north, 0)} {axes.afterNorth}
      {value && ` · ${shown(value.elevationM, 1)} m`}
      {value && value.value !== null && unit && measure !== "elevation" ? ` · ${valueText(value.value, unit)}` : ""}
    </span>
  );
}

function ScaleBar({ perMetre }: { perMetre: number }) {
  const rough = 90 / perMetre;
  const tens = 10 ** Math.floor(Math.log10(rough));
  const metres = ([5, 2, 1].find((f) => f * tens <= rough) ?? 1) * tens;
  return (
    <span className="figures absolute bottom-2 left-2 bg-raised/85 px-1.5 pt-[1px] text-[11px] leading-tight">
      <span className="block border-b-2 border-ink text-center" style={{ width: metres * perMetre }}>
        {metres >= 1000 ? `${metres / 1000} km` : `${metres} m`}
      </span>
    </span>
  );
}

interface HandsProps {
  width: number;
  height: number;
  onPoint: (place: Place | null) => void;
}

/** Takes the gestures on the map and draws what they are about. */
function MapHands({ width, height, onPoint }: HandsProps) {
  const ground = useSite((s) => s.shown?.ground);
  const step = useSelectedStep();
  const line = useGroundRoom((s) => s.line);
  const brush = useGroundRoom((s) => s.brush);
  const svg = useRef<SVGSVGElement>(null);
  const start = useRef<Place | null>(null);
  const [over, setOver] = useState<Place | null>(null);
  const stroke = useStroke(step?.kind === "brush" ? step : null);
  if (!ground) return null;
  const x = (east: number) => (east / ground.width_m) * width;
  const y = (north: number) => (1 - north / ground.depth_m) * height;
  const placeOf = (event: { clientX: number; clientY: number }): Place => {
    const frame = svg.current?.getBoundingClientRect();
    const across = frame ? (event.clientX - frame.left) / frame.width : 0;
    const down = frame ? (event.clientY - frame.top) / frame.height : 0;
    const clamp = (v: number) => Math.min(1, Math.max(0, v));
    return {
      east: Number((clamp(across) * ground.width_m).toFixed(2)),
      north: Number(((1 - clamp(down)) * ground.depth_m).toFixed(2)),
    };
  };
  const painting = step?.kind === "brush";
  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      className={`absolute inset-0 touch-none ${painting ? "cursor-none" : "cursor-crosshair"}`}
      role="application"
      aria-label={painting ? "Map: draw strokes with the brush" : "Map: drag a line for the transect"}
      tabIndex={0}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const place = placeOf(event);
        if (painting) stroke.begin(place, event.pointerType === "pen" ? event.pressure : 1);
        else start.current = place;
      }}
      onPointerMove={(event) => {
        const place = placeOf(event);
        setOver(place);
        onPoint(place);
        if (painting) stroke.move(place, event.pointerType === "pen" ? event.pressure : 1);
        else if (
          start.current &&
          Math.hypot(x(place.east) - x(start.current.east), y(place.north) - y(start.current.north)) > 6
        ) {
          useGroundRoom.setState({
            line: { start: [start.current.east, start.current.north], end: [place.east, place.north] },
          });
        }
      }}
      onPointerUp={() => {
        if (painting) stroke.end();
        start.current = null;
      }}
      onPointerCancel={() => {
        stroke.drop();
        start.current = null;
      }}
      onPointerLeave={() => {
        setOver(null);
        onPoint(null);
      }}
    >
      {line && !painting && (
        <g className="figures text-[11px] font-semibold">
          <path
            d={`M${x(line.start[0])} ${y(line.start[1])}L${x(line.end[0])} ${y(line.end[1])}`}
            stroke="#f6f5f3"
            strokeWidth="4"
          />
          <path
            d={`M${x(line.start[0])} ${y(line.start[1])}L${x(line.end[0])} ${y(line.end[1])}`}
            stroke="#bf3b1c"
            strokeWidth="1.6"
          />
          {(["start", "end"] as const).map((end, k) => (
            <text
              key={end}
              x={x(line[end][0]) + 4}
              y={y(line[end][1]) - 4}
              stroke="#f6f5f3"
              strokeWidth="3"
              paintOrder="stroke"
              fill="#1c1d1e"
            >
              {k === 0 ? "A" : "B"}
            </text>
          ))}
        </g>
      )}
      {step?.kind === "course" && <CourseMarks step={step} x={x} y={y} placeOf={placeOf} />}
      {painting && over && (
        <>
          <circle
            cx={x(over.east)}
            cy={y(over.north)}
            r={Math.max(2, (brush.size_m / 2 / ground.width_m) * width)}
            fill="none"
            stroke="#f6f5f3"
            strokeWidth="3"
          />
          <circle
            cx={x(over.east)}
            cy={y(over.north)}
            r={Math.max(2, (brush.size_m / 2 / ground.width_m) * width)}
            fill="none"
            stroke="#bf3b1c"
            strokeWidth="1.4"
          />
        </>
      )}
    </svg>
  );
}
