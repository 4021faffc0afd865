/** What a rule can be given more: a measure, noise, paint, a path, an image's channel, another layer, nearness. */

import { useMeasures } from "../../state/measures";
import { Fragment, useState } from "react";
import { Panel } from "../../parts/panel";
import { Segments } from "../../parts/segments";
import { useBeginnings, useShaping } from "../../state/ground";
import { useSite, type Ruled } from "../../state/site";
import { useTools } from "../../state/tools";
import { candidates, useAskable } from "./use-askable";
import { filled, made, nameOf, onMeasure, type Clause, type Named, type Where } from "./clauses";
import { added, inRule } from "./edit-rule";
import { ImageSheet } from "./image-sheet";
import { withMask, withPath } from "./new-marks";
import type { ClauseKind } from "../../generated/answers";
import { CATALOGUE } from "../../generated/catalogue";
import { thingOf } from "../things/set/set-things";
import { paintOn, withPaintOn } from "../things/set/thing-marks";

/** What else a rule may go by, under its heading. */
const SECTIONS = [
  { group: "image", heading: "By an image" },
  { group: "near", heading: "By what is near" },
  { group: "layer", heading: "By another layer" },
] as const;

export function AddClause({ layer }: { layer: Ruled }) {
  const [open, setOpen] = useState(false);
  const [into, setInto] = useState<number | undefined>(undefined);
  const { keep } = useSite.getState();
  const recipe = useSite((s) => s.shown);
  const begin = useBeginnings();
  const sampleM = useShaping((s) => s.facts?.maskSampleM);
  const kinds = useMeasures();
  const askable = useAskable(layer.id);
  const on = thingOf(recipe, layer.id);
  if (!recipe) return null;
  const full = layer.rule.clauses.length >= CATALOGUE.most.clauses;
  const brackets = layer.rule.clauses.flatMap((one, k) => (one.kind === "bracket" ? [k] : []));

  function add(clause: Clause) {
    setOpen(false);
    keep(
      `${layer.name}: ${nameOf(clause)} clause`,
      inRule(layer, (now) => added(now, clause, into)),
    );
  }
  function paint(way: "in" | "out") {
    setOpen(false);
    if (sampleM === undefined) return;
    const { change, id } = on ? withPaintOn(on, layer, way) : withMask(recipe, layer, way, sampleM);
    keep(`${layer.name}: a mask to paint ${way} on`, change);
    const { shown } = useSite.getState();
    if (shown) paintOn(shown, id);
  }
  function draw(way: "in" | "out") {
    setOpen(false);
    const { change, id } = withPath(recipe, layer, way);
    keep(`${layer.name}: a path`, change);
    useTools.getState().draw(id);
  }
  const button = (label: string, hint: string, act: () => void) => (
    <button key={label} type="button" className="key text-left" title={hint} onClick={act}>
      {label}
    </button>
  );
  /** Clauses about parts of the site, of all kinds of some groups. */
  const offers = (groups: readonly ClauseKind["group"][], partsThere: (where: Where) => readonly Named[]) =>
    CATALOGUE.clauses
      .filter((kind) => groups.includes(kind.group))
      .flatMap((kind) =>
        kind.refers.flatMap((where) =>
          partsThere(where).map((part) => {
            const clause = made.about(kind, where, part);
            return (
              <Fragment key={`${kind.kind} ${part.id}`}>
                {button(filled(kind.offer, clause), kind.about, () => add(clause))}
              </Fragment>
            );
          }),
        ),
      );
  return (
    <>
      <Panel
        title="Add a clause"
        width={372}
        side="top"
        open={open}
        onOpen={setOpen}
        trigger={
          <button
            type="button"
            className="key"
            disabled={full}
            title={
              full ? "A rule holds at most 16 clauses" : "By a measure, noise, paint, a path, an image, another layer"
            }
          >
            Add a clause
          </button>
        }
      >
        {brackets.length > 0 && (
          <div className="mb-2">
            <Segments
              label="Where the clause goes"
              value={into === undefined ? "rule" : String(into)}
              choices={[
                { value: "rule", label: "To the rule" },
                ...brackets.map((k, n) => ({ value: String(k), label: `Into brackets ${n + 1}` })),
              ]}
              onChoose={(next) => setInto(next === "rule" ? undefined : Number(next))}
            />
          </div>
        )}
        {on !== null && (
          <>
            <h4 className="mb-1 text-quiet">By the place on the thing</h4>
            <div className="mb-2.5 grid grid-cols-3 gap-1">
              {CATALOGUE.thingMeasures.map((one) => button(one.title, one.about, () => add(one.begins)))}
              {on.cover.masks.length < CATALOGUE.most.marksOnThing && (
                <>
                  {button("Paint in", "A new mask on its own surface: where it is painted the layer lies too", () =>
                    paint("in"),
                  )}
                  {button(
                    "Paint out",
                    "A new mask on its own surface: where it is painted the layer does not lie",
                    () => paint("out"),
                  )}
                </>
              )}
              {offers(["hand", "image"], (where) =>
                where === "mask" ? on.cover.masks : where === "image" ? on.cover.images : [],
              )}
            </div>
          </>
        )}
        <h4 className="mb-1 text-quiet">{on === null ? "By the ground" : "In the world, and by the ground below"}</h4>
        <div className="grid grid-cols-3 gap-1">
          {kinds.map((kind) =>
            button(kind.name === "aspect" ? "Facing" : kind.title, kind.about, () => add(onMeasure(kind.name, begin))),
          )}
        </div>
        <h4 className="mt-2.5 mb-1 text-quiet">By hand and by chance</h4>
        <div className="grid grid-cols-3 gap-1">
          {button("Noise", "Lies in the noise's patches", () => add(made.noise()))}
          {button("Break-up", "Noise that moves the soft edges in and out", () =>
            add({ ...made.noise(), join: "break-up" }),
          )}
          {on === null && button("Paint in", "A new mask: where it is painted the layer lies too", () => paint("in"))}
          {on === null &&
            button("Paint out", "A new mask: where it is painted the layer does not lie", () => paint("out"))}
          {button("Along a path", "A new line across the ground along which the layer lies too", () => draw("in"))}
          {button("Not on a path", "A new line across the ground that is kept free of it", () => draw("out"))}
          {offers(["hand"], (where) =>
            where === "mask" ? recipe.marks.masks : where === "path" ? recipe.marks.paths : [],
          )}
        </div>
        {SECTIONS.map(({ group, heading }) => {
          const water = group === "near" && recipe.water.on;
          // a thing's own images stand above, those of the ground here
          const found = offers([group], (where) =>
            where === "image" ? recipe.marks.images : candidates(where, recipe, on, askable),
          );
          return (
            (found.length > 0 || water) && (
              <section key={group} aria-label={heading}>
                <h4 className="mt-2.5 mb-1 text-quiet">{heading}</h4>
                <div className="grid grid-cols-3 gap-1">
                  {found}
                  {water &&
                    button("Near water", "So far from where water stands", () =>
                      add(onMeasure("distance-to-water", begin)),
                    )}
                </div>
              </section>
            )
          );
        })}
      </Panel>
      <ImageSheet layer={layer} />
    </>
  );
}
