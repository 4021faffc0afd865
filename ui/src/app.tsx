import { lazy, Suspense, useEffect, useState } from "react";
import { HatchDefinitions } from "./parts/hatch";
import { CoverRoom } from "./rooms/cover/cover-room";
import { GroundRoom } from "./rooms/ground/ground-room";
import { HandOffRoom } from "./rooms/handoff/handoff-room";
import { SitesRoom } from "./rooms/sites/sites-room";
import { ThingsRoom } from "./rooms/things/things-room";
import { StockRoom } from "./rooms/stock/stock-room";
import { watchFirstSteps } from "./guide/first-steps";
import { useGuide } from "./guide/state";
import { GettingReady } from "./getting-ready";
import { Header } from "./header";
import { ROOM_NAMES, type Room } from "./rooms";
import { useShaping } from "./state/ground";
import { useSite } from "./state/site";

/** Its pages are read when they are first asked for. */
const Guide = lazy(() => import("./guide/guide").then((found) => ({ default: found.Guide })));

interface Place {
  room: Room | "sites";
  site: string | null;
}

function placeOf(hash: string): Place {
  const parts = hash.replace(/^#\/?/, "").split("/");
  const [, site, room] = parts;
  if (parts[0] === "site" && site) return { room: ROOM_NAMES.find((one) => one === room) ?? "cover", site };
  return { room: parts[0] === "stock" ? "stock" : "sites", site: null };
}

function usePlace(): Place {
  const [hash, setHash] = useState(window.location.hash);
  useEffect(() => {
    const follow = () => setHash(window.location.hash);
    window.addEventListener("hashchange", follow);
    return () => window.removeEventListener("hashchange", follow);
  }, []);
  return placeOf(hash);
}

/** What is said of files dropped in a room that takes none: what they look like, and where they belong. */
export function strayText(names: string[]): string {
  const sets = names.length > 1 || names.some((name) => /\.(zip|jpe?g|webp|tga)$/i.test(name));
  return sets
    ? "This looks like a texture set: sets are dropped in Stock. Nothing was changed."
    : "This looks like a height file or an image: height files are dropped in Sites, texture sets in Stock. Nothing was changed.";
}

/** A file dropped where nothing takes it must not lead the browser away from the work. */
function useStrayDrops(room: Place["room"]) {
  const say = useSite((s) => s.say);
  useEffect(() => {
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      event.preventDefault();
      if (room !== "sites" && event.dataTransfer?.files.length) {
        say(strayText([...event.dataTransfer.files].map((file) => file.name)));
      }
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", drop);
    };
  }, [room, say]);
}

/** Opens a site and has its ground shaped; by itself, so that nothing else is drawn anew for it. */
function Opened({ site }: { site: string | null }) {
  const open = useSite((s) => s.open);
  useEffect(() => {
    useShaping.getState().forget();
    if (site) void open(site);
  }, [site, open]);
  const ground = useSite((s) => s.shown?.ground);
  const moving = useSite((s) => s.moving);
  const follow = useShaping((s) => s.follow);
  useEffect(() => {
    // the ground of the site before is let go just above; one that is opened again is followed anew
    if (site && ground && useSite.getState().shown?.ground === ground) follow(ground, moving);
  }, [site, ground, moving, follow]);
  return null;
}

export function App() {
  const place = usePlace();
  useStrayDrops(place.room);
  useEffect(watchFirstSteps, []);
  const guiding = useGuide((s) => s.open);
  const { site } = place;
  return (
    <>
      <Opened site={site} />
      <HatchDefinitions />
      <div className="flex h-full flex-col">
        <Header room={place.room} site={site} />
        <GettingReady />
        <div className="relative flex min-h-0 flex-1 flex-col">
          {place.room === "sites" && <SitesRoom />}
          {place.room === "ground" && <GroundRoom />}
          {place.room === "stock" && <StockRoom site={site} />}
          {place.room === "cover" && <CoverRoom />}
          {place.room === "things" && <ThingsRoom />}
          {place.room === "hand-off" && <HandOffRoom />}
          {guiding && (
            <Suspense>
              <Guide />
            </Suspense>
          )}
        </div>
      </div>
    </>
  );
}
