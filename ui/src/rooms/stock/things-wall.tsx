/** The wall of things: kinds that are drawn and things that are kept, each beside the surveyor; models are brought in here. */

import { ChooseFile, takesFile } from "../../parts/choose-file";
import { GuideLink } from "../../guide/guide-link";
import { useEffect, useState } from "react";
import { siteOfThing } from "../../api/client";
import * as api from "../../api/things";
import { CATALOGUE } from "../../generated/catalogue";
import type { Strew, Thing } from "../../generated/recipe";
import { Segments } from "../../parts/segments";
import { useSite } from "../../state/site";
import { openMade } from "../sites/open-made";
import { counted } from "../things/strews";
import { ThingPicture } from "../things/thing-picture";

const ENDINGS = ".glb,.gltf,.obj,.ply,.stl,.zip";

interface Brought {
  file: File;
  reading: api.Reading;
  found: api.BroughtIn;
}

export function ThingsWall({ onTextures }: { onTextures: (files: File[]) => void }) {
  const [kept, setKept] = useState<api.ThingLine[] | null>(null);
  const [brought, setBrought] = useState<Brought | null>(null);
  const [busy, setBusy] = useState(false);
  const { say } = useSite.getState();
  const fail = (error: unknown) => say(error instanceof Error ? error.message : String(error));
  useEffect(() => {
    api.keptThings().then(setKept, (error: unknown) => say(String(error)));
  }, [say]);

  async function read(file: File, reading: api.Reading) {
    setBusy(true);
    try {
      setBrought({ file, reading, found: await api.bringModel(file, reading) });
    } catch (error) {
      fail(error);
    }
    setBusy(false);
  }
  async function keep(thing: Thing) {
    try {
      await api.keepThing(thing);
      setKept(await api.keptThings());
      setBrought(null);
    } catch (error) {
      fail(error);
    }
  }
  return (
    <div className="p-3" {...takesFile((file) => void read(file, {}))}>
      <div className="mb-3 flex items-center gap-3">
        <ChooseFile
          label="A model of a thing"
          accept={ENDINGS}
          className="key-strong"
          disabled={busy}
          onFile={(file) => void read(file, {})}
        >
          Bring a model in
        </ChooseFile>
        <span className="text-quiet">
          {busy ? "Reading it…" : "GLB, glTF, OBJ, PLY or STL, alone or with its files in a zip; or drop one here."}
        </span>
      </div>
      {brought && (
        <BroughtSheet
          brought={brought}
          onRead={(reading) => void read(brought.file, reading)}
          onKeep={(thing) => void keep(thing)}
          onLeave={() => setBrought(null)}
          onTextures={() => {
            api.texturesOf(brought.found).then(onTextures).catch(fail);
          }}
        />
      )}
      {kept && kept.length > 0 && (
        <>
          <h2 className="heading mb-1.5">Kept</h2>
          <ul className="mb-4 grid grid-cols-[repeat(auto-fill,minmax(210px,1fr))] gap-3" aria-label="Kept things">
            {kept.map((line) => (
              <Card key={line.id} thing={line.thing} begins={line.begins} triangles={line.triangles}>
                <button
                  type="button"
                  className="text-xs underline"
                  title="Sites that strew it keep it"
                  onClick={() => {
                    api
                      .forgetThing(line.id)
                      .then(() => setKept(kept.filter((one) => one.id !== line.id)))
                      .catch(fail);
                  }}
                >
                  keep no longer
                </button>
              </Card>
            ))}
          </ul>
        </>
      )}
      <h2 className="heading mb-1.5">
        Drawn here
        <GuideLink at="things#things-in-the-stock" about="things in the stock" />
      </h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(210px,1fr))] gap-3" aria-label="Things that are drawn">
        {CATALOGUE.things.map((kind) => (
          <Card key={kind.what} thing={kind.thing} begins={kind.strew} />
        ))}
      </ul>
    </div>
  );
}

interface CardProps {
  thing: Thing;
  begins: Strew;
  triangles?: readonly number[];
  children?: React.ReactNode;
}

function Card({ thing, begins, triangles, children }: CardProps) {
  return (
    <li className="bg-raised">
      <ThingPicture thing={thing} figure className="w-full" />
      <span className="flex items-baseline justify-between gap-2 px-2 pt-1">
        <b className="truncate font-semibold">{thing.name}</b>
        <span className="flex shrink-0 gap-2">
          <button
            type="button"
            className="text-xs underline"
            title="A new site of this thing alone, to be covered"
            onClick={() => {
              openMade(siteOfThing(thing), "things", useSite.getState().say);
            }}
          >
            on a stand
          </button>
          {children}
        </span>
      </span>
      <span className="figures block px-2 pb-1 text-xs text-quiet">
        {begins.size.from_m.toPrecision(2)}–{begins.size.to_m.toPrecision(2)} m
        {triangles ? ` · ${counted(triangles[0] ?? 0)} triangles` : ""}
      </span>
    </li>
  );
}

interface SheetProps {
  brought: Brought;
  onRead: (reading: api.Reading) => void;
  onKeep: (thing: Thing) => void;
  onLeave: () => void;
  onTextures: () => void;
}

/** What was read, judged beside the surveyor before it is kept. */
function BroughtSheet({ brought, onRead, onKeep, onLeave, onTextures }: SheetProps) {
  const { found, reading } = brought;
  const [name, setName] = useState(found.thing.name);
  return (
    <section aria-label="Brought in" className="plate mb-4 grid grid-cols-[330px_1fr] gap-4 p-3">
      <ThingPicture thing={found.thing} figure className="w-full" />
      <div className="grid content-start gap-2">
        <label className="grid gap-0.5">
          <span className="text-quiet">Name</span>
          <input className="field" value={name} maxLength={80} onChange={(event) => setName(event.target.value)} />
        </label>
        <p className="figures">
          {found.longestM.toPrecision(3)} m on its longest side · {counted(found.triangles)} triangles
          {found.keptTriangles < found.triangles ? `, ${counted(found.keptTriangles)} kept` : ""}
        </p>
        <div className="flex flex-wrap items-center gap-3">
          <span>Up</span>
          <Segments
            label="Which axis is up"
            value={reading.up ?? (found.toldUp ? "y" : "z")}
            choices={[
              { value: "y", label: "y" },
              { value: "z", label: "z" },
            ]}
            onChoose={(up) => onRead({ ...reading, up })}
          />
          <span>Unit</span>
          <Segments
            label="Unit of its numbers"
            value={reading.unit ?? "m"}
            choices={CATALOGUE.modelUnits.map((unit) => ({ value: unit, label: unit }))}
            onChoose={(unit) => onRead({ ...reading, unit })}
          />
          {!found.toldUp && <span className="text-quiet">The file tells neither: say what they are.</span>}
        </div>
        {found.notes.map((note) => (
          <p key={note} className="text-quiet">
            {note}
          </p>
        ))}
        <div className="flex gap-2">
          <button
            type="button"
            className="key-strong"
            onClick={() => onKeep({ ...found.thing, name: name.trim() || found.thing.name })}
          >
            Keep it
          </button>
          {found.textures > 0 && (
            <button
              type="button"
              className="key"
              title="Its base colours, as texture sets to be decided on; with the model or without"
              onClick={onTextures}
            >
              Take its textures into the stock
            </button>
          )}
          <button type="button" className="key" onClick={onLeave}>
            Leave it
          </button>
        </div>
      </div>
    </section>
  );
}
