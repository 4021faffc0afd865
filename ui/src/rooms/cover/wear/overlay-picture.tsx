/** An overlay as a small grey picture: white is the mark. */

import { useEffect, useState } from "react";
import * as api from "../../../api/wear";
import type { Wear } from "../../../generated/recipe";

const MOST = 60;
const made = new Map<string, Promise<string>>();

/** The address of an overlay's picture, asked for once. */
function addressOf(source: Wear["source"], px: number, turned: boolean): Promise<string> {
  const key = JSON.stringify([source, px, turned]);
  const there = made.get(key);
  if (there) return there;
  const asked = api.overlayPicture(source, px, turned);
  made.set(key, asked);
  asked.catch(() => made.delete(key));
  const oldest = made.keys().next().value;
  if (made.size > MOST && oldest !== undefined) {
    void made.get(oldest)?.then((url) => URL.revokeObjectURL(url), () => undefined);
    made.delete(oldest);
  }
  return asked;
}

export function OverlayPicture({ source, turned, px, className }: { source: Wear["source"]; turned: boolean; px: number; className: string }) {
  const key = JSON.stringify([source, turned]);
  const [shown, setShown] = useState<string | null>(null);
  useEffect(() => {
    let gone = false;
    addressOf(source, px, turned).then((url) => !gone && setShown(url), () => !gone && setShown(null));
    return () => {
      gone = true;
    };
    // the key says which overlay it is
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, px]);
  return shown ? <img src={shown} alt="" draggable={false} className={className} /> : null;
}
