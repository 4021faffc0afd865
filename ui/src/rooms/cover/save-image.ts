import * as api from "../../api/client";
import { useSite } from "../../state/site";
import type { Clause } from "./clauses";

const SIZE_PX = 2048;

/** Write what a rule lets in over the whole ground as a 16-bit image, to where the browser keeps files. */
export function saveImage(name: string, clauses: Clause[], opacity: number): void {
  const { shown, say } = useSite.getState();
  if (!shown) return;
  api.presenceImage(shown, name, clauses, opacity, SIZE_PX).then(
    (blob) => {
      const url = URL.createObjectURL(blob);
      const link = document.createElement("a");
      link.href = url;
      link.download = `${
        name
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, "-")
          .replace(/^-|-$/g, "") || "mask"
      }.png`;
      link.click();
      window.setTimeout(() => URL.revokeObjectURL(url), 5000);
    },
    (error: unknown) => say(error instanceof Error ? error.message : String(error)),
  );
}
