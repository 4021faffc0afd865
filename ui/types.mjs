/** Writes the TypeScript types of recipes, of the stock's documents and of answers from their JSON Schemas in docs/. */
import { readFileSync, writeFileSync } from "node:fs";
import { compileFromFile } from "json-schema-to-typescript";

const OUT = process.argv[2] ?? "src/generated";
const IMPORTS = {
  recipe: "",
  stock: "",
  answers: [
    'import type { Added, AlongLevels, Effects, GroundEntry, KitEntry, Layer, Light, Look, MapsEntry, Marks, MeasureClause, MeshEntry, NearDetail, OnThing, Peg, RawLayout, Recipe, Rule, SetThing, Sheet, SiteEntry, Stand, StillsEntry, Strew, Thing, ThingsEntry, Water } from "./recipe";',
    'import type { Decision, SetDescription, SetFacts } from "./stock";',
    "",
    'type Step = Recipe["ground"]["steps"][number];',
    'type Clause = Rule["clauses"][number];',
  ].join("\n"),
};

for (const [name, imports] of Object.entries(IMPORTS)) {
  const made = await compileFromFile(`../docs/${name}.schema.json`, {
    additionalProperties: false,
    ignoreMinAndMaxItems: true,
    bannerComment: `/* Made from docs/${name}.schema.json by make types. */${imports && `\n${imports}`}`,
  });
  writeFileSync(`${OUT}/${name}.ts`, made);
}

const catalogue = readFileSync("../docs/catalogue.json", "utf8").trim();
const numbers = Object.entries(JSON.parse(catalogue).numbers).map(
  ([part, fields]) => `  ${part}: ${fields.map(({ field }) => JSON.stringify(field)).join(" | ") || "never"};`,
);
writeFileSync(
  `${OUT}/catalogue.ts`,
  [
    "/* Made from docs/catalogue.json by make types. */",
    'import type { Catalogue } from "./answers";',
    "",
    "/** Fields of each part of a recipe whose numbers the catalogue tells. */",
    "export interface Numbers {",
    ...numbers,
    "}",
    "",
    `export const CATALOGUE: Catalogue = ${catalogue};`,
    "",
  ].join("\n"),
);
