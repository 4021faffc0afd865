/** Which measures there are: asked once a visit. */

import { useEffect } from "react";
import { create } from "zustand";
import * as api from "../api/client";
import type { MeasureKind } from "../api/types";

const useKinds = create<{ kinds: MeasureKind[] }>(() => ({ kinds: [] }));
let asked = false;

export function useMeasures(): MeasureKind[] {
  const kinds = useKinds((s) => s.kinds);
  useEffect(() => {
    if (asked) return;
    asked = true;
    api.measures().then(
      (found) => useKinds.setState({ kinds: found }),
      () => {
        asked = false;
      },
    );
  }, []);
  return kinds;
}
