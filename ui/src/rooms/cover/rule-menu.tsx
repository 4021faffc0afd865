/** A rule kept under a name, used again, copied to other layers, written as an image. */

import { newId } from "../../parts/new-id";
import { useState } from "react";
import type { KeptRule } from "../../generated/recipe";
import { Panel } from "../../parts/panel";
import { inRuled, useSite, type Ruled } from "../../state/site";
import { saveImage } from "./save-image";

export function RuleMenu({ layer, opacity }: { layer: Ruled; opacity: number }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const recipe = useSite((s) => s.shown);
  const { keep } = useSite.getState();
  if (!recipe) return null;
  const { kept_rules: kept, layers, wears } = recipe;

  function save() {
    const called = (name.trim() || `Rule of ${layer.name}`).slice(0, 80);
    keep(`kept the rule ${called}`, (one) => {
      const same = one.kept_rules.find((rule) => rule.name === called);
      const next: KeptRule = { id: same?.id ?? newId(), name: called, rule: layer.rule };
      return {
        ...one,
        kept_rules: same
          ? one.kept_rules.map((rule) => (rule.id === same.id ? next : rule))
          : [...one.kept_rules, next],
      };
    });
    setName("");
  }
  const use = (rule: KeptRule) => {
    keep(
      `${layer.name}: the rule ${rule.name}`,
      inRuled(layer.id, () => rule.rule),
    );
    setOpen(false);
  };
  const copyTo = (other: Ruled) => {
    keep(
      `copied the rule of ${layer.name} to ${other.name}`,
      inRuled(other.id, () => layer.rule),
    );
    setOpen(false);
  };
  const others = [...layers.slice(1), ...wears].filter(
    (one) =>
      one.id !== layer.id && !layer.rule.clauses.some((clause) => clause.kind === "layer" && clause.layer === one.id),
  );
  return (
    <Panel
      title="The whole rule"
      width={296}
      side="top"
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="key"
          title="Keep it under a name, use one again, copy it, write it as an image"
        >
          Rule…
        </button>
      }
    >
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <input
          className="field"
          aria-label="Name to keep the rule under"
          placeholder={`Rule of ${layer.name}`}
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <button type="submit" className="key">
          Keep
        </button>
      </form>
      {kept.length > 0 && <h4 className="mt-2.5 mb-1 text-quiet">Use a kept rule here</h4>}
      {kept.map((rule) => (
        <div key={rule.id} className="mb-1 flex gap-1">
          <button type="button" className="key flex-1 truncate text-left" onClick={() => use(rule)}>
            {rule.name}
          </button>
          <button
            type="button"
            className="key"
            aria-label={`Forget the rule ${rule.name}`}
            onClick={() =>
              keep(`forgot the rule ${rule.name}`, (one) => ({
                ...one,
                kept_rules: one.kept_rules.filter((other) => other.id !== rule.id),
              }))
            }
          >
            Forget
          </button>
        </div>
      ))}
      {others.length > 0 && <h4 className="mt-2.5 mb-1 text-quiet">Copy it to</h4>}
      <div className="grid grid-cols-2 gap-1">
        {others.map((other) => (
          <button key={other.id} type="button" className="key truncate text-left" onClick={() => copyTo(other)}>
            {other.name}
          </button>
        ))}
      </div>
      <h4 className="mt-2.5 mb-1 text-quiet">Presence over the whole ground</h4>
      <button
        type="button"
        className="key"
        onClick={() => saveImage(layer.name, layer.rule.clauses, opacity)}
        title="16-bit grey PNG, 2048 pixels"
      >
        Write as image
      </button>
    </Panel>
  );
}
