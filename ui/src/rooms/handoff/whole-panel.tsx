/** An entry that is no maps: the layers themselves, a mesh, the ground, the whole site. */

import type { ReactNode } from "react";
import type {
  GroundEntry,
  KitEntry,
  MeshEntry,
  Sheet,
  SheetLines,
  StillsEntry,
  ThingsEntry,
  WholeEntry,
} from "../../api/handoff";
import { CATALOGUE } from "../../generated/catalogue";
import { Num } from "../../parts/number";
import { Segments } from "../../parts/segments";
import { numberOf, type NumbersField } from "../../state/numbers";
import { useSite } from "../../state/site";
import { GreenPoints, OrderOfBytes } from "./choices";
import { PatternField, TakeOut } from "./pattern-field";
import { inEntry, keepEntry, typeLabel } from "./sheets";

interface WholePanelProps {
  sheet: Sheet;
  entry: WholeEntry;
  line: SheetLines["entries"][number] | null;
}

const TITLES = Object.fromEntries(CATALOGUE.wholes.map((one) => [one.entry.kind, one.title]));

export function WholePanel({ sheet, entry, line }: WholePanelProps) {
  return (
    <section aria-label="Entry" className="min-w-0 overflow-y-auto px-3.5 py-2.5">
      <h2 className="heading mb-1 flex items-center justify-between">
        <span>{TITLES[entry.kind]}</span>
        <TakeOut sheet={sheet} entry={entry} />
      </h2>
      <div className="grid grid-cols-[64px_minmax(0,1fr)] items-center gap-x-3 gap-y-1.5">
        <span>File</span>
        <PatternField key={`${entry.id} ${entry.file}`} sheet={sheet} entry={entry} />
        <span>Becomes</span>
        <span className="figures truncate text-quiet select-text" title={line?.names.join("\n")}>
          {line ? `${line.name}${line.files > 1 ? ` and ${line.files - 1} more` : ""}` : "…"}
        </span>
        {entry.kind === "kit" && <KitParts sheet={sheet} entry={entry} />}
        {entry.kind === "mesh" && <MeshParts sheet={sheet} entry={entry} />}
        {entry.kind === "stills" && <StillsParts sheet={sheet} entry={entry} />}
        {entry.kind === "things" && <ThingsParts sheet={sheet} entry={entry} />}
        {entry.kind === "ground" && <GroundParts sheet={sheet} entry={entry} />}
      </div>
      {entry.kind === "site" && (
        <p className="mt-2 text-quiet">
          The recipe, its texture sets and every file that they need. It opens on another machine to the same pictures:
          drop it on the front door there.
        </p>
      )}
    </section>
  );
}

function Row({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <span>{title}</span>
      <span className="flex min-w-0 flex-wrap items-center gap-x-3 gap-y-1">{children}</span>
    </>
  );
}

interface TickProps {
  label: string;
  hint?: string;
  on: boolean;
  onChange: (on: boolean) => void;
}

function Tick({ label, hint, on, onChange }: TickProps) {
  return (
    <label className="flex min-h-6 items-center gap-1.5" title={hint}>
      <input type="checkbox" className="accent-ink" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

function KitParts({ sheet, entry }: { sheet: Sheet; entry: KitEntry }) {
  const keep = (label: string, change: Partial<KitEntry>) => keepEntry(sheet, entry, label, change);
  return (
    <>
      <Row title="Sets">
        <Segments
          label="Pixels of each layer's maps"
          value={String(entry.set_px)}
          choices={CATALOGUE.kitSizes.filter((px) => px >= 256).map((px) => ({ value: String(px), label: String(px) }))}
          onChoose={(px) => {
            const set_px = CATALOGUE.kitSizes.find((one) => String(one) === px);
            if (set_px) keep(`sets of ${px} px`, { set_px });
          }}
        />
        <span className="figures text-quiet">px</span>
      </Row>
      <Row title="Weights">
        <Segments
          label="Kind of weights"
          value={entry.weights}
          choices={[
            { value: "splat", label: "four a file" },
            { value: "masks", label: "a mask each" },
            {
              value: "strongest",
              label: "strongest four",
              hint: "Numbers of the layers in one file, weights in another",
            },
          ]}
          onChoose={(weights) =>
            keep(`${weights} weights`, { weights, material: weights === "strongest" ? false : entry.material })
          }
        />
        <Segments
          label="Type of weights"
          value={entry.weight_type}
          choices={[
            { value: "uint8", label: "8 bit" },
            { value: "uint16", label: "16 bit" },
          ]}
          onChoose={(weight_type) => keep(typeLabel(weight_type), { weight_type })}
        />
      </Row>
      <Row title="On a tile">
        <Segments
          label="Layers on a tile"
          value={String(entry.most_a_tile)}
          choices={[
            { value: "0", label: "all layers" },
            { value: "4", label: "at most four", hint: "The weakest are dropped; what that costs is told" },
          ]}
          onChoose={(most) =>
            keep(most === "4" ? "at most four a tile" : "all layers", { most_a_tile: most === "4" ? 4 : 0 })
          }
        />
      </Row>
      <Row title="Normals">
        <GreenPoints green={entry.green} onChoose={keep} />
      </Row>
      <Row title="With">
        <Tick
          label="tint"
          hint="A map of what tiled sets cannot carry: slow variation, wear, an image over the ground"
          on={entry.tint}
          onChange={(tint) => keep(tint ? "with a tint" : "without a tint", { tint })}
        />
        <Tick
          label="MaterialX"
          hint="A document for each tile; it mixes by masks, not by numbers"
          on={entry.material}
          onChange={(material) =>
            keep(material ? "with MaterialX" : "without MaterialX", {
              material,
              weights: material && entry.weights === "strongest" ? "splat" : entry.weights,
            })
          }
        />
      </Row>
      <p className="col-span-2 text-quiet">
        How near it comes to the cover, and how many layers lie on each tile, is measured when it is written and told
        beside it.
      </p>
    </>
  );
}

type WholePart = "MeshEntry" | "StillsEntry" | "ThingsEntry" | "GroundEntry";

/** A number of an entry that follows the hand, and is kept when it is let go. */
function Amount<E extends WholeEntry>({
  part,
  field,
  sheet,
  entry,
}: {
  part: WholePart;
  field: keyof E & NumbersField<WholePart>;
  sheet: Sheet;
  entry: E;
}) {
  const { preview, keep, drop } = useSite.getState();
  const put = (value: number) => inEntry<WholeEntry>(sheet.id, entry, { [field]: value });
  const of = numberOf(part, field);
  return (
    <span className="flex items-center gap-1.5">
      <span className="text-quiet">{of.label.toLowerCase()}</span>
      <Num
        {...of}
        value={Number(entry[field])}
        onMove={(value) => preview(put(value))}
        onKeep={(value) => keep(`${sheet.name}: ${of.label.toLowerCase()}`, put(value))}
        onDrop={drop}
      />
    </span>
  );
}

function MeshParts({ sheet, entry }: { sheet: Sheet; entry: MeshEntry }) {
  const keep = (label: string, change: Partial<MeshEntry>) => keepEntry(sheet, entry, label, change);
  const form = CATALOGUE.meshFormats.find((one) => one.format === entry.format);
  return (
    <>
      <Row title="Format">
        <Segments
          label="Format of the mesh"
          value={entry.format}
          choices={CATALOGUE.meshFormats.map((one) => ({
            value: one.format,
            label: one.format.toUpperCase(),
            hint: one.label,
          }))}
          onChoose={(format) => {
            const next = CATALOGUE.meshFormats.find((one) => one.format === format);
            keep(`format ${format}`, {
              format,
              maps: !next?.textures ? "none" : entry.maps === "inside" && !next.inside ? "linked" : entry.maps,
              shares: entry.shares === "values" && !next?.values ? "colours" : entry.shares,
            });
          }}
        />
      </Row>
      <Row title="Triangles">
        <Segments
          label="How triangles are chosen"
          value={entry.by}
          choices={[
            { value: "error", label: "by error", hint: "As few as keep no place further from the ground" },
            { value: "grid", label: "regular" },
          ]}
          onChoose={(by) => keep(by === "error" ? "by greatest error" : "a regular grid", { by })}
        />
        {entry.by === "error" ? (
          <Amount<MeshEntry> part="MeshEntry" field="greatest_error_m" sheet={sheet} entry={entry} />
        ) : (
          <Amount<MeshEntry> part="MeshEntry" field="cell_m" sheet={sheet} entry={entry} />
        )}
      </Row>
      <Row title="Surface">
        <Segments
          label="Surface"
          value={entry.relief ? "relief" : "ground"}
          choices={[
            { value: "ground", label: "the ground" },
            { value: "relief", label: "with relief", hint: "The cover's, on the sheet's texels" },
          ]}
          onChoose={(surface) =>
            keep(surface === "relief" ? "with relief" : "the ground", { relief: surface === "relief" })
          }
        />
        {form && form.ups.length > 1 && (
          <Segments
            label="Which axis is up"
            value={entry.up}
            choices={[
              { value: "z", label: "z up" },
              { value: "y", label: "y up" },
            ]}
            onChoose={(up) => keep(`${up} up`, { up })}
          />
        )}
      </Row>
      <Row title="Pieces">
        <Amount<MeshEntry> part="MeshEntry" field="columns" sheet={sheet} entry={entry} />
        <Amount<MeshEntry> part="MeshEntry" field="rows" sheet={sheet} entry={entry} />
        <Amount<MeshEntry> part="MeshEntry" field="levels" sheet={sheet} entry={entry} />
        <Tick
          label="skirts"
          hint="Walls down from tiles' borders, which hide gaps between levels"
          on={entry.skirts}
          onChange={(skirts) => keep(skirts ? "with skirts" : "without skirts", { skirts })}
        />
      </Row>
      <Row title="Shares">
        <Segments
          label="Shares of layers at vertices"
          value={entry.shares}
          choices={[
            { value: "none" as const, label: "none" },
            { value: "colours" as const, label: "as colours" },
            ...(form?.values ? [{ value: "values" as const, label: "by name" }] : []),
          ]}
          onChoose={(shares) => keep(`shares: ${shares}`, { shares })}
        />
      </Row>
      <Row title="Maps">
        <Segments
          label="Maps that cover it"
          value={entry.maps}
          choices={[
            { value: "none" as const, label: "none" },
            ...(form?.textures ? [{ value: "linked" as const, label: "linked" }] : []),
            ...(form?.inside ? [{ value: "inside" as const, label: "inside" }] : []),
          ]}
          onChoose={(maps) => keep(`maps: ${maps}`, { maps })}
        />
        {entry.maps !== "none" && <Amount<MeshEntry> part="MeshEntry" field="maps_px" sheet={sheet} entry={entry} />}
      </Row>
    </>
  );
}

const STANDS = ["far", "mid", "near"] as const;

function StillsParts({ sheet, entry }: { sheet: Sheet; entry: StillsEntry }) {
  const keep = (label: string, change: Partial<StillsEntry>) => keepEntry(sheet, entry, label, change);
  const shots = useSite((s) => s.shown?.shots.length ?? 0);
  return (
    <>
      <Row title="Views">
        {STANDS.map((stand) => (
          <Tick
            key={stand}
            label={stand.charAt(0).toUpperCase() + stand.slice(1)}
            on={entry.stands.includes(stand)}
            onChange={(on) =>
              keep(`${on ? "with" : "without"} ${stand}`, {
                stands: STANDS.filter((one) => (one === stand ? on : entry.stands.includes(one))),
              })
            }
          />
        ))}
        <Tick
          label={`every shot (${shots})`}
          hint="Views that the site keeps, each with its own light where it has one"
          on={entry.all_shots}
          onChange={(all_shots) => keep(all_shots ? "with every shot" : "without shots", { all_shots })}
        />
      </Row>
      <Row title="Size">
        <Amount<StillsEntry> part="StillsEntry" field="width_px" sheet={sheet} entry={entry} />
        <Amount<StillsEntry> part="StillsEntry" field="height_px" sheet={sheet} entry={entry} />
        <Amount<StillsEntry> part="StillsEntry" field="rays" sheet={sheet} entry={entry} />
      </Row>
    </>
  );
}

const FORMS: readonly { form: ThingsEntry["forms"][number]; label: string; hint: string }[] = [
  { form: "csv", label: "CSV", hint: "A table: strew, thing, place, turn, size, radius" },
  { form: "json", label: "JSON", hint: "The same, with the names of the models" },
  { form: "glb", label: "glTF instances", hint: "One GLB with EXT_mesh_gpu_instancing, y up" },
  { form: "usd", label: "OpenUSD instancer", hint: "A PointInstancer with its prototypes, z up, metres" },
];

type ModelForm = ThingsEntry["model_forms"][number];

const MODEL_FORMS: readonly { value: string; label: string; hint: string }[] = [
  { value: "glb", label: "GLB", hint: "Levels side by side, textures inside, y up" },
  { value: "usd", label: "OpenUSD", hint: "Levels as variants, textures beside it, z up" },
  { value: "glb usd", label: "both", hint: "Each model twice" },
];

function ThingsParts({ sheet, entry }: { sheet: Sheet; entry: ThingsEntry }) {
  const keep = (label: string, change: Partial<ThingsEntry>) => keepEntry(sheet, entry, label, change);
  return (
    <>
      <Row title="As">
        {FORMS.map(({ form, label, hint }) => (
          <Tick
            key={form}
            label={label}
            hint={hint}
            on={entry.forms.includes(form)}
            onChange={(on) =>
              keep(`${on ? "with" : "without"} ${label}`, {
                forms: FORMS.map((one) => one.form).filter((one) => (one === form ? on : entry.forms.includes(one))),
              })
            }
          />
        ))}
      </Row>
      <Row title="With">
        <Tick
          label="models"
          hint="Each variant of each thing, with its levels of detail"
          on={entry.models}
          onChange={(models) => keep(models ? "with models" : "without models", { models })}
        />
        {entry.models && (
          <Segments
            label="Form of the models"
            value={entry.model_forms.join(" ")}
            choices={MODEL_FORMS}
            onChoose={(forms) =>
              keep("form of models", {
                model_forms: forms.split(" ").filter((one): one is ModelForm => one === "glb" || one === "usd"),
              })
            }
          />
        )}
        <Amount<ThingsEntry> part="ThingsEntry" field="density_px" sheet={sheet} entry={entry} />
      </Row>
      {entry.models && (
        <Row title="Textures">
          <Amount<ThingsEntry> part="ThingsEntry" field="bake_px" sheet={sheet} entry={entry} />
          {entry.bake_px > 0 && (
            <Segments
              label="Axes of baked normals"
              value={entry.bake_normals}
              choices={[
                {
                  value: "tangent",
                  label: "normals along the surface",
                  hint: "For models that bend or share textures",
                },
                { value: "object", label: "in the model's axes", hint: "For models that keep their shape" },
              ]}
              onChoose={(bake_normals) => keep(`normals in ${bake_normals} axes`, { bake_normals })}
            />
          )}
        </Row>
      )}
      <Row title="Tiles">
        <Amount<ThingsEntry> part="ThingsEntry" field="columns" sheet={sheet} entry={entry} />
        <Amount<ThingsEntry> part="ThingsEntry" field="rows" sheet={sheet} entry={entry} />
      </Row>
      <p className="col-span-2 text-quiet">
        Places are metres from the south-west corner; a model has a longest side of 1 m, and its scale is its size.
        Densities are linear PNGs of 16 bits for engines that strew by themselves.
      </p>
    </>
  );
}

function GroundParts({ sheet, entry }: { sheet: Sheet; entry: GroundEntry }) {
  const keep = (label: string, change: Partial<GroundEntry>) => keepEntry(sheet, entry, label, change);
  const form = CATALOGUE.heightFormats.find((one) => one.format === entry.format);
  return (
    <>
      <Row title="Format">
        <Segments
          label="Format of heights"
          value={entry.format}
          choices={CATALOGUE.heightFormats.map((one) => ({ value: one.format, label: one.label }))}
          onChoose={(format) => {
            const types = CATALOGUE.heightFormats.find((one) => one.format === format)?.types ?? [];
            const type = types.includes(entry.type) ? entry.type : (types[0] ?? entry.type);
            keep(`format ${format}`, { format, type });
          }}
        />
      </Row>
      <Row title="Type">
        <Segments
          label="Type of samples"
          value={entry.type}
          choices={(form?.types ?? []).map((type) => ({ value: type, label: typeLabel(type) }))}
          onChoose={(type) => keep(typeLabel(type), { type })}
        />
        <Amount<GroundEntry> part="GroundEntry" field="longer_px" sheet={sheet} entry={entry} />
        {entry.longer_px === 0 && <span className="figures text-quiet">its own</span>}
      </Row>
      {entry.format === "raw" && entry.type !== "uint8" && (
        <Row title="Bytes">
          <OrderOfBytes lowFirst={entry.low_byte_first} onChoose={keep} />
        </Row>
      )}
      <Row title="Order">
        <Tick
          label="south first"
          hint="The first row is the southern one"
          on={entry.flip_north_south}
          onChange={(on) => keep(on ? "south first" : "north first", { flip_north_south: on })}
        />
        <Tick
          label="east first"
          hint="The first column is the eastern one"
          on={entry.flip_east_west}
          onChange={(on) => keep(on ? "east first" : "west first", { flip_east_west: on })}
        />
      </Row>
      <Row title="With">
        <Tick
          label="what shaping left"
          hint="What was worn, dropped, and what ran through, as floats in metres"
          on={entry.traces}
          onChange={(traces) => keep(traces ? "with traces" : "without traces", { traces })}
        />
      </Row>
      <p className="col-span-2 text-quiet">
        The true size, the lowest and highest elevation and the order of samples stand in a small JSON beside it.
      </p>
    </>
  );
}
