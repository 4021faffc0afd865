/** An address for a picture that came within an answer, let go when it is not shown any more. */

import { useEffect, useMemo } from "react";

/** The bytes of base 64. */
export function bytesOf(base64: string): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

/** Lets an address of a picture go once it is not shown any more. */
export function useLetGo(url: string | null): void {
  useEffect(
    () => () => {
      if (url) window.setTimeout(() => URL.revokeObjectURL(url), 1000);
    },
    [url],
  );
}

export function usePicture(base64: string | null): string | null {
  const url = useMemo(
    () => (base64 === null ? null : URL.createObjectURL(new Blob([bytesOf(base64)], { type: "image/png" }))),
    [base64],
  );
  useLetGo(url);
  return url;
}
