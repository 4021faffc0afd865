/** What follows once a site was made: it is opened in a room, or it is said why it could not be. */

import type { SiteState } from "../../api/types";

export function openMade(made: Promise<SiteState>, room: string, onTrouble: (text: string) => void) {
  made.then(
    (site) => {
      window.location.hash = `#/site/${site.id}/${room}`;
    },
    (error: unknown) => onTrouble(error instanceof Error ? error.message : String(error)),
  );
}
