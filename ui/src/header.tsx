/** The line along the top: where one is, what undo would do, whether all is kept. */

import { useEffect, useRef, useState } from "react";
import type { Room } from "./rooms";
import { Panel } from "./parts/panel";
import { Snapshots } from "./snapshots";
import { FindingsPanel } from "./judging/findings-panel";
import { placeHere, useGuide } from "./guide/state";
import { KEYS, typing } from "./state/keys";
import { useSite } from "./state/site";
import { TrueSize } from "./true-size";

const ROOMS: readonly { room: Room; number: string; label: string }[] = [
  { room: "ground", number: "1", label: "Ground" },
  { room: "stock", number: "2", label: "Stock" },
  { room: "cover", number: "3", label: "Cover" },
  { room: "things", number: "4", label: "Things" },
  { room: "hand-off", number: "5", label: "Hand-off" },
];

export function Header({ room, site: open }: { room: Room | "sites"; site: string | null }) {
  const state = useSite((s) => s.state);
  const keeping = useSite((s) => s.keeping);
  const trouble = useSite((s) => s.trouble);
  const lost = useSite((s) => s.lost);
  const { step, say } = useSite.getState();
  // an edit that was refused is still shown
  const refused = useSite((s) => s.state !== null && s.shown !== s.state.recipe && !s.moving && !s.keeping);
  const [help, setHelp] = useState(false);
  const helping = useRef(false);
  useEffect(() => {
    helping.current = help;
  }, [help]);
  /** Where the focus was when keys were asked for: opening them takes it. */
  const asked = useRef("first-steps");
  const guiding = useGuide((s) => s.open);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event)) return;
      if (event.key === "?") {
        // first the keys, then the guide where one is, then neither
        if (useGuide.getState().open) useGuide.getState().close();
        else if (helping.current) {
          setHelp(false);
          useGuide.getState().show(asked.current);
        } else {
          asked.current = placeHere(room);
          setHelp(true);
        }
      }
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && open !== null && room !== "stock") {
        event.preventDefault();
        step(event.shiftKey ? "redo" : "undo");
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [room, open, step]);

  const site = open === null ? null : state;
  // the Stock room has a heading of its own
  const Title = room === "stock" ? "span" : "h1";
  return (
    <header className="relative flex h-11 shrink-0 items-center gap-4 border-b border-ink px-3.5">
      <a href="#/" className="flex shrink-0 items-center gap-3" title="All sites">
        <img src="/mark.svg" alt="" width={22} height={20} />
        <b className="text-[17px] font-semibold">Elvatch</b>
      </a>
      {site && (
        <span className="flex min-w-0 items-baseline gap-2 overflow-hidden whitespace-nowrap">
          <Title className="max-w-44 shrink-0 truncate">{site.title}</Title>
          <TrueSize />
        </span>
      )}
      {site && (
        <nav aria-label="Rooms" className="ml-2 flex shrink-0 items-center">
          {ROOMS.map((one, index) => (
            <span key={one.room} className="flex items-center">
              {index > 0 && <i className="h-px w-3 bg-quiet" />}
              <a
                href={`#/site/${site.id}/${one.room}`}
                aria-current={room === one.room ? "page" : undefined}
                className={`rounded-[2px] px-2.5 py-1 font-medium whitespace-nowrap ${room === one.room ? "bg-ink text-raised" : ""}`}
              >
                <sup className="figures mr-1 text-[10px] opacity-80">{one.number}</sup>
                {one.label}
              </a>
            </span>
          ))}
        </nav>
      )}
      {!site && room !== "sites" && <b className="ml-4 font-medium">Stock</b>}
      {room === "sites" && (
        <a href="#/stock" className="ml-4 font-medium underline decoration-dotted">
          Stock of texture sets
        </a>
      )}
      <span className="flex-1" />
      {site && room !== "stock" && (
        <>
          <button
            type="button"
            className="figures max-w-48 min-w-10 shrink-[3] truncate text-quiet disabled:opacity-60"
            disabled={site.undo === null}
            onClick={() => step("undo")}
            title="Undo (Ctrl+Z)"
          >
            {site.undo === null ? "Nothing to undo" : `Undo: ${site.undo}`}
          </button>
          {site.redo !== null && (
            <button
              type="button"
              className="figures max-w-32 min-w-10 shrink-[3] truncate text-quiet"
              onClick={() => step("redo")}
              title="Redo (Ctrl+Shift+Z)"
            >
              Redo: {site.redo}
            </button>
          )}
          {(room === "cover" || room === "things") && <FindingsPanel />}
          {room === "cover" && <Snapshots site={site.id} />}
          <span
            className={`figures whitespace-nowrap ${keeping ? "text-quiet" : refused ? "font-semibold text-warn" : "text-good"}`}
            role="status"
          >
            {keeping
              ? "keeping…"
              : refused
                ? "not kept"
                : `kept ${new Date(site.changedAt).toTimeString().slice(0, 5)}`}
          </span>
        </>
      )}
      <Panel
        title="Keys"
        side="bottom"
        width={400}
        open={help}
        onOpen={setHelp}
        trigger={
          <button type="button" className="key" title="Keys (?)">
            Keys
          </button>
        }
      >
        <p className="mb-2 text-quiet">? once more opens the guide where you are.</p>
        <dl className="grid grid-cols-[120px_1fr] gap-x-3 gap-y-1">
          {KEYS.map((key) => (
            <div key={key.keys} className="contents">
              <dt className="figures font-semibold">{key.keys}</dt>
              <dd>{key.does}</dd>
            </div>
          ))}
        </dl>
      </Panel>
      <button
        type="button"
        className="key"
        title="The guide, beside the work"
        aria-pressed={guiding}
        onClick={() => (guiding ? useGuide.getState().close() : useGuide.getState().show(placeHere(room)))}
      >
        Guide
      </button>
      {trouble && (
        <div
          role="alert"
          className="plate absolute top-full right-3 z-50 mt-2 flex max-w-xl items-start gap-3 px-3 py-2"
        >
          <span>{trouble}</span>
          {lost && (
            <button
              type="button"
              className="key shrink-0"
              title={lost.label}
              onClick={() => {
                say(null);
                lost.again();
              }}
            >
              Make my change again
            </button>
          )}
          <button type="button" className="key shrink-0" onClick={() => say(null)}>
            Understood
          </button>
        </div>
      )}
    </header>
  );
}
