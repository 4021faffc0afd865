/**
 * Keeps one picture in step with what is wanted: small while something moves, full when it rests.
 * One quick request is under way at a time, so that pictures keep coming during a drag; a full
 * one is dropped as soon as something changes.
 */

import { picture, ServerError, type PictureAnswer, type PictureRequest } from "../../api/client";

const REST_MS = 90;
const QUICK_SCALE = 0.5;

export type Wanted = Omit<PictureRequest, "resting">;

export class PictureLoop {
  private wanted: Wanted | null = null;
  private moving = false;
  private version = 0;
  private busy = false;
  private full: AbortController | null = null;
  private timer = 0;
  private ended = false;

  constructor(
    private readonly onPicture: (answer: PictureAnswer, of: Wanted, resting: boolean) => void,
    private readonly onTrouble: (message: string | null) => void,
  ) {}

  want(wanted: Wanted, moving: boolean): void {
    this.wanted = wanted;
    this.moving = moving;
    this.version += 1;
    this.full?.abort();
    window.clearTimeout(this.timer);
    void this.quick();
  }

  end(): void {
    this.ended = true;
    this.full?.abort();
    window.clearTimeout(this.timer);
  }

  private async quick(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    let made = -1;
    while (made !== this.version && !this.ended && this.wanted) {
      made = this.version;
      const small = {
        ...this.wanted,
        width_px: Math.max(16, Math.round(this.wanted.width_px * QUICK_SCALE)),
        height_px: Math.max(16, Math.round(this.wanted.height_px * QUICK_SCALE)),
        resting: false,
      };
      await this.take(small, new AbortController());
    }
    this.busy = false;
    if (!this.ended) this.timer = window.setTimeout(() => void this.rest(), this.moving ? REST_MS * 4 : REST_MS);
  }

  private async rest(): Promise<void> {
    if (!this.wanted || this.busy) return;
    this.full = new AbortController();
    const version = this.version;
    const done = await this.take({ ...this.wanted, resting: true }, this.full);
    // the server may have taken an older request for the newer one and stopped this; ask again
    if (!done && version === this.version && !this.ended)
      this.timer = window.setTimeout(() => void this.rest(), REST_MS);
  }

  /** Returns false when the server stopped the request in favour of another. */
  private async take(request: PictureRequest, stop: AbortController): Promise<boolean> {
    const version = this.version;
    const of = this.wanted;
    try {
      const answer = await picture(request, stop.signal);
      if (!of || this.ended || (request.resting && version !== this.version)) {
        URL.revokeObjectURL(answer.url);
        return true;
      }
      this.onTrouble(null);
      this.onPicture(answer, of, request.resting);
    } catch (error) {
      if (stop.signal.aborted) return true;
      if (error instanceof ServerError && error.status === 410) return false;
      this.onTrouble(error instanceof Error ? error.message : String(error));
    }
    return true;
  }
}
