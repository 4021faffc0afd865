import { useCallback, useEffect, useState, type RefCallback } from "react";

export interface Size {
  width: number;
  height: number;
}

/** The size of an element in whole pixels, kept up to date. */
export function useSize(): { box: RefCallback<HTMLElement>; size: Size | null } {
  const [element, setElement] = useState<HTMLElement | null>(null);
  const [size, setSize] = useState<Size | null>(null);
  useEffect(() => {
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      const { width = 0, height = 0 } = entry?.contentRect ?? {};
      if (width >= 16 && height >= 16) setSize({ width: Math.round(width), height: Math.round(height) });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, [element]);
  return { box: useCallback((next: HTMLElement | null) => setElement(next), []), size };
}
