/** Photographs pinned beside the pictures: a patch is read beside the ground at the peg, a layer taken towards it. */

import { Trouble } from "../parts/trouble";
import { useMemo, useRef, useState, type PointerEvent as Pointed } from "react";
import { create } from "zustand";
import * as api from "../api/judging";
import type { Patch, Reference } from "../generated/recipe";
import type { ReferenceFacts } from "../generated/answers";
import { GuideLink } from "../guide/guide-link";
import { ChooseFile, takesFile } from "../parts/choose-file";
import { shown as number } from "../parts/number";
import { Segments } from "../parts/segments";
import { useLatest } from "../parts/use-latest";
import { useReady } from "../state/ground";
import { inLayer, useSite } from "../state/site";
import { useWhileStill } from "../state/still";

const useReferences = create<{ open: boolean; chosen: string | null }>()(() => ({ open: false, chosen: null }));

const CLICK = 0.02;
const STEP = 0.02;
const held = (value: number) => Number(Math.min(1, Math.max(0, value)).toFixed(4));

export function ReferencesButton({ className }: { className: string }) {
  const open = useReferences((s) => s.open);
  return (
    <button
      type="button"
      className={className}
      aria-pressed={open}
      title="Photographs pinned beside the pictures, to judge by"
      onClick={() => useReferences.setState({ open: !open })}
    >
      Photographs
    </button>
  );
}

async function pin(file: File) {
  const { keep, say } = useSite.getState();
  try {
    const made = await api.bringReference(file);
    keep(`pinned ${made.name}`, (recipe) => ({ ...recipe, references: [...recipe.references, made] }));
    useReferences.setState({ chosen: made.id });
  } catch (error) {
    say(error instanceof Error ? error.message : String(error));
  }
}

export function References() {
  const { open, chosen } = useReferences();
  const references = useSite((s) => s.shown?.references ?? []);
  if (!open) return null;
  const one = references.find((each) => each.id === chosen) ?? references[0];
  return (
    <aside
      aria-label="Photographs"
      className="flex w-[236px] shrink-0 flex-col gap-1.5 overflow-y-auto border-l border-rule bg-sheet p-2.5 text-sm"
      {...takesFile((file) => void pin(file))}
    >
      <h2 className="heading flex items-center justify-between">
        <span>
          Photographs
          <GuideLink at="judging#photographs" about="photographs" />
        </span>
        <button type="button" className="underline" onClick={() => useReferences.setState({ open: false })}>
          put away
        </button>
      </h2>
      {!one && <p>None pinned yet. Drop a photograph of the ground that you are after here, or choose one.</p>}
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="Pinned photographs">
        {references.map((each) => (
          <button
            key={each.id}
            type="button"
            aria-label={each.name}
            aria-pressed={each.id === one?.id}
            title={each.name}
            className="size-[30px] border border-ink aria-pressed:outline-2 aria-pressed:outline-accent"
            onClick={() => useReferences.setState({ chosen: each.id })}
          >
            <img src={api.referenceUrl(each.file)} alt="" className="size-full object-cover" />
          </button>
        ))}
        <ChooseFile
          label="A photograph"
          accept="image/png,image/jpeg,image/tiff,image/webp"
          onFile={(file) => void pin(file)}
        >
          {one ? "Pin another" : "Pin a photograph"}
        </ChooseFile>
      </div>
      {one && <OnePhotograph key={one.id} of={one} />}
    </aside>
  );
}

function inReference(of: Reference, patch: Patch | null, label: string) {
  useSite.getState().keep(label, (recipe) => ({
    ...recipe,
    references: recipe.references.map((one) => (one.id === of.id ? { ...one, patch } : one)),
  }));
}

function OnePhotograph({ of }: { of: Reference }) {
  const recipe = useSite((s) => s.state?.recipe ?? null);
  const ready = useReady();
  const key = useMemo(
    () => (ready && recipe ? JSON.stringify([recipe, of.file, of.patch]) : null),
    [ready, recipe, of.file, of.patch],
  );
  const asked = useWhileStill(key);
  const { value, current, trouble } = useLatest(asked, () => {
    if (!recipe) throw new Error("the site was closed");
    return api.referenceFacts(recipe, of.file, of.patch);
  });
  return (
    <>
      <Photograph of={of} />
      <div className="flex items-baseline justify-between gap-2">
        <button
          type="button"
          className="underline disabled:no-underline disabled:opacity-60"
          disabled={of.patch === null}
          onClick={() => inReference(of, null, `${of.name}: all of it`)}
        >
          All of it
        </button>
        <button
          type="button"
          className="underline"
          onClick={() =>
            useSite.getState().keep(`took ${of.name} down`, (now) => ({
              ...now,
              references: now.references.filter((one) => one.id !== of.id),
            }))
          }
        >
          Take down
        </button>
      </div>
      <Trouble says={trouble} />
      {value && <Read facts={value} current={current && asked === key} />}
      <Towards of={of} />
    </>
  );
}

/** The photograph with its patch: a drag marks one, a click a small one; arrow keys move it. */
function Photograph({ of }: { of: Reference }) {
  const begun = useRef<[number, number] | null>(null);
  const [marking, setMarking] = useState<Patch | null>(null);
  const patch = marking ?? of.patch;
  const spot = (event: Pointed<HTMLDivElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  const between = ([x, y]: [number, number], [u, v]: [number, number]): Patch => ({
    left: held(Math.min(x, u) - (x === u ? CLICK : 0)),
    right: held(Math.max(x, u) + (x === u ? CLICK : 0)),
    top: held(Math.min(y, v) - (y === v ? CLICK : 0)),
    bottom: held(Math.max(y, v) + (y === v ? CLICK : 0)),
  });
  const keepPatch = (next: Patch) => {
    if (next.left < next.right && next.top < next.bottom) inReference(of, next, `${of.name}: a patch`);
  };
  function move(dx: number, dy: number) {
    const from = of.patch ?? { left: 0.4, right: 0.6, top: 0.4, bottom: 0.6 };
    const x = Math.min(1 - from.right, Math.max(-from.left, dx));
    const y = Math.min(1 - from.bottom, Math.max(-from.top, dy));
    keepPatch({
      left: held(from.left + x),
      right: held(from.right + x),
      top: held(from.top + y),
      bottom: held(from.bottom + y),
    });
  }
  return (
    <div
      role="application"
      tabIndex={0}
      aria-label={`${of.name}: drag over a patch, or move it with the arrow keys`}
      className="relative mx-auto w-fit cursor-crosshair touch-none border border-ink select-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        begun.current = spot(event);
      }}
      onPointerMove={(event) => {
        if (begun.current) setMarking(between(begun.current, spot(event)));
      }}
      onPointerUp={(event) => {
        if (begun.current) keepPatch(between(begun.current, spot(event)));
        begun.current = null;
        setMarking(null);
      }}
      onPointerCancel={() => {
        begun.current = null;
        setMarking(null);
      }}
      onKeyDown={(event) => {
        const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [
          0, 0,
        ];
        if (!dx && !dy) return;
        event.preventDefault();
        move((dx ?? 0) * STEP, (dy ?? 0) * STEP);
      }}
    >
      <img src={api.referenceUrl(of.file)} alt={of.name} draggable={false} className="block max-h-[112px] max-w-full" />
      {patch && (
        <span
          data-patch
          className="absolute border-2 border-raised outline-1 outline-ink"
          style={{
            left: `${100 * patch.left}%`,
            top: `${100 * patch.top}%`,
            width: `${100 * (patch.right - patch.left)}%`,
            height: `${100 * (patch.bottom - patch.top)}%`,
          }}
        />
      )}
    </div>
  );
}

/** What is read of the patch and of the ground at the peg, one beside the other. */
function Read({ facts, current }: { facts: ReferenceFacts; current: boolean }) {
  return (
    <section aria-label="Read" data-reference={current ? "current" : "older"} className={current ? "" : "opacity-60"}>
      <div className="grid grid-cols-2">
        {(
          [
            ["patch", facts.patch, facts.patchLab],
            ["ground at the peg", facts.ground, facts.groundLab],
          ] as const
        ).map(([says, colour, lab]) => (
          <div key={says}>
            <div className="h-7" style={{ background: colour }} />
            <div className="text-xs text-quiet">{says}</div>
            <div className="figures text-xs">
              {colour} · L* {number(lab[0] ?? 0, 0)}
            </div>
          </div>
        ))}
      </div>
      <Lightness patch={facts.patchLightness} ground={facts.groundLightness} />
      <p className="figures text-xs" title="CIEDE2000; 1 can just be seen. Under the present light.">
        apart <b className="font-semibold">{number(facts.apart, 1)}</b> · base colour {facts.groundBase}
      </p>
    </section>
  );
}

/** Both spreads of lightness, from black to white. */
function Lightness({ patch, ground }: { patch: number[]; ground: number[] }) {
  const most = Math.max(...patch, ...ground, 1e-6);
  const line = (shares: number[]) =>
    shares.map((share, k) => `${k + 0.5},${(30 - (28 * share) / most).toFixed(2)}`).join(" ");
  return (
    <figure className="mt-1">
      <svg
        role="img"
        aria-label="Lightness of the patch and of the ground in Near"
        viewBox="0 0 40 31"
        preserveAspectRatio="none"
        className="h-9 w-full border-b border-ink"
      >
        {[
          { shares: patch, stroke: "stroke-ink" },
          { shares: ground, stroke: "stroke-accent" },
        ].map(({ shares, stroke }) => (
          <polyline
            key={stroke}
            points={line(shares)}
            fill="none"
            className={stroke}
            strokeWidth={1.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <figcaption className="flex justify-between text-[11px] text-quiet">
        <span>L* 0</span>
        <span>
          <b className="text-ink">patch</b>, <b className="text-accent">ground in Near</b>
        </span>
        <span>100</span>
      </figcaption>
    </figure>
  );
}

/** The selected layer taken towards the patch by the least change of its look. */
function Towards({ of }: { of: Reference }) {
  const layer = useSite((s) => s.shown?.layers.find((one) => one.id === s.selected));
  const [as, setAs] = useState<"lit" | "bare">("lit");
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!layer) return <p className="text-xs">Select a layer to take it towards the patch.</p>;
  async function match(id: string, name: string) {
    const { shown, keep, say } = useSite.getState();
    if (!shown) return;
    setBusy(true);
    try {
      const { look, before, after } = await api.matchReference(shown, id, of.file, of.patch, as);
      const { brightness, hue_deg, saturation } = look;
      keep(
        `${name}: towards ${of.name}`,
        inLayer(id, (one) => ({ ...one, look: { ...one.look, brightness, hue_deg, saturation } })),
      );
      setTold(`${name}: apart ${number(before, 1)}, now ${number(after, 1)}`);
    } catch (error) {
      say(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  }
  return (
    <div className="grid gap-1.5 border-t border-rule pt-1.5">
      <Segments
        label="What the photograph shows"
        value={as}
        choices={[
          {
            value: "lit",
            label: "as it is lit",
            hint: "The layer is to look as the patch does, under the present light",
          },
          {
            value: "bare",
            label: "bare colour",
            hint: "Its base colour is to be the patch's: for scans without light",
          },
        ]}
        onChoose={setAs}
      />
      <button
        type="button"
        className="key truncate"
        disabled={busy}
        title="Changes its brightness, colour turn and saturation, as little as does it"
        onClick={() => void match(layer.id, layer.name)}
      >
        {busy ? "Looking…" : `Take ${layer.name} towards it`}
      </button>
      {told && (
        <p role="status" className="figures text-xs">
          {told}
        </p>
      )}
    </div>
  );
}
