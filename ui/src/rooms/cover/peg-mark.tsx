/** The peg in the Far picture: drag it to say what Mid and Near look at. */

import { ARROWS } from "../../parts/arrows";
import { useRef, useState } from "react";
import { spot } from "../../api/client";
import type { Spot } from "../../api/types";
import type { Recipe } from "../../generated/recipe";
import { useShaping } from "../../state/ground";
import { useSite } from "../../state/site";
import { plainRequest } from "./use-picture";

function pegAt(east: number, north: number): (recipe: Recipe) => Recipe {
  return (recipe) => ({ ...recipe, peg: { east_m: Number(east.toFixed(2)), north_m: Number(north.toFixed(2)) } });
}

export function PegMark({
  at,
  size,
}: {
  at: { across: number; down: number };
  size: { width: number; height: number };
}) {
  const [held, setHeld] = useState<{ across: number; down: number } | null>(null);
  const asking = useRef<Promise<void> | null>(null);
  const drag = useRef<{ moved: boolean } | null>(null);
  const { preview, keep, drop, underWay } = useSite.getState();
  const place = held ?? at;

  /** The place on the ground under a point of the picture; null where there is none. */
  async function under(across: number, down: number): Promise<Spot | null> {
    const recipe = useSite.getState().shown;
    if (!recipe) return null;
    try {
      return await spot(plainRequest(recipe, "far", size, !useShaping.getState().ready), across, down);
    } catch {
      return null; // the picture itself says what is wrong
    }
  }

  function follow(across: number, down: number) {
    asking.current ??= under(across, down).then((found) => {
      asking.current = null;
      // an answer that comes after letting go must not set things moving again
      if (found && drag.current) preview(pegAt(found.eastM, found.northM));
    });
  }

  async function settle(across: number, down: number) {
    const found = await under(across, down);
    if (found) keep("moved the peg", pegAt(found.eastM, found.northM));
    else drop();
  }

  function nudge(dx: number, dy: number) {
    const { peg, ground } = useSite.getState().shown ?? {};
    if (!peg || !ground) return;
    const clamp = (v: number, most: number) => Math.min(most, Math.max(0, v));
    const step = Math.max(ground.width_m, ground.depth_m) / 200;
    keep(
      "moved the peg",
      pegAt(clamp(peg.east_m + dx * step, ground.width_m), clamp(peg.north_m + dy * step, ground.depth_m)),
    );
  }

  if (place.across < 0 || place.across > 1 || place.down < 0 || place.down > 1) return null;
  return (
    <button
      type="button"
      aria-label="The peg: Mid and Near look at it. Arrow keys move it on the ground."
      title="The peg: drag it to where Mid and Near should look"
      className="absolute h-[30px] w-5 -translate-x-1/2 -translate-y-[29px] cursor-grab touch-none"
      style={{ left: `${place.across * 100}%`, top: `${place.down * 100}%` }}
      onDoubleClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { moved: false };
        setHeld(at);
      }}
      onPointerMove={(event) => {
        if (!drag.current) return;
        event.stopPropagation();
        drag.current.moved = true;
        const frame = event.currentTarget.parentElement?.getBoundingClientRect();
        if (!frame) return;
        const across = Math.min(1, Math.max(0, (event.clientX - frame.left) / frame.width));
        const down = Math.min(1, Math.max(0, (event.clientY - frame.top) / frame.height));
        setHeld({ across, down });
        follow(across, down);
      }}
      onPointerUp={(event) => {
        event.stopPropagation();
        const moved = drag.current?.moved;
        drag.current = null;
        if (held && moved) underWay(settle(held.across, held.down).finally(() => setHeld(null)));
        else setHeld(null);
      }}
      onPointerCancel={() => {
        drag.current = null;
        setHeld(null);
        drop();
      }}
      onKeyDown={(event) => {
        const way = ARROWS[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        nudge(...way);
      }}
    >
      <svg width="20" height="30" aria-hidden="true">
        <path d="M10 29 7.5 22V4h5v18z" fill="#bf3b1c" stroke="#fff" />
        <path d="M2 8h16v4H2z" fill="#f6f5f3" stroke="#bf3b1c" strokeWidth="1.4" />
      </svg>
    </button>
  );
}
