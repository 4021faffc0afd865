/** What a hand changes in a strew: the brush, single things that were picked, setting fast, laying a copy. */

import { CATALOGUE } from "../../generated/catalogue";
import * as api from "../../api/things";
import type { Recipe, Strew } from "../../generated/recipe";
import { Num, shown } from "../../parts/number";
import { newId } from "../../parts/new-id";
import { Panel } from "../../parts/panel";
import { useShaping } from "../../state/ground";
import { inStrew, useSite } from "../../state/site";
import { useTools } from "../../state/tools";
import { freeName } from "../../state/part-names";
import { numberOf } from "../../state/numbers";
import { useHand, withByHand, type PickedThing } from "./use-hand";

const TIMES = numberOf("ByHand", "times");
const TURN = numberOf("ByHand", "turn_deg");

export function ByHandPart({ strew }: { strew: Strew }) {
  const tool = useTools((s) => s.tool);
  const picked = useHand((s) => s.picked);
  const mine = picked?.strew === strew.id ? picked : null;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5">
      <BrushPanel strew={strew} />
      <button
        type="button"
        className="key"
        aria-pressed={tool === "pick"}
        title="Click a thing in any picture to move, turn, size or take it away"
        onClick={() => useTools.setState({ tool: tool === "pick" ? "turn" : "pick" })}
      >
        Pick one
      </button>
      <FastPanel strew={strew} />
      {strew.by_hand.length + strew.added.length > 0 && <ForgetButton strew={strew} />}
      {mine && <PickedPart strew={strew} picked={mine} />}
    </div>
  );
}

/** More, or fewer down to none, of the whole strew or of one thing, where it is painted. */
function BrushPanel({ strew }: { strew: Strew }) {
  const things = useSite((s) => s.shown?.things ?? []);
  const masks = useSite((s) => s.shown?.marks.masks ?? []);
  const sampleM = useShaping((s) => s.facts?.maskSampleM);
  const { keep } = useSite.getState();

  function begin(does: "more" | "fewer", thing: string | null) {
    const there = strew.touches.find((one) => one.does === does && one.thing === thing);
    if (there && masks.some((one) => one.id === there.mask)) {
      useTools.getState().paintOn(there.mask);
      return;
    }
    if (sampleM === undefined) return;
    const mask = newId();
    const of = thing === null ? strew.name : (things.find((one) => one.id === thing)?.name ?? strew.name);
    keep(`${strew.name}: a brush for ${does}`, (recipe) => {
      const name = freeName(`${does === "more" ? "More" : "Fewer"} ${of}`, recipe.marks.masks);
      const marked = {
        ...recipe,
        marks: { ...recipe.marks, masks: [...recipe.marks.masks, { id: mask, name, sample_m: sampleM, tiles: [] }] },
      };
      return inStrew(strew.id, (one) => ({ ...one, touches: [...one.touches, { mask, does, thing }] }))(marked);
    });
    useTools.getState().paintOn(mask);
  }
  const full = strew.touches.length >= CATALOGUE.most.touches;
  return (
    <Panel
      title={`Brush for ${strew.name}`}
      width={300}
      side="top"
      trigger={
        <button type="button" className="key">
          Brush
        </button>
      }
    >
      <p className="mb-2">
        Paint in any picture; strength sets how far it goes: fewer at full strength is none. Size, softness and taking
        away are in the bar over the pictures.
      </p>
      {[{ id: null as string | null, name: "All of it" }, ...(strew.kinds.length > 1 ? named(strew, things) : [])].map(
        (one) => (
          <div key={one.id ?? "all"} className="mb-1 flex items-center gap-1.5">
            <span className="min-w-0 flex-1 truncate">{one.id === null ? one.name : `Only ${one.name}`}</span>
            {(["more", "fewer"] as const).map((does) => (
              <button
                key={does}
                type="button"
                className="key"
                disabled={full && !strew.touches.some((t) => t.does === does && t.thing === one.id)}
                onClick={() => begin(does, one.id)}
              >
                {does === "more" ? "More" : "Fewer"}
              </button>
            ))}
          </div>
        ),
      )}
    </Panel>
  );
}

const named = (strew: Strew, things: readonly { id: string; name: string }[]) =>
  strew.kinds.flatMap((kind) => things.find((one) => one.id === kind.thing) ?? []);

/** A strew, or what a lasso takes of it, as single things that its rule does not move any more; or a copy of them elsewhere. */
function FastPanel({ strew }: { strew: Strew }) {
  const { say } = useSite.getState();
  const tool = useTools((s) => s.tool);
  const lasso = useHand((s) => s.lasso);

  async function take(how: "fast" | "copy") {
    const recipe = useSite.getState().shown;
    if (!recipe) return;
    try {
      const found = await api.setFast(recipe, strew.id, lasso);
      if (found.added.length === 0) {
        say(`Nothing of ${strew.name} lies there: nothing was changed.`);
        return;
      }
      if (found.leftOut > 0)
        say(
          `${strew.name}: ${found.added.length} things were taken, ${found.leftOut} left: more than 4,000 cannot be single.`,
        );
      lay(strew, found, how);
      useHand.setState({ lasso: [] });
    } catch (error) {
      say(error instanceof Error ? error.message : String(error));
    }
  }
  return (
    <Panel
      title={`Single things of ${strew.name}`}
      width={290}
      side="top"
      trigger={
        <button type="button" className="key">
          Set fast
        </button>
      }
    >
      <p className="mb-2">
        {lasso.length >= 3
          ? `What lies within the lasso of ${lasso.length} corners.`
          : "All of it, or draw a lasso first: click its corners on the ground."}
      </p>
      <div className="grid gap-1">
        <button
          type="button"
          className="key text-left"
          aria-pressed={tool === "lasso"}
          onClick={() => {
            useHand.setState({ lasso: [] });
            useTools.setState({ tool: tool === "lasso" ? "turn" : "lasso" });
          }}
        >
          {lasso.length > 0 ? "Draw the lasso anew" : "Draw a lasso"}
        </button>
        <button type="button" className="key text-left" onClick={() => void take("fast")}>
          Set them fast as single things
        </button>
        <button
          type="button"
          className="key text-left"
          title="Their middle comes to lie at the peg"
          onClick={() => void take("copy")}
        >
          Lay a copy of them at the peg
        </button>
      </div>
    </Panel>
  );
}

/** Things that no rule moves any more: each stays where, and as, it is. */
function fast(strew: Strew, found: api.SetFast): Strew {
  const fixed = found.added.flatMap(({ east_m, north_m }, k) => {
    const number = found.numbers[k];
    if (number === undefined || number < 0 || strew.by_hand.some((one) => one.number === number)) return [];
    return [{ number, gone: false, east_m, north_m, times: 1, turn_deg: 0 }];
  });
  return { ...strew, by_hand: [...strew.by_hand, ...fixed].slice(0, 4000) };
}

/** A strew of nothing but a copy of things, their middle at the peg. */
function copied(recipe: Recipe, strew: Strew, found: api.SetFast, id: string): Strew {
  const { ground, peg } = recipe;
  const mean = (of: "east_m" | "north_m") => found.added.reduce((sum, one) => sum + one[of], 0) / found.added.length;
  const [east, north] = [peg.east_m - mean("east_m"), peg.north_m - mean("north_m")];
  const added = found.added
    .map((one) => ({ ...one, east_m: one.east_m + east, north_m: one.north_m + north }))
    .filter(
      (one) => one.east_m >= 0 && one.north_m >= 0 && one.east_m <= ground.width_m && one.north_m <= ground.depth_m,
    );
  const name = freeName(`${strew.name}, copy`, recipe.strews);
  return { ...strew, id, name, per_100_m2: 0, rule: { clauses: [] }, touches: [], by_hand: [], added };
}

function lay(strew: Strew, found: api.SetFast, how: "fast" | "copy") {
  const { keep, select } = useSite.getState();
  if (how === "fast") {
    keep(
      `set ${strew.name} fast`,
      inStrew(strew.id, (one) => fast(one, found)),
    );
    return;
  }
  const id = newId();
  keep(`laid a copy of ${strew.name}`, (recipe) => ({
    ...recipe,
    strews: [...recipe.strews, copied(recipe, strew, found, id)],
  }));
  select(id);
}

function ForgetButton({ strew }: { strew: Strew }) {
  const { keep } = useSite.getState();
  const count = strew.by_hand.length + strew.added.length;
  return (
    <button
      type="button"
      className="key"
      title="All that a hand moved, turned, sized, took away or added; undo brings it back"
      onClick={() =>
        keep(
          `${strew.name}: as its rule has it`,
          inStrew(strew.id, (one) => ({ ...one, by_hand: [], ...(one.per_100_m2 > 0 ? { added: [] } : {}) })),
        )
      }
    >
      Forget {count} by hand
    </button>
  );
}

function PickedPart({ strew, picked }: { strew: Strew; picked: PickedThing }) {
  const { preview, keep, drop } = useSite.getState();
  const carrying = useHand((s) => s.carrying);
  const now = strew.by_hand.find((one) => one.number === picked.number);
  const change = (to: Parameters<typeof withByHand>[2]) => inStrew(strew.id, (one) => withByHand(one, picked, to));
  return (
    <div
      role="group"
      aria-label="The picked thing"
      className="figures flex w-full flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule pt-1.5"
    >
      <span className="text-quiet">picked · {shown(picked.sizeM * (now?.times ?? 1), 2)} m</span>
      <button
        type="button"
        className="key"
        aria-pressed={carrying}
        title="Then click where it goes"
        onClick={() => useHand.setState({ carrying: !carrying })}
      >
        Move it
      </button>
      <span>
        {TIMES.label}{" "}
        <Num
          {...TIMES}
          label="Size of the picked thing"
          value={now?.times ?? TIMES.usual}
          onMove={(times) => preview(change({ times }))}
          onKeep={(times) => keep(`${strew.name}: sized one`, change({ times }))}
          onDrop={drop}
        />
      </span>
      <span>
        {TURN.label}{" "}
        <Num
          {...TURN}
          label="Turn of the picked thing"
          value={now?.turn_deg ?? TURN.usual}
          onMove={(turn_deg) => preview(change({ turn_deg }))}
          onKeep={(turn_deg) => keep(`${strew.name}: turned one`, change({ turn_deg }))}
          onDrop={drop}
        />
      </span>
      <button
        type="button"
        className="key"
        onClick={() => {
          keep(`${strew.name}: took one away`, change({ gone: true }));
          useHand.setState({ picked: null, carrying: false });
        }}
      >
        Take away
      </button>
    </div>
  );
}
