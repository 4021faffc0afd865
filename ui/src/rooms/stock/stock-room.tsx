/** The Stock room: the wall of sets and the chosen one laid out; what is dropped here is looked at and decided on. */

import { useEffect, useRef, useState } from "react";
import { JobProgress } from "../../parts/job-progress";
import { typing } from "../../state/keys";
import { useSite } from "../../state/site";
import { useStock } from "../../state/stock";
import { fromDrop, fromFiles, type Dropped } from "./dropped";
import { IntakeSheet } from "./intake-sheet";
import { MakeSheet } from "./make-sheet";
import { SetSheet } from "./set-sheet";
import { SupplierSheet } from "./supplier-sheet";
import { ThingsWall } from "./things-wall";
import { Wall } from "./wall";
import { WishPanel } from "./wish-panel";

const ENDINGS = ".png,.jpg,.jpeg,.tif,.tiff,.exr,.webp,.tga,.zip,.json";

export function StockRoom({ site }: { site: string | null }) {
  const { sheet, chosen, found, bringing, replacing, job, step, reload, bringIn, show, replace, cancel } = useStock();
  const say = useSite((s) => s.say);
  const [over, setOver] = useState(false);
  const [anew, setAnew] = useState(false);
  const [things, setThings] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  useEffect(() => folder.current?.setAttribute("webkitdirectory", ""), []);
  useEffect(() => {
    useStock.setState({ site });
    void reload();
  }, [reload, site]);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (typing(event) || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || !chosen) return;
      event.preventDefault();
      step(event.shiftKey ? "redo" : "undo");
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [chosen, step]);

  function take(files: Dropped[]) {
    if (files.length === 0)
      say(
        "Found no images in what was dropped: expected PNG, JPEG, TIFF, EXR, WebP or TGA, or a zip of them; drop texture sets here.",
      );
    else void bringIn(files);
  }
  // things have no wishes to narrow them by
  const wide = sheet !== "wall" || things;
  const laidOut = !wide && chosen;

  return (
    <main
      className={`relative grid min-h-0 flex-1 ${wide ? "grid-cols-1" : laidOut ? "grid-cols-[212px_minmax(0,1fr)_640px]" : "grid-cols-[212px_minmax(0,1fr)]"} grid-rows-[minmax(0,1fr)] ${over ? "outline-2 -outline-offset-8 outline-accent outline-dashed" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        if (event.dataTransfer.types.includes("Files")) setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(false);
        if (!event.dataTransfer.types.includes("Files")) return;
        fromDrop(event.dataTransfer).then(take, (error: unknown) => say(String(error)));
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape" && sheet !== "wall" && sheet !== "intake" && event.target === event.currentTarget)
          show("wall");
      }}
    >
      <input
        ref={chooser}
        type="file"
        multiple
        accept={ENDINGS}
        aria-label="Images or zips of texture sets"
        className="hidden"
        onChange={(event) => {
          take(fromFiles([...(event.target.files ?? [])]));
          event.target.value = "";
        }}
      />
      <input
        ref={folder}
        type="file"
        multiple
        aria-label="A folder of texture sets"
        className="hidden"
        onChange={(event) => {
          take(fromFiles([...(event.target.files ?? [])]));
          event.target.value = "";
        }}
      />
      {sheet === "wall" && (
        <>
          {!things && <WishPanel />}
          <div className="flex min-h-0 min-w-0 flex-col">
            <header className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-2">
              <h1 className="mr-auto text-[17px] font-semibold whitespace-nowrap">
                {things
                  ? "Things"
                  : found
                    ? `${found.sets.length}${found.sets.length === found.total ? "" : ` of ${found.total}`} ${found.total === 1 ? "set" : "sets"}`
                    : "Stock"}
              </h1>
              <button
                type="button"
                className="key-strong"
                title="or drop zips, folders and images anywhere here"
                onClick={() => {
                  replace(null);
                  chooser.current?.click();
                }}
              >
                Bring in
              </button>
              <button
                type="button"
                className="key"
                title="bring a whole folder in, with the folders in it"
                onClick={() => {
                  replace(null);
                  folder.current?.click();
                }}
              >
                Folder
              </button>
              <button
                type="button"
                className="key"
                title="Stones, wood and plants that can be strewn, on a wall of their own"
                onClick={() => setThings(!things)}
              >
                {things ? "Texture sets" : "Things"}
              </button>
              <button type="button" className="key" onClick={() => show("supplier")}>
                Supplier
              </button>
              <button
                type="button"
                className="key"
                onClick={() => {
                  setAnew(false);
                  show("make");
                }}
              >
                Make
              </button>
            </header>
            {replacing && (
              <p role="status" className="flex items-center gap-3 border-b border-rule bg-raised px-3 py-1.5">
                Drop or choose the new files for {replacing.description.title}.
                <button type="button" className="key" onClick={() => chooser.current?.click()}>
                  Choose files
                </button>
                <button type="button" className="key" onClick={() => replace(null)}>
                  Leave it
                </button>
              </p>
            )}
            <div className="min-h-0 flex-1 overflow-y-auto">
              {things ? (
                <ThingsWall
                  onTextures={(files) => {
                    setThings(false);
                    take(fromFiles(files));
                  }}
                />
              ) : (
                <Wall />
              )}
            </div>
          </div>
          {chosen && !things && (
            <SetSheet
              key={chosen.name}
              state={chosen}
              onReplace={() => replace(chosen)}
              onMakeAnew={() => {
                setAnew(true);
                show("make");
              }}
            />
          )}
        </>
      )}
      {sheet === "supplier" && <SupplierSheet />}
      {sheet === "make" && <MakeSheet key={anew ? chosen?.name : "new"} into={anew ? chosen : null} />}
      {sheet === "intake" && bringing && <IntakeSheet key={bringing.proposal.drop} bringing={bringing} />}
      {sheet === "intake" && !bringing && (
        <div className="grid place-items-center">
          <div className="w-96">
            {job ? <JobProgress job={job} doneText="" /> : <p className="text-quiet">Reading what came…</p>}
            <p className="mt-2 text-quiet">{job?.title ?? ""}</p>
            {job?.id && job.state === "running" && (
              <button type="button" className="key mt-2" onClick={cancel}>
                Cancel
              </button>
            )}
          </div>
        </div>
      )}
    </main>
  );
}
