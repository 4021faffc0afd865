/** How many pixels a picture is made with: those of the screen that it covers, as far as that is not too much. */

import type { Size } from "./use-size";

/** The longer side at most, in pixels of the page; in pixels of a finer screen, and in all. */
const MOST_PX = 1600;
const MOST_FINE_PX = 2048;
const MOST_IN_ALL = 2.5e6;

/** Pixels of the page, of the shape that a picture is shown in. */
export function pixelsOf({ width, height }: Size): Size {
  const scale = Math.min(1, MOST_PX / Math.max(width, height));
  return { width: Math.round(width * scale), height: Math.round(height * scale) };
}

/** How many of the screen's pixels there are for one of these, along a side: less than 1 in a page made small. */
export function densityOf(size: Size): number {
  const { width, height } = pixelsOf(size);
  const screen = (window.devicePixelRatio || 1) * (size.width / width);
  const most = Math.min(MOST_FINE_PX / Math.max(width, height), Math.sqrt(MOST_IN_ALL / (width * height)));
  return screen <= 1 ? screen : Math.max(1, Math.min(screen, most));
}

/** Pixels of the screen. */
export function finePixelsOf(size: Size): Size {
  const { width, height } = pixelsOf(size);
  const density = densityOf(size);
  const side = (px: number) => Math.max(16, Math.round(px * density));
  return { width: side(width), height: side(height) };
}

/** Tells when the window was taken to a finer or a coarser screen, or zoomed; returns what ends that. */
export function onOtherScreen(tell: () => void): () => void {
  let ended = new AbortController();
  const listen = () => {
    ended = new AbortController();
    const changed = () => {
      ended.abort();
      listen();
      tell();
    };
    const now = window.matchMedia(`(resolution: ${window.devicePixelRatio}dppx)`);
    now.addEventListener("change", changed, { signal: ended.signal });
  };
  listen();
  return () => ended.abort();
}
