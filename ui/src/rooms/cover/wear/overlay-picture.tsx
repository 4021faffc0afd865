/** An overlay as a small grey picture: white is the mark. */

import * as api from "../../../api/wear";
import type { Wear } from "../../../generated/recipe";
import { useLatest } from "../../../parts/use-latest";
import { useSite } from "../../../state/site";
import { useWhileStill } from "../../../state/still";

const MOST = 60;
const made = new Map<string, Promise<string>>();

/** Those drawn small while something moved: looked at for a moment. */
const sketches: string[] = [];
const MOST_SKETCHES = 12;

/** The address of an overlay's picture, asked for once. */
function addressOf(key: string, source: Wear["source"], px: number, turned: boolean): Promise<string> {
  const there = made.get(key);
  if (there) return there;
  const asked = api.overlayPicture(source, px, turned, false);
  made.set(key, asked);
  asked.catch(() => made.delete(key));
  const oldest = made.keys().next().value;
  if (made.size > MOST && oldest !== undefined) {
    void made.get(oldest)?.then(
      (url) => URL.revokeObjectURL(url),
      () => undefined,
    );
    made.delete(oldest);
  }
  return asked;
}

async function sketchOf(source: Wear["source"], px: number, turned: boolean): Promise<string> {
  const url = await api.overlayPicture(source, px, turned, true);
  sketches.push(url);
  if (sketches.length > MOST_SKETCHES) URL.revokeObjectURL(sketches.shift() ?? "");
  return url;
}

interface OverlayPictureProps {
  source: Wear["source"];
  turned: boolean;
  px: number;
  className: string;
  /** Follows what moves; else it waits until that rests. */
  live?: boolean;
}

export function OverlayPicture({ source, turned, px, className, live = false }: OverlayPictureProps) {
  const moving = useSite((s) => s.moving);
  const now = JSON.stringify([source, turned, px]);
  const still = useWhileStill(now);
  const key = live ? now : still;
  const sketch = live && moving && !made.has(key);
  const { value } = useLatest(sketch ? `${key} sketch` : key, () =>
    sketch ? sketchOf(source, px, turned) : addressOf(key, source, px, turned),
  );
  // what stands beside it must not move when it comes
  return value ? <img src={value} alt="" draggable={false} className={className} /> : <span className={className} />;
}
