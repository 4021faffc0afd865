/** Changes of a layer's rule: which clause, where in the sentence, and what the change is called. */

import { inRuled, type Ruled } from "../../state/site";
import { made, nameOf, type Clause, type Join, type Single } from "./clauses";

/** Where a clause stands: its place in the rule, and in its brackets if it is in some. */
export interface At {
  k: number;
  inside?: number;
}

export function clauseAt(layer: Ruled, at: At): Clause | null {
  const clause = layer.rule.clauses[at.k];
  if (!clause) return null;
  if (at.inside === undefined) return clause;
  return clause.kind === "bracket" ? (clause.clauses[at.inside] ?? null) : null;
}

/** A change of a layer's clauses as they are when it is made: it may be made again on a newer rule. */
export function inRule(layer: Ruled, change: (one: Ruled) => Clause[]) {
  return inRuled(layer.id, (one) => ({ ...one.rule, clauses: change(one) }));
}

/** The rule's clauses with one changed; null takes it out, and brackets that are empty then with it. */
export function changed(layer: Ruled, at: At, next: Clause | null): Clause[] {
  const clauses = layer.rule.clauses;
  if (at.inside === undefined) return next ? clauses.with(at.k, next) : clauses.toSpliced(at.k, 1);
  const bracket = clauses[at.k];
  if (bracket?.kind !== "bracket") return clauses;
  const inner = next ? bracket.clauses.with(at.inside, next as Single) : bracket.clauses.toSpliced(at.inside, 1);
  return inner.length > 0 ? clauses.with(at.k, { ...bracket, clauses: inner }) : clauses.toSpliced(at.k, 1);
}

export function withClause(layer: Ruled, at: At, next: Clause) {
  // where another kind of clause stands by now, that one is left alone
  return inRule(layer, (one) => (clauseAt(one, at)?.kind === next.kind ? changed(one, at, next) : one.rule.clauses));
}

/** Clauses that break up edges stand last: they act on all others wherever they stand. */
export function added(layer: Ruled, clause: Clause, into?: number): Clause[] {
  const clauses = layer.rule.clauses;
  if (into !== undefined) {
    const bracket = clauses[into];
    if (bracket?.kind === "bracket" && clause.kind !== "bracket")
      return clauses.with(into, { ...bracket, clauses: [...bracket.clauses, clause] });
  }
  const before = clauses.findIndex((one) => one.join === "break-up");
  return clause.join === "break-up" || before < 0 ? [...clauses, clause] : clauses.toSpliced(before, 0, clause);
}

const LONG = 8;
const SHOWN = 2;

/** A sentence's clauses in runs of those that are alike; of long runs in long sentences all but the first few are hidden. */
export function foldedRuns(clauses: readonly Clause[]): { from: number; to: number; hidden: number }[] {
  const runs: { from: number; to: number; hidden: number }[] = [];
  clauses.forEach((clause, k) => {
    const before = clauses[k - 1];
    const last = runs.at(-1);
    if (last && before && before.kind === clause.kind && before.join === clause.join) last.to = k + 1;
    else runs.push({ from: k, to: k + 1, hidden: 0 });
  });
  for (const run of runs) {
    const long = run.to - run.from > SHOWN + 1;
    if (clauses.length > LONG && long) run.hidden = run.to - run.from - SHOWN;
  }
  return runs;
}

/** One clause put into brackets of its own, or brackets opened again. */
export function bracketed(layer: Ruled, k: number): Clause[] {
  const clause = layer.rule.clauses[k];
  if (!clause) return layer.rule.clauses;
  if (clause.kind === "bracket") {
    const [first, ...rest] = clause.clauses;
    return first
      ? layer.rule.clauses.toSpliced(k, 1, { ...first, join: clause.join }, ...rest)
      : layer.rule.clauses.toSpliced(k, 1);
  }
  return layer.rule.clauses.with(k, { ...made.bracket(clause), join: clause.join });
}

export const JOINS: readonly { join: Join; label: string; hint: string }[] = [
  { join: "and", label: "and", hint: "Both must let it in" },
  { join: "or", label: "or", hint: "Either lets it in" },
  { join: "except", label: "except", hint: "There it is kept out" },
  { join: "add", label: "add", hint: "What this lets in is added, up to the whole" },
  { join: "break-up", label: "break-up", hint: "It moves the soft edges of all other clauses in and out" },
];

/** What stands before a clause in the sentence. */
export function joining(clause: Clause, first: boolean): string {
  if (clause.join === "break-up") return ", broken up by ";
  if (first) return clause.join === "except" ? "everywhere except " : "";
  return { and: ", and ", or: ", or ", except: ", except ", add: ", and added " }[clause.join];
}

export const labelOf = (layer: Ruled, clause: Clause, what: string) => `${layer.name}: ${nameOf(clause)}, ${what}`;

/** The layer's clauses with those that were found in the mask's place: among others they stand in brackets. */
export function ruled(one: Ruled, k: number, found: readonly Clause[]): Clause[] {
  const { clauses } = one.rule;
  const old = clauses[k];
  const [first, ...rest] = found;
  if (!old || !first) return clauses;
  const begun = { ...first, join: old.join };
  if (clauses.length === 1 || rest.length === 0) return clauses.toSpliced(k, 1, begun, ...rest);
  if (first.kind === "bracket") return clauses;
  const inside = rest.filter((clause) => clause.kind !== "bracket");
  const all: [typeof first, ...typeof inside] = [{ ...first, join: "and" }, ...inside];
  return clauses.with(k, { ...made.bracket(first), join: old.join, clauses: all });
}
