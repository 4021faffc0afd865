// Says what the Khronos validator finds in a glTF file, and in the files that it names.
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";

const load = createRequire(
  path.join(import.meta.dirname, "../ui/package.json"),
);
const validator = load("gltf-validator");
const [file] = process.argv.slice(2);
const report = await validator.validateBytes(
  new Uint8Array(fs.readFileSync(file)),
  {
    maxIssues: 0,
    externalResourceFunction: async (uri) =>
      new Uint8Array(fs.readFileSync(path.join(path.dirname(file), uri))),
  },
);
console.log(
  JSON.stringify({ ...report.issues, resources: report.info.resources ?? [] }),
);
