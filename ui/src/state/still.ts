/** What is asked only when nothing moves: figures that would slow the pictures of a drag down. */

import { useState } from "react";
import { useSite } from "./site";

/** The key as it was when nothing moved last. */
export function useWhileStill<K extends string | null>(key: K): K {
  const moving = useSite((s) => s.moving);
  const [still, setStill] = useState(key);
  if (!moving && still !== key) setStill(key);
  return moving ? still : key;
}
