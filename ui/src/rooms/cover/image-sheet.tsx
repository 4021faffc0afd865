/** Images as masks: brought in, taken apart side by side, each channel made a layer, a clause, or a layer's weight. */

import { numberOf, numbersOf } from "../../state/numbers";
import { Trouble } from "../../parts/trouble";
import { newId } from "../../parts/new-id";
import { useState } from "react";
import * as api from "../../api/client";
import type { MaskImageFacts } from "../../api/types";
import type { Layer, MaskImage, Recipe } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { Panel } from "../../parts/panel";
import { Segments } from "../../parts/segments";
import { useSite, type Ruled } from "../../state/site";
import { thingOf } from "../things/set/set-things";
import { withImageOn } from "../things/set/thing-marks";
import { made, type Channel } from "./clauses";
import { added, inRule } from "./edit-rule";
import { CATALOGUE } from "../../generated/catalogue";
import { newLayer } from "./new-layer";

interface Brought {
  image: MaskImage;
  facts: MaskImageFacts;
}

const PLACED: MaskImage["placing"] = {
  fit: "ground",
  east_m: 0,
  north_m: 0,
  width_m: 100,
  depth_m: 100,
  flip_east_west: false,
  flip_north_south: false,
};

export function ImageSheet({ layer }: { layer: Ruled }) {
  const [open, setOpen] = useState(false);
  const [brought, setBrought] = useState<Brought[]>([]);
  const [weights, setWeights] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const recipe = useSite((s) => s.shown);
  const { keep } = useSite.getState();
  const on = thingOf(recipe, layer.id);
  if (!recipe) return null;
  const ground = recipe.ground;
  const there: readonly Omit<MaskImage, "placing">[] = on?.cover.images ?? recipe.marks.images;

  async function bring(files: readonly File[]) {
    setBusy(true);
    setTrouble(null);
    try {
      for (const file of files) {
        const facts = await api.bringMaskImage(file, on ? null : ground);
        const name = facts.fileName.replace(/\.[a-z0-9]+$/i, "").slice(0, 80) || "Image";
        const image: MaskImage = { id: newId(), name, file: facts.file, file_name: facts.fileName, placing: PLACED };
        setBrought((all) => [...all, { image, facts }]);
      }
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  }
  async function reopen(of: Omit<MaskImage, "placing">) {
    const image = { placing: PLACED, ...of };
    try {
      const facts = await api.maskImage(image.file);
      setBrought((all) =>
        all.some((one) => one.image.id === image.id)
          ? all
          : [...all, { image, facts: { ...facts, fileName: image.file_name } }],
      );
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  }
  /** The recipe with an image among its marks, placed as chosen here. */
  const marked = (one: Recipe, image: MaskImage): Recipe => {
    const images = one.marks.images.some((other) => other.id === image.id)
      ? one.marks.images.map((other) => (other.id === image.id ? image : other))
      : [...one.marks.images, image];
    return { ...one, marks: { ...one.marks, images } };
  };
  const asClause = (image: MaskImage, channel: Channel) =>
    keep(`${layer.name}: channel ${channel} of ${image.name}`, (one) =>
      on
        ? withImageOn(on, layer, image, channel)(one)
        : inRule(layer, (now) => added(now, made.image(image.id, image.name, channel)))(marked(one, image)),
    );
  const asLayer = (image: MaskImage, channel: Channel) => {
    const like = "set" in layer ? (layer as Layer) : recipe.layers.at(-1);
    if (!like) return;
    const laid = {
      ...newLayer(
        {
          name: like.set,
          title: `${image.name} ${channel}`.slice(0, 80),
          tileM: like.fit.tile_m,
          reliefM: like.fit.relief_m,
        },
        [made.image(image.id, image.name, channel)],
      ),
      edge: { ...CATALOGUE.layer.edge, kind: "fade" as const, fingers: 0 },
    };
    keep(`laid ${laid.name}`, (one) => ({ ...marked(one, image), layers: [...one.layers, laid] }));
    useSite.getState().select(laid.id);
  };
  const place = (image: MaskImage, placing: MaskImage["placing"]) => {
    const next = { ...image, placing };
    setBrought((all) => all.map((one) => (one.image.id === image.id ? { ...one, image: next } : one)));
    if (recipe.marks.images.some((one) => one.id === image.id))
      keep(`placed ${image.name}`, (one) => marked(one, next));
  };
  const assigned = Object.entries(weights).filter(([, to]) => to !== "");
  async function laySplat() {
    const now = useSite.getState().shown;
    if (!now) return;
    try {
      const chosen = assigned.flatMap(([key, to]) => {
        const [id, channel] = key.split("/");
        const of = brought.find((one) => one.image.id === id);
        return of && channel ? [{ image: of.image, channel, layer: to }] : [];
      });
      const laid = await api.laySplat(now, chosen);
      keep("laid layers by splat maps", (one) => byWeights(one, laid));
      setTrouble(null);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  }

  return (
    <Panel
      title="Images as masks"
      width={560}
      side="top"
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="key"
          title={`Take an image apart: channels as clauses${on ? "" : ", layers or weights"}`}
        >
          From an image
        </button>
      }
    >
      <label
        className="block cursor-pointer border border-dashed border-ink p-2.5 focus-within:outline-2"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          event.stopPropagation();
          void bring([...event.dataTransfer.files]);
        }}
      >
        {busy
          ? "Taking it apart…"
          : `Drop images here, or choose: PNG, TIFF or EXR of 8, 16 or 32 bits. Their values are taken raw${on ? ", over its texture coordinates" : ""}.`}
        <input
          type="file"
          className="sr-only"
          multiple
          accept=".png,.tif,.tiff,.exr,.jpg,.jpeg,.webp,.tga"
          aria-label="Choose mask images"
          onChange={(event) => {
            const files = [...(event.target.files ?? [])];
            event.target.value = "";
            void bring(files);
          }}
        />
      </label>
      <Trouble says={trouble} className="mt-2 text-warn" />
      {there.length > 0 && (
        <p className="mt-2 flex flex-wrap gap-1.5">
          <span className="text-quiet">On this {on ? "thing" : "ground"}:</span>
          {there.map((image) => (
            <button key={image.id} type="button" className="underline" onClick={() => void reopen(image)}>
              {image.name}
            </button>
          ))}
        </p>
      )}
      {brought.map(({ image, facts }) => (
        <section key={image.id} className="mt-3 border-t border-rule pt-2" aria-label={image.name}>
          <h4 className="figures">
            <b className="font-semibold">{image.name}</b> · {facts.widthPx} × {facts.heightPx} px · {facts.format}{" "}
            {facts.bits} bit
          </h4>
          {facts.notes.map((note) => (
            <p key={note} className="text-warn">
              {note}
            </p>
          ))}
          {on === null && <PlacingLine image={image} onPlace={(placing) => place(image, placing)} />}
          <div className="mt-1.5 grid grid-cols-5 gap-2">
            {facts.channels.map((one) => (
              <div key={one.channel} className="figures text-xs">
                <img
                  src={api.channelUrl(facts.file, one.channel)}
                  alt={`Channel ${one.channel}`}
                  className="aspect-square w-full border border-rule bg-booth object-contain"
                />
                <b className="font-semibold">{one.channel}</b> {shown(one.lowest, 2)}–{shown(one.highest, 2)}
                <br />
                share {shown(one.share * 100, 1)}%
                <button
                  type="button"
                  className="key mt-1 w-full"
                  onClick={() => asClause(image, one.channel)}
                  title={`Joins the rule of ${layer.name}`}
                >
                  As clause
                </button>
                {on === null && (
                  <button
                    type="button"
                    className="key mt-1 w-full"
                    onClick={() => asLayer(image, one.channel)}
                    title="A new layer that lies where this channel says"
                  >
                    As layer
                  </button>
                )}
                {on === null && one.channel !== "brightness" && (
                  <select
                    className="field mt-1"
                    aria-label={`Weight in ${one.channel} of ${image.name} is of`}
                    value={weights[`${image.id}/${one.channel}`] ?? ""}
                    onChange={(event) => setWeights({ ...weights, [`${image.id}/${one.channel}`]: event.target.value })}
                  >
                    <option value="">weight of…</option>
                    {recipe.layers.map((other) => (
                      <option key={other.id} value={other.id}>
                        {other.name}
                      </option>
                    ))}
                  </select>
                )}
              </div>
            ))}
          </div>
        </section>
      ))}
      {on === null && brought.length > 0 && (
        <div className="mt-3 flex items-center gap-3 border-t border-rule pt-2">
          <button type="button" className="key" disabled={assigned.length === 0} onClick={() => void laySplat()}>
            Lay layers by these weights
          </button>
          <span className="text-quiet">
            Splat maps: each channel's layer gets its weight as its share; layers without a channel are hidden.
          </span>
        </div>
      )}
    </Panel>
  );
}

/** The recipe with its layers laid as another version of it lays them; what else has changed meanwhile stays. */
function byWeights(recipe: Recipe, laid: Recipe): Recipe {
  const layers = recipe.layers.map((layer) => {
    const as = laid.layers.find((one) => one.id === layer.id);
    return as ? { ...layer, on: as.on, opacity: as.opacity, rule: as.rule, edge: as.edge } : layer;
  });
  const fresh = laid.marks.images.filter((image) => !recipe.marks.images.some((one) => one.id === image.id));
  return { ...recipe, layers, marks: { ...recipe.marks, images: [...recipe.marks.images, ...fresh] } };
}

function PlacingLine({ image, onPlace }: { image: MaskImage; onPlace: (placing: MaskImage["placing"]) => void }) {
  const { placing } = image;
  const numbers = numbersOf("Placing").map(({ field }) => field as "east_m" | "north_m" | "width_m" | "depth_m");
  const number = (field: (typeof numbers)[number]) => (
    <span key={field}>
      {numberOf("Placing", field).label}{" "}
      <Num
        {...numberOf("Placing", field)}
        value={placing[field]}
        onMove={() => undefined}
        onKeep={(value) => onPlace({ ...placing, [field]: value })}
        onDrop={() => undefined}
      />
    </span>
  );
  const flips = (
    <>
      <button
        type="button"
        className="key"
        aria-pressed={placing.flip_east_west}
        onClick={() => onPlace({ ...placing, flip_east_west: !placing.flip_east_west })}
      >
        Flip E–W
      </button>
      <button
        type="button"
        className="key"
        aria-pressed={placing.flip_north_south}
        onClick={() => onPlace({ ...placing, flip_north_south: !placing.flip_north_south })}
      >
        Flip N–S
      </button>
    </>
  );
  return (
    <div className="figures mt-1 flex flex-wrap items-center gap-2">
      <Segments
        label="Placed"
        value={placing.fit}
        choices={[
          { value: "ground", label: "Over all the ground" },
          { value: "corner", label: "By corner and size" },
        ]}
        onChoose={(fit) => onPlace({ ...placing, fit })}
      />
      {flips}
      {placing.fit === "corner" && <span className="flex flex-wrap gap-2">{numbers.map(number)}</span>}
    </div>
  );
}
