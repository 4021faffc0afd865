/** The sky seen from below: drag the sun to its bearing and height in one gesture. */

import { useRef } from "react";
import type { Light, Recipe } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { useSite } from "../../state/site";

const RADIUS = 24;
const CENTRE = 29;
const GRAZING_DEG = 7;

function withLight(change: Partial<Light>): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, light: { ...recipe.light, ...change } });
}

export function SkyDial() {
  const light = useSite((s) => s.shown?.light);
  const { preview, keep, drop } = useSite.getState();
  const held = useRef(false);
  const stepping = useRef<number | undefined>(undefined);
  if (!light) return null;

  const bearing = (light.sun_bearing_deg * Math.PI) / 180;
  const away = RADIUS * (1 - light.sun_height_deg / 90);
  const x = CENTRE + Math.sin(bearing) * away;
  const y = CENTRE - Math.cos(bearing) * away;

  function moveTo(event: React.PointerEvent<SVGSVGElement>) {
    const frame = event.currentTarget.getBoundingClientRect();
    const dx = event.clientX - frame.left - CENTRE;
    const dy = event.clientY - frame.top - CENTRE;
    const degrees = (Math.atan2(dx, -dy) * 180) / Math.PI;
    preview(
      withLight({
        sun_bearing_deg: Math.round((degrees + 360) % 360),
        sun_height_deg: Math.round(Math.min(90, Math.max(2, 90 * (1 - Math.hypot(dx, dy) / RADIUS)))),
      }),
    );
  }

  return (
    <div className="flex flex-col items-end gap-1">
      <svg
        width="58"
        height="58"
        role="application"
        tabIndex={0}
        aria-label={`Sun at bearing ${light.sun_bearing_deg}°, ${light.sun_height_deg}° high. Arrow keys move it.`}
        className="touch-none"
        onDoubleClick={(event) => event.stopPropagation()}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = true;
          moveTo(event);
        }}
        onPointerMove={(event) => held.current && moveTo(event)}
        onPointerUp={() => {
          held.current = false;
          keep("moved the sun");
        }}
        onPointerCancel={() => {
          held.current = false;
          drop();
        }}
        onKeyDown={(event) => {
          const ways: Record<string, [number, number]> = {
            ArrowLeft: [-5, 0], ArrowRight: [5, 0], ArrowUp: [0, 2], ArrowDown: [0, -2],
          };
          const way = ways[event.key];
          if (!way) return;
          event.preventDefault();
          preview((recipe) =>
            withLight({
              sun_bearing_deg: (recipe.light.sun_bearing_deg + way[0] + 360) % 360,
              sun_height_deg: Math.min(90, Math.max(2, recipe.light.sun_height_deg + way[1])),
            })(recipe),
          );
          window.clearTimeout(stepping.current);
          stepping.current = window.setTimeout(() => keep("moved the sun"), 450);
        }}
      >
        <title>Sky dial: drag the sun. North is up, the middle is overhead.</title>
        <circle cx={CENTRE} cy={CENTRE} r="27" fill="#f6f5f3" fillOpacity="0.94" stroke="#1c1d1e" />
        <circle cx={CENTRE} cy={CENTRE} r={RADIUS / 2} fill="none" stroke="#c9c7c2" />
        <path d="M29 2v5M29 51v5M2 29h5M51 29h5" stroke="#1c1d1e" />
        <text x="29" y="15" textAnchor="middle" fontSize="8" fill="#5d5f61" className="figures">
          N
        </text>
        <circle cx={x} cy={y} r="5" fill="#1c1d1e" stroke="#f6f5f3" />
      </svg>
      <Panel
        title="Light"
        width={236}
        trigger={
          <button type="button" className="figures bg-raised/95 px-2 py-[2px] text-xs font-medium">
            Light {shown(light.sun_height_deg, 0)}°
          </button>
        }
      >
        <div className="grid grid-cols-[1fr_auto] gap-y-2">
          <LightNumber label="Sun from" field="sun_bearing_deg" unit="°" least={0} most={360} step={1} />
          <LightNumber label="Sun height" field="sun_height_deg" unit="°" least={1} most={90} step={1} />
          <LightNumber label="Sky brightness" field="sky" unit="×" least={0} most={4} step={0.05} digits={2} />
          <LightNumber label="Exposure" field="exposure_ev" unit="EV" least={-6} most={6} step={0.1} digits={1} />
          <LightNumber label="Mist" field="mist" unit="" least={0} most={1} step={0.01} digits={2} />
        </div>
        <button
          type="button"
          className="key mt-3 w-full"
          onClick={() => keep("set grazing light", withLight({ sun_height_deg: GRAZING_DEG }))}
        >
          Grazing light, {GRAZING_DEG}°
        </button>
      </Panel>
    </div>
  );
}

interface LightNumberProps {
  label: string;
  field: keyof Light;
  unit: string;
  least: number;
  most: number;
  step: number;
  digits?: number;
}

function LightNumber({ label, field, ...rest }: LightNumberProps) {
  const value = useSite((s) => s.shown?.light[field] ?? 0);
  const { preview, keep, drop } = useSite.getState();
  return (
    <>
      <span>{label}</span>
      <Num
        label={label}
        value={value}
        {...rest}
        onMove={(next) => preview(withLight({ [field]: next }))}
        onKeep={(next) => keep(`set ${label.toLowerCase()}`, withLight({ [field]: next }))}
        onDrop={drop}
      />
    </>
  );
}
