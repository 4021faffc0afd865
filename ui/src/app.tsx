import { useEffect, useState } from "react";
import { HatchDefinitions } from "./parts/hatch";
import { CoverRoom } from "./rooms/cover/cover-room";
import { GroundRoom } from "./rooms/ground/ground-room";
import { HandOffRoom } from "./rooms/handoff/handoff-room";
import { SitesRoom } from "./rooms/sites/sites-room";
import { Header } from "./header";
import { useShaping } from "./state/ground";
import { useSite } from "./state/site";

export type Room = "ground" | "cover" | "hand-off";

const ROOM_NAMES: readonly Room[] = ["ground", "cover", "hand-off"];
type Place = { room: "sites" } | { room: Room; site: string };

function placeOf(hash: string): Place {
  const parts = hash.replace(/^#\/?/, "").split("/");
  const [, site, room] = parts;
  if (parts[0] === "site" && site) return { room: ROOM_NAMES.find((one) => one === room) ?? "cover", site };
  return { room: "sites" };
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

/** A file dropped where nothing takes it must not lead the browser away from the work. */
function useStrayDrops(room: Place["room"]) {
  const say = useSite((s) => s.say);
  useEffect(() => {
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      event.preventDefault();
      if (room !== "sites" && event.dataTransfer?.files.length) {
        say("This looks like a file for a new site: height files are dropped in Sites. Nothing was changed.");
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

export function App() {
  const place = usePlace();
  useStrayDrops(place.room);
  const open = useSite((s) => s.open);
  const site = place.room === "sites" ? null : place.site;
  useEffect(() => {
    useShaping.getState().forget();
    if (site) void open(site);
  }, [site, open]);
  const ground = useSite((s) => s.shown?.ground);
  const moving = useSite((s) => s.moving);
  const follow = useShaping((s) => s.follow);
  useEffect(() => {
    if (ground) follow(ground, moving);
  }, [ground, moving, follow]);
  return (
    <>
      <HatchDefinitions />
      <div className="flex h-full flex-col">
        <Header room={place.room} />
        {place.room === "sites" && <SitesRoom />}
        {place.room === "ground" && <GroundRoom />}
        {place.room === "cover" && <CoverRoom />}
        {place.room === "hand-off" && <HandOffRoom />}
      </div>
    </>
  );
}
