/** Writes the TypeScript types of recipes, of the stock's documents and of answers from their JSON Schemas in docs/. */
import { writeFileSync } from "node:fs";
import { compileFromFile } from "json-schema-to-typescript";

const IMPORTS = {
  recipe: "",
  stock: "",
  answers: [
    'import type { Effects, RawLayout, Recipe } from "./recipe";',
    'import type { Decision, SetDescription, SetFacts } from "./stock";',
  ].join("\n"),
};

for (const [name, imports] of Object.entries(IMPORTS)) {
  const made = await compileFromFile(`../docs/${name}.schema.json`, {
    additionalProperties: false,
    ignoreMinAndMaxItems: true,
    bannerComment: `/* Made from docs/${name}.schema.json by make types. */${imports && `\n${imports}`}`,
  });
  writeFileSync(`src/generated/${name}.ts`, made);
}
